<script setup lang="ts">
import { useJob } from '@/job/openJob'
import { ElButton, ElProgress } from 'element-plus'
import { computed } from 'vue'
import { FLAT_AIM, SILENT_CAUSES, stopName, type OffNode, type RunScript } from '@yuzumix/core'
import { counted, grouped, plain, signed } from '@/parts/numbers/format'
import { nextRunWords, useNextRun } from '@/job/useNextRun'
import { scriptOf, scriptOfNext } from './runScripts'
import type { Bench } from './useBench'
import { unseenWords } from './unseenWords'
import { useLoop } from './useLoop'
import { usePlanTicks } from './usePlanTicks'
import QueueProgress from './QueueProgress.vue'
import type { RunQueue } from './useRunQueue'

/** Measure, correct, repeat: what comes next stands on top, with one button. */
const props = defineProps<{ bench: Bench; queue: RunQueue }>()
const open = useJob()
const { isDriving, isBusy, uncalibrated, unkept } = props.bench
const loop = useLoop(props.bench)
const { plan, leftOf } = usePlanTicks(props.bench)

const GEAR = 4
const RATE = 600
const sweeps = computed(() => plan.value.steps.filter((step) => step.kind === 'sweep'))
const missing = computed<RunScript[]>(() =>
  sweeps.value.flatMap((step) =>
    Array.from({ length: leftOf(step.key, step.repeats) }, () => scriptOf(step, GEAR, RATE)),
  ),
)
const phase = computed<'tables' | 'begin' | 'write' | 'measure' | 'correct' | 'flat'>(() => {
  if (!loop.hasTables.value) return 'tables'
  if (loop.unwritten.value.length) return 'write'
  if (loop.isStale.value || !loop.set.value) return 'begin'
  if (props.queue.isRunning.value || !loop.field.value || (missing.value.length && !loop.flatness.value?.nodes))
    return 'measure'
  return loop.flatness.value?.isFlat ? 'flat' : 'correct'
})
/** Flat where it was measured; what is still in doubt between asks for a run of its own. */
const { answer: doubt } = useNextRun(computed(() => phase.value === 'flat'))
const isRangeFlat = computed(() => doubt.value?.enough === true && !doubt.value.afterLimits)
const nextScript = computed(() => doubt.value?.next && scriptOfNext(doubt.value.next, GEAR, RATE))
const at = ({ cylinder, row, column }: OffNode): string => {
  const { grid, cylinders } = loop.field.value!
  return `${grouped(grid.rpm[column]!)} rpm, ${grid.load[row]} %${cylinders.length > 1 ? `, ${open.cylinderName(cylinder)}` : ''}`
}
const largest = computed(() => {
  const sizes = loop.changed.value.map((node) => node.changePct)
  return sizes.length ? { richer: Math.max(0, ...sizes), leaner: Math.min(0, ...sizes) } : null
})
const unseen = computed(() => unseenWords(loop.flatness.value?.unseen ?? [], loop.field.value?.grid.load ?? []))
const busy = computed(() => loop.working.value !== '' || isBusy.value || props.queue.isRunning.value)
</script>

