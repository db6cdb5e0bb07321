<script setup lang="ts">
import { computed, ref } from 'vue'
import { RouterLink } from 'vue-router'
import { useJob } from '@/stores/job'
import { useDisplay } from '@/stores/display'
import { grouped, plain, signed } from '@/parts/numbers/format'
import SetSelect from '@/stages/baseline/SetSelect.vue'
import StageSplit from '@/stages/StageSplit.vue'
import TorqueOverAdvance from './TorqueOverAdvance.vue'
import { useSpark } from './useSpark'

const open = useJob()
const display = useDisplay()
const { bins, problem, busy } = useSpark()
const chosen = ref(0)
const one = computed(() => bins.value[Math.min(chosen.value, bins.value.length - 1)] ?? null)
const settings = computed(() => new Set(one.value?.bin.points.map((point) => point.advance)).size)
function move(event: KeyboardEvent): void {
  const step = { ArrowDown: 1, ArrowUp: -1 }[event.key]
  if (!step) return
  event.preventDefault()
  chosen.value = Math.min(bins.value.length - 1, Math.max(0, chosen.value + step))
}
</script>

<template>
  <StageSplit label="Spark" drawer-label="Why" :problem="problem">
    <template #bar>
      <SetSelect v-if="open.sets.length > 1" />
      <span class="soft">{{ busy ? 'Fitting …' : `${bins.length} points at which the advance was stepped` }}</span>
    </template>
    <div v-if="bins.length === 0" class="empty">
      <h1>Spark</h1>
      <p>
        Hold a throttle stop and a speed, step the advance, and let torque say where it is best. Make spark steps at the
        <RouterLink :to="{ name: 'bench', params: { job: open.job!.id } }">bench</RouterLink> (Runs, One of your own),
        or add logs with columns of torque, throttle and advance.
      </p>
    </div>
    <template v-else>
      <div class="bins" tabindex="0" role="listbox" aria-label="Points" @keydown="move">
        <div
          v-for="(each, k) in bins"
          :key="`${each.bin.stop} ${each.bin.rpm}`"
          role="option"
          :aria-selected="k === chosen"
          :class="{ chosen: k === chosen }"
          @click="chosen = k"
        >
          <span class="figures">{{ each.bin.stop }} %, {{ grouped(each.bin.rpm) }} rpm</span>
          <span>{{ each.fit.verdict }}</span>
          <span class="figures soft">{{
            each.fit.best
              ? `best ${plain(each.fit.best.advance, 1)}° (${plain(each.fit.best.low, 1)} to ${plain(each.fit.best.high, 1)})`
              : ''
          }}</span>
          <span class="figures">{{
            each.fit.recommended === null ? '' : `${signed(each.fit.recommended - each.bin.present)}° from now`
          }}</span>
        </div>
      </div>
      <TorqueOverAdvance v-if="one" :one="one" />
    </template>
    <template #drawer>
      <div class="panel">
        <template v-if="one">
          <h3>{{ one.bin.stop }} % at {{ grouped(one.bin.rpm) }} rpm</h3>
          <p>
            <strong>{{ one.fit.note }}</strong>
          </p>
          <p v-if="one.drift?.isReal" class="note">
            Torque moved by {{ signed(one.drift.pct) }} % between the first setting and its repeat: heat, not advance.
            Measure again with pauses.
          </p>
          <dl class="facts figures">
            <dt>readings</dt>
            <dd>{{ one.bin.points.length }} at {{ settings }} settings</dd>
            <dt>now</dt>
            <dd>{{ plain(one.bin.present, 1) }}°</dd>
            <template v-if="one.fit.best">
              <dt>best torque</dt>
              <dd>
                {{ display.figure('torque', one.fit.best.torque) }} {{ display.torqueUnit }} at
                {{ plain(one.fit.best.advance, 1) }}° ({{ plain(one.fit.best.low, 1) }} to
                {{ plain(one.fit.best.high, 1) }}, 90 %)
              </dd>
            </template>
            <template v-if="one.fit.recommended !== null">
              <dt>advised</dt>
              <dd>{{ plain(one.fit.recommended, 1) }}°</dd>
            </template>
            <template v-if="one.fit.gain">
              <dt>gain over now</dt>
              <dd>
                {{ display.difference('torque', one.fit.gain.value) }} {{ display.torqueUnit }} ({{
                  display.difference('torque', one.fit.gain.low)
                }}
                to {{ display.difference('torque', one.fit.gain.high) }})
              </dd>
            </template>
            <dt>spread of one run</dt>
            <dd>{{ display.figure('torque', one.fit.spread) }} {{ display.torqueUnit }}</dd>
            <dt>knock channel</dt>
            <dd>{{ one.bin.hasKnockChannel ? 'there' : 'none: keep away from the end' }}</dd>
          </dl>
        </template>
        <p class="caution">
          Knock breaks pistons in seconds: stop at the first sign, and where torque no longer rises. Never further than
          what was tried. After spark moves, measure the mixture again.
        </p>
        <p class="soft small">
          This stage tells; it does not write spark tables yet. Nothing here changes the controller.
        </p>
      </div>
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
  grid-template-columns: 160px 120px 1fr 140px;
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
.empty {
  display: grid;
  gap: 12px;
  max-width: 640px;
  padding: 24px;
}
.panel {
  display: grid;
  gap: 10px;
}
.note,
.caution {
  padding: 10px;
  border-left: 4px solid var(--yuzu);
  background: var(--yuzu-soft);
}
.small {
  font-size: 12px;
}
</style>
