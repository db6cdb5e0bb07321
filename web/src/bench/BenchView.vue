<script setup lang="ts">
import { ElButton, ElTabPane, ElTabs } from 'element-plus'
import { useEventListener } from '@vueuse/core'
import { computed, onMounted, ref } from 'vue'
import { onBeforeRouteLeave } from 'vue-router'
import { defaultBreakpoints, type RigControls } from '@yuzumix/core'
import { sayProblem } from '@/api/say'
import { useFieldOptions } from '@/stages/mixture/useFieldOptions'
import StageSplit from '@/stages/StageSplit.vue'
import { useJob } from '@/stores/job'
import { useField } from '@/workers/useField'
import BenchField from './BenchField.vue'
import ConnectPanel from './ConnectPanel.vue'
import ControllerPanel from './ControllerPanel.vue'
import DrivePanel from './DrivePanel.vue'
import LiveFigures from './LiveFigures.vue'
import ScriptPanel from './ScriptPanel.vue'
import StripCharts from './StripCharts.vue'
import { useBench } from './useBench'

const open = useJob()
const bench = useBench(open.job!.id, () => void open.reloadRuns().catch(sayProblem))
const { state, news, sample, recent, refused, problem, missing, lags, connection, unkept, controls, isDriving } = bench
onMounted(bench.join)

const { runs, options } = useFieldOptions()
const { field } = useField(() => open.job!.id, runs, options)
const cylinder = computed(() => field.value?.cylinders[0] ?? null)
const grid = computed(() => options.value?.grid ?? defaultBreakpoints('throttle', state.value?.redline ?? 10000))
const tab = ref('drive')

const said = computed(() =>
  connection.value === 'lost'
    ? 'The stream is cut. Join again; what was recorded is safe on the server.'
    : lags.value
      ? 'The link lags: no reading for a while.'
      : refused.value || news.value?.said || '',
)

/** Keys of the driver; not while something is typed or a slider has the focus. */
useEventListener('keydown', (event) => {
  const target = event.target as HTMLElement
  if (!isDriving.value || !controls.value || event.altKey || event.ctrlKey || event.metaKey) return
  if (target.closest('input, textarea, select, [role="slider"], [role="tab"]')) return
  const now = controls.value
  const brake = now.brake.kind === 'hold' ? now.brake.rpm : Math.round((sample.value?.rpm ?? 3000) / 100) * 100
  const clamp = (value: number, least: number, most: number): number => Math.min(most, Math.max(least, value))
  const speed = (step: number): Partial<RigControls> => ({
    brake: { kind: 'hold', rpm: clamp(brake + step, 1500, state.value!.redline) },
  })
  const KEYS: Record<string, () => void> = {
    ArrowUp: () => bench.set({ throttle: clamp(now.throttle + 5, 0, 100) }),
    ArrowDown: () => bench.set({ throttle: clamp(now.throttle - 5, 0, 100) }),
    ArrowRight: () => bench.set(speed(250)),
    ArrowLeft: () => bench.set(speed(-250)),
    PageUp: () => bench.set({ gear: clamp(now.gear + 1, 0, 6) }),
    PageDown: () => bench.set({ gear: clamp(now.gear - 1, 0, 6) }),
    i: () => bench.set({ ignition: !now.ignition }),
    c: () => bench.set({ fuel: !now.fuel }),
    f: () => bench.set({ fan: !now.fan }),
    r: () => bench.record(),
    ' ': () => bench.stop(),
    Escape: () => bench.stop(),
  }
  const does = KEYS[event.key]
  // A button that has the focus is pressed by the space bar; the stop comes first here.
  if (!does) return
  event.preventDefault()
  does()
})

useEventListener(window, 'beforeunload', (event) => {
  if (unkept.value.length) event.preventDefault()
})
onBeforeRouteLeave(() =>
  unkept.value.length
    ? window.confirm('A table was written to the bench and not kept: it is lost when power goes. Leave all the same?')
    : true,
)
</script>

<template>
  <ConnectPanel v-if="!state" @connect="bench.connect" />
  <StageSplit v-else label="Bench" drawer-label="Rig" :problem="problem">
    <template #bar>
      <strong>{{ state.name }}</strong>
      <span v-if="unkept.length" class="unkept" role="status">not kept: {{ unkept.join(', ') }}</span>
      <span class="space" />
      <span v-if="missing" class="soft figures">{{ missing }} readings left out: this screen was slow</span>
      <ElButton v-if="connection === 'lost'" size="small" type="primary" @click="bench.join()">Join again</ElButton>
      <ElButton size="small" @click="bench.disconnect()">Disconnect</ElButton>
    </template>
    <LiveFigures :sample="sample" />
    <p class="said" :class="{ refused: refused || lags || connection === 'lost' }" role="status">{{ said }}</p>
    <BenchField :grid="grid" :field="field" :cylinder="cylinder" :sample="sample" :recent="recent" />
    <StripCharts :recent="recent" />
    <template #drawer>
      <ElTabs v-model="tab">
        <ElTabPane label="Drive" name="drive"><DrivePanel :bench="bench" /></ElTabPane>
        <ElTabPane label="Scripts" name="scripts"><ScriptPanel :bench="bench" /></ElTabPane>
        <ElTabPane :label="unkept.length ? 'Controller, not kept' : 'Controller'" name="controller"
          ><ControllerPanel :bench="bench"
        /></ElTabPane>
      </ElTabs>
    </template>
  </StageSplit>
</template>

<style scoped>
.space {
  flex: 1;
}
.said {
  min-height: 21px;
  flex: none;
}
.refused {
  color: var(--lean);
  font-weight: 700;
}
.unkept {
  padding: 2px 8px;
  background: var(--yuzu);
  color: #22281f;
  border-radius: 4px;
  font-weight: 700;
}
</style>