<template>
  <div class="panel">
    <p v-if="loop.problem.value" class="problem" role="alert">{{ loop.problem.value }}</p>
    <p v-if="uncalibrated.length" class="note">Uncalibrated: {{ uncalibrated.join(' and ') }}. See Sensors first.</p>
    <p v-if="!isDriving" class="soft">Take the wheel under Drive: the loop drives the rig.</p>

    <section v-if="phase === 'tables'">
      <h3>First: the controller’s tables</h3>
      <p>They become tables of the job, so that every change is a revision.</p>
      <ElButton type="primary" :loading="loop.working.value === 'tables'" @click="loop.takeIn()"
        >Take {{ loop.rows.value.length }} {{ loop.rows.value.length === 1 ? 'table' : 'tables' }} into the
        job</ElButton
      >
    </section>
    <section v-else-if="phase === 'write'">
      <h3>Write what the job has</h3>
      <p>
        The controller does not hold the latest revision of
        {{ loop.unwritten.value.map((row) => row.name).join(', ') }}.
      </p>
      <ElButton
        type="primary"
        :disabled="!isDriving || busy"
        :loading="loop.working.value === 'write'"
        @click="loop.write()"
        >Stop the engine and write</ElButton
      >
    </section>
    <section v-else-if="phase === 'begin'">
      <h3>{{ loop.set.value ? 'The table has changed since these runs' : 'Begin the first pass' }}</h3>
      <p>Each pass is a set of its own, so that no run speaks for another table.</p>
      <ElButton type="primary" :disabled="busy" @click="loop.begin()">Begin a pass</ElButton>
    </section>
    <section v-else-if="phase === 'measure'">
      <h3>Pass {{ loop.pass.value }}: measure</h3>
      <template v-if="queue.isRunning.value">
        <QueueProgress :queue="queue" />
        <ElProgress
          :percentage="Math.round((100 * (queue.total.value - queue.left.value)) / Math.max(1, queue.total.value))"
        />
      </template>
      <template v-else>
        <p>
          {{ counted(missing.length, 'sweep') }} of the plan {{ missing.length === 1 ? 'is' : 'are' }} left. The engine
          is warmed first where it is cold.
        </p>
        <ElButton type="primary" :disabled="!isDriving || busy || missing.length === 0" @click="queue.start(missing)"
          >Measure: {{ counted(missing.length, 'sweep') }}</ElButton
        >
      </template>
    </section>
    <section v-else-if="phase === 'correct'">
      <h3>Pass {{ loop.pass.value }}: correct</h3>
      <p v-if="largest">
        {{ counted(loop.changed.value.length, 'cell') }} to change, at most {{ signed(largest.richer) }} % and
        {{ signed(largest.leaner) }} % in this pass.
      </p>
      <p v-if="loop.flatness.value?.silent.length" class="note" role="note">
        {{ counted(loop.flatness.value.silent.length, 'cell does', 'cells do') }} not answer to fuel, worst at
        {{ at(loop.flatness.value.silent[0]!) }}: {{ signed(loop.flatness.value.silent[0]!.pct) }} % changed nothing.
        {{ SILENT_CAUSES }}
      </p>
      <ElButton
        type="primary"
        :disabled="!isDriving || busy || loop.changed.value.length === 0"
        :loading="loop.working.value === 'write'"
        @click="loop.correct()"
        >Save the change, write it, begin pass {{ loop.pass.value + 1 }}</ElButton
      >
      <ElButton v-if="missing.length" :disabled="!isDriving || busy" @click="queue.start(missing)"
        >Measure the {{ counted(missing.length, 'sweep') }} left first</ElButton
      >
    </section>
    <section v-else>
      <h3>Flat, as far as the evidence can tell</h3>
      <p v-if="unkept.length">What is written is not kept yet: it is lost when power goes.</p>
      <ElButton v-if="unkept.length" type="primary" :disabled="busy" @click="bench.tell('keep')"
        >Keep what is written</ElButton
      >
      <p v-else-if="!isRangeFlat">The controller holds it.</p>
      <p v-if="doubt && !isRangeFlat">{{ doubt.why }}</p>
      <ElButton v-if="doubt?.next && nextScript" :disabled="!isDriving || busy" @click="queue.start([nextScript])">{{
        nextRunWords(doubt.next)
      }}</ElButton>
      <p v-else-if="isRangeFlat && !unkept.length">
        The range is flat, and the controller holds it. Nothing is left to do here.
      </p>
    </section>

    <section v-if="loop.flatness.value && loop.field.value">
      <h3>How flat it is</h3>
      <dl class="facts figures">
        <dt>off target</dt>
        <dd v-if="loop.flatness.value.nodes === 0">nothing is known well enough yet</dd>
        <dd v-else>
          {{ plain(loop.flatness.value.rms, 1) }} % RMS over the range, {{ loop.flatness.value.nodes }} cells<template
            v-if="loop.flatness.value.bridged"
            >, {{ loop.flatness.value.bridged }} of them between readings</template
          >; aim {{ FLAT_AIM.rms }} %
        </dd>
        <template v-if="loop.flatness.value.worst">
          <dt>worst</dt>
          <dd>
            {{ signed(loop.flatness.value.worst.pct) }} % at {{ at(loop.flatness.value.worst) }}; aim
            {{ FLAT_AIM.worst }} %
          </dd>
        </template>
        <template v-if="loop.flatness.value.range.points">
          <dt>with its doubt</dt>
          <dd>{{ plain(loop.flatness.value.range.expected, 1) }} % RMS to be expected</dd>
          <dt>not measured</dt>
          <dd>{{ Math.round(loop.flatness.value.range.unknownPct) }} % of the range</dd>
        </template>
        <template v-if="!loop.flatness.value.isFlat && loop.flatness.value.open.length">
          <dt>surely off</dt>
          <dd>{{ counted(loop.flatness.value.open.length, 'cell') }}, by more than their intervals</dd>
        </template>
        <dt>held</dt>
        <dd>{{ counted(loop.flatness.value.held, 'cell') }} left alone</dd>
      </dl>
      <p v-if="unseen.bridged" class="note">
        No run has seen {{ unseen.bridged }}: these rows are told by the stops beside them. A sweep there would tell.
      </p>
      <p v-if="unseen.unknown" class="soft">Not known, and left as it was: {{ unseen.unknown }}.</p>
    </section>
    <section v-if="loop.proof.value">
      <h3>Proof of the change before</h3>
      <dl class="facts figures">
        <dt>measured to predicted</dt>
        <dd>{{ plain(loop.proof.value.rms, 1) }} % RMS over {{ loop.proof.value.nodes }} cells</dd>
        <dt>worst</dt>
        <dd>{{ signed(loop.proof.value.worst.pct) }} % at {{ at(loop.proof.value.worst) }}</dd>
        <dt>within the interval</dt>
        <dd>{{ Math.round(100 * loop.proof.value.within) }} % of the cells</dd>
      </dl>
    </section>
    <section>
      <h3>Sweeps of this pass</h3>
      <ul>
        <li v-for="step in sweeps" :key="step.key">
          <span>{{ stopName(step.stop) }}</span>
          <span class="figures soft">{{ grouped(step.fromRpm) }} to {{ grouped(step.toRpm) }}</span>
          <span class="figures">{{ step.repeats - leftOf(step.key, step.repeats) }}/{{ step.repeats }}</span>
        </li>
      </ul>
    </section>
  </div>
</template>

<style scoped>
.panel,
section {
  display: grid;
  gap: 8px;
  justify-items: start;
}
section {
  width: 100%;
}
.panel {
  gap: 14px;
}
section :deep(.el-button + .el-button) {
  margin-left: 0;
}
section :deep(.el-progress) {
  width: 100%;
}
ul {
  list-style: none;
  margin: 0;
  padding: 0;
  width: 100%;
}
li {
  display: grid;
  grid-template-columns: 1fr auto 40px;
  gap: 8px;
  padding: 3px 0;
  border-bottom: 1px solid var(--line);
  font-size: 13px;
}
.note {
  padding: 8px 10px;
  border-left: 4px solid var(--yuzu);
  background: var(--yuzu-soft);
}
.problem {
  padding: 8px 10px;
  border-left: 4px solid var(--alarm);
}
</style>
