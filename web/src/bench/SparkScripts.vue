<script setup lang="ts">
import { ElButton } from 'element-plus'
import { computed } from 'vue'
import {
  DEFAULT_SPARK_SETTINGS,
  isLeftOut,
  mostRpm,
  sparkPlan,
  stopName,
  tickSparkPlan,
  type SparkPlanStep,
} from '@yuzumix/core'
import { grouped, signed } from '@/parts/numbers/format'
import { useJob } from '@/job/openJob'
import { useRechecks } from '@/job/useRechecks'
import { sparkScriptOf } from './runScripts'
import QueueProgress from './QueueProgress.vue'
import type { RunQueue } from './useRunQueue'

/** The spark plan's runs, one by one or all that are left. */
const props = defineProps<{ queue: RunQueue; gear: number; rate: number; redline: number; disabled: boolean }>()
const open = useJob()
const again = useRechecks()

const settings = computed(() => open.job!.spark ?? DEFAULT_SPARK_SETTINGS)
const steps = computed(
  () =>
    sparkPlan(
      settings.value.plan,
      again.value,
      mostRpm({ job: open.job!, tables: open.tables, redline: props.redline }),
    ).steps,
)
const ticks = computed(() => {
  const newest = open.sets.at(-1)?.id
  const runs = open.runs.filter((run) => run.set === newest && !isLeftOut(run))
  return tickSparkPlan(steps.value, runs, settings.value.present)
})
const leftOf = (step: SparkPlanStep): number => Math.max(0, step.repeats - (ticks.value.get(step.key) ?? 0))
const scriptOf = (step: SparkPlanStep) => sparkScriptOf(step, props.gear, props.rate, settings.value.plan.seconds)
const left = computed(() => steps.value.flatMap((step) => Array.from({ length: leftOf(step) }, () => scriptOf(step))))
</script>

<template>
  <div class="panel">
    <ul>
      <li v-for="step in steps" :key="step.key">
        <span>{{ stopName(step.stop) }}{{ step.since ? ', again' : '' }}</span>
        <span class="figures soft">{{
          step.kind === 'sweep' ? `${signed(step.offsets[0]!, 0)}°` : `${grouped(step.fromRpm)} rpm`
        }}</span>
        <span class="figures soft">{{ step.repeats - leftOf(step) }}/{{ step.repeats }}</span>
        <ElButton
          size="small"
          :disabled="disabled"
          :aria-label="`Run spark ${step.kind} at ${stopName(step.stop)}, ${step.kind === 'sweep' ? `${signed(step.offsets[0]!, 0)}°` : `${step.fromRpm} rpm`}`"
          @click="queue.start([scriptOf(step)])"
          >Run</ElButton
        >
      </li>
    </ul>
    <QueueProgress v-if="queue.isRunning.value" :queue="queue" />
    <ElButton v-else size="small" :disabled="disabled || left.length === 0" @click="queue.start(left)"
      >Run the {{ left.length }} left, warmed up first</ElButton
    >
  </div>
</template>

<style scoped>
.panel {
  display: grid;
  gap: 8px;
  justify-items: start;
}
ul {
  list-style: none;
  margin: 0;
  padding: 0;
  width: 100%;
}
li {
  display: grid;
  grid-template-columns: 1fr auto 36px auto;
  gap: 8px;
  align-items: center;
  padding: 4px 0;
  border-bottom: 1px solid var(--line);
  font-size: 13px;
}
</style>
