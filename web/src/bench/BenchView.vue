<script setup lang="ts">
import { ElButton, ElTabPane, ElTabs } from 'element-plus'
import { useEventListener } from '@vueuse/core'
import { computed, onMounted, ref, shallowRef } from 'vue'
import { onBeforeRouteLeave } from 'vue-router'
import { defaultBreakpoints, type LoadGrid, type RigControls, type TrainingState } from '@yuzumix/core'
import { notifyProblem } from '@/api/notify'
import { useFieldQuestion } from '@/job/useFieldQuestion'
import { counted, grouped, plain } from '@/parts/numbers/format'
import StageSplit from '@/parts/frame/StageSplit.vue'
import { api } from '@/api/client'
import { useJobBench } from './benchStore'
import { useJob } from '@/job/openJob'
import { actOf, isTyping, type ActOf } from '@/parts/keys/keymap'
import { useField } from '@/workers/useField'
import BenchField from './BenchField.vue'
import CasePanel from './CasePanel.vue'
import ConnectPanel from './ConnectPanel.vue'
import ControllerPanel from './ControllerPanel.vue'
import DrivePanel from './DrivePanel.vue'
import LargeBench from './LargeBench.vue'
import LiveFigures from './LiveFigures.vue'
import LinesPanel from './LinesPanel.vue'
import LoopPanel from './LoopPanel.vue'
import ScriptPanel from './ScriptPanel.vue'
import SensorsPanel from './SensorsPanel.vue'
import StripCharts from './StripCharts.vue'

const open = useJob()
const store = useJobBench()
const [bench, queue] = [store.bench!, store.queue!]
const tab = ref('drive')
const isLarge = ref(false)
const training = shallowRef<TrainingState | null>(null)
const {
  state,
  news,
  sample,
  recent,
  refused,
  problem,
  missing,
  lags,
  connection,
  unkept,
  controls,
  isDriving,
  uncalibrated,
} = bench
onMounted(async () => {
  try {
    training.value = await api.training(open.job!.id)
    if (training.value) tab.value = 'case'
  } catch (error) {
    notifyProblem(error)
  }
  // Another page may have connected it, or the server may have been started anew.
  if (connection.value === 'none') await bench.join()
})

const { question, runs, options } = useFieldQuestion()
const { field } = useField(() => open.job!.id, question)
const cylinder = computed(() => field.value?.cylinders[0] ?? null)
/** Before there are runs, the breakpoints are those of what is in the controller. */
const grid = computed<LoadGrid>(
  () =>
    (runs.value.length > 0 ? options.value?.grid : state.value?.tables[0]?.table) ??
    defaultBreakpoints('throttle', state.value?.redline ?? 10000),
)

const said = computed(() =>
  connection.value === 'lost'
    ? 'The stream is cut. Join again; what was recorded is safe on the server.'
    : lags.value
      ? 'The link lags: no reading for a while.'
      : refused.value || news.value?.said || '',
)

/** Keys of the driver; not while something is typed or a slider has the focus. */
useEventListener('keydown', (event) => {
  const pressed = actOf('bench', event)
  if (pressed === null) return
  if (pressed === 'large' && state.value && !isTyping(event)) isLarge.value = !isLarge.value
  if (!isDriving.value || !controls.value || isTyping(event)) return
  if ((event.target as HTMLElement).closest('[role="slider"], [role="tab"]')) return
  const now = controls.value
  const brake = now.brake.kind === 'hold' ? now.brake.rpm : Math.round((sample.value?.rpm ?? 3000) / 100) * 100
  const clamp = (value: number, least: number, most: number): number => Math.min(most, Math.max(least, value))
  const speed = (step: number): Partial<RigControls> => ({
    brake: { kind: 'hold', rpm: clamp(brake + step, 1500, state.value!.redline) },
  })
  const up = ['ArrowUp', 'ArrowRight', 'PageUp'].includes(event.key) ? 1 : -1
  const acts: Record<ActOf<'bench'>, () => void> = {
    throttle: () => bench.set({ throttle: clamp(now.throttle + 5 * up, 0, 100) }),
    speed: () => bench.set(speed(250 * up)),
    gear: () => bench.set({ gear: clamp(now.gear + up, 0, 6) }),
    ignition: () => bench.set({ ignition: !now.ignition }),
    fuel: () => bench.set({ fuel: !now.fuel }),
    fan: () => bench.set({ fan: !now.fan }),
    record: () => bench.record(),
    stop: () => queue.stop(),
    large: () => undefined,
  }
  // A button that has the focus is pressed by the space bar; the stop comes first here.
  event.preventDefault()
  acts[pressed]()
})

