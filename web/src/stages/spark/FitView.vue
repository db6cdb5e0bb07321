<script setup lang="ts">
import { ElTabPane, ElTabs } from 'element-plus'
import { computed, ref } from 'vue'
import { RouterLink } from 'vue-router'
import { stopName, type JudgedBin } from '@yuzumix/core'
import { actOf } from '@/parts/keys/keymap'
import { useJob } from '@/job/openJob'
import { counted, grouped, plain, signed } from '@/parts/numbers/format'
import SetSelect from '@/parts/choose/SetSelect.vue'
import WorkStatus from '@/parts/frame/WorkStatus.vue'
import StageSplit from '@/parts/frame/StageSplit.vue'
import FitPanel from './FitPanel.vue'
import OneKnobPanel from './OneKnobPanel.vue'
import ProofPanel from './ProofPanel.vue'
import TorqueOverAdvance from './TorqueOverAdvance.vue'
import type { Spark } from './useSpark'

/** Torque over advance, point by point, and what it comes to. */
const props = defineProps<{ spark: Spark }>()
const open = useJob()
const { bins, problem, busy, slow, cancel, proof, next } = props.spark
/** What is measured, and where the next point tells most. */
const idle = computed(() => {
  const measured = `${counted(bins.value.length, 'point')} at several settings`
  if (!next.value) return measured
  const { stop, rpm, doubt, typical, isEnough } = next.value
  return isEnough
    ? `${measured}; best advance is known to ±${plain(typical, 1)}° over the plan: enough`
    : `${measured}; next ${stopName(stop)} at ${grouped(rpm)} rpm, where best is known to ±${plain(doubt, 1)}°`
})
const chosen = ref(0)
const tab = ref('why')
const one = computed(() => bins.value[Math.min(chosen.value, bins.value.length - 1)] ?? null)
function move(event: KeyboardEvent): void {
  if (actOf('points', event) !== 'move') return
  const step = event.key === 'ArrowDown' ? 1 : -1
  event.preventDefault()
  chosen.value = Math.min(bins.value.length - 1, Math.max(0, chosen.value + step))
}
const verdict = ({ fit, stale }: JudgedBin): string => (stale ? 'stale' : fit.verdict)
</script>

<template>
  <StageSplit label="Advance from torque" drawer-label="Why" :problem="problem">
    <template #bar>
      <slot name="switch" />
      <SetSelect v-if="open.sets.length > 1" />
      <WorkStatus :busy="busy" :slow="slow" doing="Fitting …" :idle="idle" @stop="cancel()" />
    </template>
    <div v-if="bins.length === 0" class="empty">
      <h1>Spark</h1>
      <p>
        Step the advance, watch torque, and stop where it no longer rises or the engine knocks. Nothing in
        {{ open.set ? `"${open.set.name}"` : 'this job' }} was run at more than one setting yet.
      </p>
      <p>
        A <RouterLink :to="{ name: 'spark', params: { job: open.job!.id, view: 'plan' } }">plan</RouterLink> says what
        to run and in which order; the
        <RouterLink :to="{ name: 'bench', params: { job: open.job!.id } }">bench</RouterLink> runs it. Logs with columns
        of torque and advance tell by themselves; for an ignition plate turned by hand, say the setting of each run
        under
        <RouterLink :to="{ name: 'spark', params: { job: open.job!.id, view: 'settings' } }">Settings</RouterLink>.
      </p>
    </div>
    <template v-else>
      <div class="bins" tabindex="0" role="listbox" aria-label="Points" @keydown="move">
        <div
          v-for="(each, k) in bins"
          :key="each.key"
          role="option"
          :aria-selected="k === chosen"
          :class="{ chosen: k === chosen }"
          @click="chosen = k"
        >
          <span class="figures">{{ stopName(each.bin.stop) }}, {{ grouped(each.bin.rpm) }} rpm</span>
          <span :class="{ stale: each.stale }">{{ verdict(each) }}</span>
          <span class="figures soft">{{
            each.fit.best
              ? `best ${plain(each.fit.best.advance, 1)}° (${plain(each.fit.best.low, 1)} to ${plain(each.fit.best.high, 1)})`
              : ''
          }}</span>
          <span class="figures">{{
            each.fit.recommended === null || each.stale
              ? ''
              : `${signed(each.fit.recommended - each.bin.present)}° from now`
          }}</span>
        </div>
      </div>
      <TorqueOverAdvance v-if="one" :one="one" />
    </template>
    <template #drawer>
      <ElTabs v-model="tab">
        <ElTabPane label="Why" name="why"><FitPanel :spark="spark" :one="one" /></ElTabPane>
        <ElTabPane label="One knob" name="knob"
          ><OneKnobPanel v-if="tab === 'knob'" :spark="spark" :stop="one?.bin.stop ?? null"
        /></ElTabPane>
        <ElTabPane :label="`Proof (${proof.length})`" name="proof"><ProofPanel :proof="proof" /></ElTabPane>
      </ElTabs>
    </template>
  </StageSplit>
</template>

<style scoped>
.bins {
  display: grid;
  gap: 2px;
  flex: none;
  max-height: 240px;
  overflow-y: auto;
}
.bins > div {
  display: grid;
  grid-template-columns: 180px 110px 1fr 130px;
  gap: 8px;
  padding: 4px 8px;
  background: var(--panel);
  border: 1px solid var(--line);
  border-radius: 4px;
  cursor: pointer;
  font-size: 13px;
}
.bins > .chosen {
  border-color: var(--yuzu);
  background: var(--yuzu-soft);
}
.stale {
  color: var(--lean);
  font-weight: 700;
}
.empty {
  display: grid;
  gap: 12px;
  max-width: 640px;
  padding: 24px;
}
</style>
