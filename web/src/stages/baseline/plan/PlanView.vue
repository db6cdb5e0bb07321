<script setup lang="ts">
import { ElButton } from 'element-plus'
import { computed, ref } from 'vue'
import { cutToTime, planOf, stopName, type PlanChoice, type PlanStep } from '@yuzumix/core'
import { grouped, plain } from '@/parts/numbers/format'
import StageSplit from '@/parts/frame/StageSplit.vue'
import { useJob } from '@/job/openJob'
import { useRechecks } from '@/job/useRechecks'
import DropLogs from '@/parts/intake/DropLogs.vue'
import ViewSwitch from '@/stages/baseline/ViewSwitch.vue'
import NextPanel from './NextPanel.vue'
import PlanForm from './PlanForm.vue'

const open = useJob()
/** what is typed and cannot be saved yet: a range that is none */
const draft = ref<PlanChoice | null>(null)
const told = computed(() => {
  const { job, sets, runs, tables } = open
  return planOf({ job: { ...job!, ...(draft.value && { plan: draft.value }) }, sets, runs, tables })
})
const choice = computed(() => draft.value ?? told.value.choice)
const plan = computed(() => told.value.plan)
const cut = computed(() => (plan.value.overBy === null ? null : cutToTime(choice.value, plan.value)))
const ticks = computed(() => new Map(told.value.ticks.map((one) => [one.key, one])))
const total = computed(() => plan.value.steps.reduce((sum, step) => sum + step.repeats, 0))
const left = computed(() => [...ticks.value.values()].reduce((sum, tick) => sum + tick.left, 0))
const minutesLeft = computed(() =>
  plan.value.steps.reduce(
    (sum, step) => sum + (ticks.value.get(step.key)?.left ?? 0) * (step.minutesEach + step.pauseEach),
    0,
  ),
)
const cautious = computed(
  () => choice.value.kinds.includes('roll-on') || plan.value.steps.some((step) => step.stop >= 60),
)

const name = (id: string): string => open.runs.find((run) => run.id === id)?.name ?? 'a run'
const where = (step: PlanStep): string =>
  step.kind === 'hold'
    ? `at ${grouped(step.fromRpm)} rpm`
    : step.kind === 'roll-on'
      ? `from ${grouped(step.fromRpm)} rpm`
      : `${grouped(step.fromRpm)} to ${grouped(step.toRpm)} rpm`

const again = useRechecks()

function choose(now: PlanChoice): void {
  const isRange = now.toRpm >= now.fromRpm + 500
  draft.value = isRange ? null : now
  if (isRange) open.choose({ plan: now })
}
</script>