// On the job's other pages the header goes on saying so.
onBeforeRouteLeave((to) =>
  unkept.value.length && to.params['job'] !== open.job?.id
    ? window.confirm('A table was written to the bench and not kept: it is lost when power goes. Leave all the same?')
    : true,
)
</script>

<template>
  <ConnectPanel v-if="!state" :training="training" @connect="bench.connect" />
  <LargeBench v-else-if="isLarge" :bench="bench" :said="said" @close="isLarge = false" @stop="queue.stop()" />
  <StageSplit v-else label="Bench" drawer-label="Rig" :problem="problem">
    <template #bar>
      <strong class="name">{{ state.name }}</strong>
      <span v-if="state.weather" class="soft figures"
        >{{ plain(state.weather.temperatureC, 0) }} °C, {{ grouped(10 * state.weather.pressureKpa) }} hPa</span
      >
      <span v-if="unkept.length" class="unkept">not kept: {{ unkept.join(', ') }}</span>
      <ElButton v-if="news?.unstored" size="small" type="danger" @click="bench.storeAgain()"
        >Store {{ counted(news.unstored, 'run') }} again</ElButton
      >
      <span v-if="uncalibrated.length" class="unkept">uncalibrated: {{ uncalibrated.join(', ') }}</span>
      <span class="space" />
      <span v-if="missing" class="soft figures">{{ counted(missing, 'reading') }} left out: this screen was slow</span>
      <ElButton v-if="connection === 'lost'" size="small" type="primary" @click="bench.join()">Join again</ElButton>
      <ElButton class="near" size="small" type="danger" :disabled="!isDriving" @click="queue.stop()">Stop</ElButton>
      <ElButton size="small" @click="isLarge = true">Large type (b)</ElButton>
      <ElButton size="small" @click="bench.disconnect()">Disconnect</ElButton>
    </template>
    <LiveFigures :sample="sample" :stops="news" />
    <p class="said" :class="{ refused: refused || lags || connection === 'lost' }" role="status">{{ said }}</p>
    <BenchField :grid="grid" :field="field" :cylinder="cylinder" :sample="sample" :recent="recent" />
    <StripCharts :recent="recent" />
    <template #drawer>
      <LinesPanel v-if="state.readsOnly" :bench="bench" />
      <ElTabs v-else v-model="tab" class="tabs">
        <ElTabPane v-if="training" label="Case" name="case" lazy
          ><CasePanel :bench="bench" :training="training"
        /></ElTabPane>
        <ElTabPane label="Drive" name="drive"><DrivePanel :bench="bench" /></ElTabPane>
        <ElTabPane label="Runs" name="scripts"><ScriptPanel :bench="bench" :queue="queue" /></ElTabPane>
        <ElTabPane label="Loop" name="loop"
          ><LoopPanel v-if="tab === 'loop'" :bench="bench" :queue="queue"
        /></ElTabPane>
        <ElTabPane label="Tables" name="controller"><ControllerPanel :bench="bench" /></ElTabPane>
        <ElTabPane label="Sensors" name="sensors"><SensorsPanel v-if="tab === 'sensors'" :bench="bench" /></ElTabPane>
      </ElTabs>
    </template>
  </StageSplit>
</template>

<style scoped>
/* Six or seven stand side by side. */
.tabs :deep(.el-tabs__item) {
  padding: 0 9px;
}
.name {
  min-width: 120px;
  overflow: hidden;
  text-overflow: ellipsis;
}
/* Where the drawer lies below the screen, the stop must not. */
.near {
  display: none;
}
@media (max-width: 700px) {
  .near {
    display: inline-flex;
  }
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
