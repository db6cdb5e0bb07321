<script setup lang="ts">
import { ElButton, ElCollapse, ElCollapseItem, ElProgress } from 'element-plus'
import { ref } from 'vue'
import { stopName, type PlanStep } from '@yuzumix/core'
import { grouped } from '@/parts/numbers/format'
import NumberBox from '@/parts/numbers/NumberBox.vue'
import OwnScript from './OwnScript.vue'
import { scriptOf } from './runScripts'
import type { Bench } from './useBench'
import SparkScripts from './SparkScripts.vue'
import { usePlanTicks } from './usePlanTicks'
import type { RunQueue } from './useRunQueue'

const props = defineProps<{ bench: Bench; queue: RunQueue }>()
const { isDriving, isBusy: busy, news } = props.bench
const gear = ref(4)
const rate = ref(700)
const warmTo = ref(80)

const { plan, leftOf } = usePlanTicks(props.bench)
const where = (step: PlanStep): string =>
  step.kind === 'sweep' ? `${grouped(step.fromRpm)} to ${grouped(step.toRpm)}` : `${grouped(step.fromRpm)} rpm`
</script>

<template>
  <div class="panel">
    <template v-if="news?.script">
      <p role="status"><strong>{{ news.script.name }}</strong>: {{ news.script.state.phase }}</p>
      <ElProgress :percentage="Math.round(100 * news.script.state.share)" />
    </template>
    <div class="line">
      <label
        >Warm to
        <NumberBox v-model="warmTo" :least="40" :most="100" name="Warm to in °C" />
        °C</label
      >
      <ElButton size="small" :disabled="!isDriving || busy" @click="bench.run({ kind: 'warm-up', coolantC: warmTo })"
        >Warm up</ElButton
      >
    </div>
    <div class="line">
      <label>Gear <NumberBox v-model="gear" :least="1" :most="6" name="Gear of scripts" /></label>
      <label
        >Sweep
        <NumberBox v-model="rate" :least="100" :most="2000" :step="100" name="Sweep rate" />
        rpm/s</label
      >
    </div>
    <h3>From the run plan</h3>
    <ul>
      <li v-for="step in plan.steps" :key="step.key">
        <span>{{ step.kind }}, {{ stopName(step.stop) }}</span>
        <span class="figures soft">{{ where(step) }}</span>
        <span class="figures soft">{{ step.repeats - leftOf(step.key, step.repeats) }}/{{ step.repeats }}</span>
        <ElButton
          size="small"
          :disabled="!isDriving || busy"
          :aria-label="`Run ${step.kind} at ${stopName(step.stop)}`"
          @click="bench.run(scriptOf(step, gear, rate))"
          >Run</ElButton
        >
      </li>
    </ul>
    <ElCollapse>
      <ElCollapseItem title="From the spark plan" name="spark">
        <SparkScripts
          :queue="queue"
          :gear="gear"
          :rate="rate"
          :redline="bench.state.value?.redline ?? 10000"
          :disabled="!isDriving || busy"
        />
      </ElCollapseItem>
    </ElCollapse>
    <h3>One of your own</h3>
    <OwnScript
      :gear="gear"
      :rate="rate"
      :redline="bench.state.value?.redline ?? 10000"
      :disabled="!isDriving || busy"
      @run="bench.run($event)"
    />
    <p v-if="!isDriving" class="soft">Take the wheel under Drive to run something.</p>
  </div>
</template>

<style scoped>
.panel {
  display: grid;
  gap: 10px;
}
.line {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  align-items: center;
}
.line :deep(.number-input) {
  width: 96px;
}
ul {
  list-style: none;
  margin: 0;
  padding: 0;
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