<template>
  <StageSplit label="Run plan" drawer-label="Next" problem="">
    <template #bar>
      <ViewSwitch />
      <span class="space" />
      <DropLogs compact />
    </template>
    <PlanForm :choice="choice" @choose="choose" />
    <p class="total" role="status">
      <strong class="figures">{{ plain(plan.minutes, 0) }} min</strong> in all, with {{ plan.warmUpMinutes }} min to
      warm up.
      <template v-if="left === 0">All {{ total }} runs are done.</template>
      <template v-else-if="left < total"
        >{{ total - left }} of {{ total }} runs are done; about
        <span class="figures">{{ plain(minutesLeft, 0) }} min</span> of runs are left.</template
      >
      <template v-if="cut">
        <span class="over">That is {{ plain(plan.overBy!, 0) }} min more than there is.</span>
        {{
          cut.plan.overBy === null
            ? `It fits in ${plain(cut.plan.minutes, 0)} min ${cut.dropped.length ? `without ${cut.dropped.join(', ')}` : ''}${cut.fewer.length ? `${cut.dropped.length ? ' and' : ''} with fewer repeats of ${cut.fewer.join(', ')}` : ''}.`
            : 'Even one run takes longer than that: more time is needed.'
        }}
      </template>
    </p>
    <p class="soft">
      Open to the stop at the lowest speed and hold it on the brake for a second and a half before the sweep, or begin
      500 rpm lower: what follows an opening is set aside. A run ticks a step by the speeds it tells of.
    </p>
    <div class="sheet" tabindex="0" aria-label="Steps of the plan">
      <table>
        <thead>
          <tr>
            <th scope="col">Run</th>
            <th scope="col">Throttle</th>
            <th scope="col">Span</th>
            <th scope="col" class="right">Repeats</th>
            <th scope="col" class="right minutes">Minutes</th>
            <th scope="col">Done</th>
          </tr>
        </thead>
        <tbody>
          <tr
            v-for="step in plan.steps"
            :key="step.key"
            :class="{ done: ticks.get(step.key)?.left === 0, dropped: cut?.dropped.includes(step.key) }"
          >
            <td>
              {{ step.kind }}{{ step.gear ? `, gear ${step.gear}` : '' }}
              <span v-if="cut?.dropped.includes(step.key)" class="soft">(does not fit the time)</span>
            </td>
            <td class="figures">{{ step.kind === 'roll-on' ? 'to ' : '' }}{{ stopName(step.stop) }}</td>
            <td class="figures">{{ where(step) }}</td>
            <td class="right figures">{{ step.repeats }}</td>
            <td class="right figures minutes">
              {{ step.repeats }} × ({{ plain(step.minutesEach, 1) }} + {{ plain(step.pauseEach, 1) }}) =
              {{ plain(step.minutes, 1) }}
            </td>
            <td>
              <span
                v-for="k in step.repeats"
                :key="k"
                class="box"
                :class="{ ticked: k <= step.repeats - (ticks.get(step.key)?.left ?? step.repeats) }"
                :title="ticks.get(step.key)?.runs[k - 1] ? name(ticks.get(step.key)!.runs[k - 1]!) : 'not run yet'"
              />
              <span class="soft figures"
                >{{ step.repeats - (ticks.get(step.key)?.left ?? step.repeats) }} of {{ step.repeats }}</span
              >
              <p v-for="one in ticks.get(step.key)?.almost ?? []" :key="one.run" class="almost">
                "{{ name(one.run) }}" does not count: {{ one.why }}
              </p>
            </td>
          </tr>
        </tbody>
      </table>
    </div>
    <p class="soft legend">
      Minutes are running + cooling each. Runs tick the plan off by what they are: kind, throttle, span, gear.
    </p>
    <template #drawer>
      <NextPanel :again="again" />
      <div v-if="cautious" class="caution">
        Extraction and a carbon monoxide alarm indoors; nobody near drum, chain and rear wheel; a second person within
        reach of the stop. Lean and hot at high load, or knock: stop the run. A fan is no substitute for stops to cool.
        On the road someone else rides, and nobody watches a screen while riding.
      </div>
      <ElButton v-if="!open.job!.plan" size="small" class="keep" @click="choose({ ...choice })"
        >Keep this plan with the job</ElButton
      >
    </template>
  </StageSplit>
</template>

<style scoped>
.total {
  min-height: 20px;
}
.over {
  color: var(--lean);
  font-weight: 700;
}
.right {
  text-align: right;
  white-space: nowrap;
}
.dropped td {
  color: var(--soft);
}
.box {
  display: inline-block;
  width: 12px;
  height: 12px;
  margin-right: 4px;
  border: 1px solid var(--line-strong);
  border-radius: 2px;
}
.box.ticked {
  background: var(--leaf);
  border-color: var(--leaf);
}
.almost {
  font-size: 12px;
  color: var(--lean);
}
.legend {
  font-size: 12px;
}
.caution {
  margin-top: 16px;
}
.keep {
  margin-top: 12px;
}
@media (max-width: 700px) {
  .minutes {
    display: none;
  }
  .sheet :is(th, td) {
    padding: 6px;
  }
}
</style>
