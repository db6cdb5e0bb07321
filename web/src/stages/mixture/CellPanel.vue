<script setup lang="ts">
import { computed } from 'vue'
import {
  LOAD_UNITS,
  flatteredBanks,
  IDLE_LOAD,
  isMisfire,
  misfireWords,
  SILENT_CAUSES,
  straightBetween,
  straightWords,
  sweepName,
  sweepOf,
  type AnswerOf,
  type CylinderField,
  type Field,
  type NodeExplanation,
  type RunInfo,
  type Stale,
} from '@yuzumix/core'
import BesideList from './BesideList.vue'
import SetAsideList from '@/parts/evidence/SetAsideList.vue'
import { grouped, plain, signed } from '@/parts/numbers/format'
import { useDisplay } from '@/stores/display'

const props = defineProps<{
  field: Field
  cylinder: CylinderField
  at: { row: number; column: number } | null
  explanation: NodeExplanation | null
  runs: RunInfo[]
  /** the spark moved here since these runs */
  stale: Stale | null
  cylinderName: (n: number) => string
  /** what was read beside the mixture; null until it is known */
  beside: AnswerOf<'beside'> | null
}>()
const emit = defineEmits<{ log: [run: string] }>()
const display = useDisplay()

const node = computed(() => {
  if (!props.at) return null
  const { row, column } = props.at
  const pick = <T>(matrix: T[][]): T => matrix[row]![column]!
  const { cylinder: c } = props
  return {
    rpm: props.field.grid.rpm[column]!,
    load: props.field.grid.load[row]!,
    lambda: pick(c.lambda),
    target: pick(c.target),
    change: pick(c.changePct),
    low: pick(c.lowPct),
    high: pick(c.highPct),
    evidence: pick(c.evidence),
    samples: pick(c.samples),
    passes: pick(c.passes),
    held: pick(c.held),
    byTrim: pick(c.byTrim),
    silent: pick(c.silentPct),
  }
})
/** The misfire that the cell lies in, in words; empty for none. */
const misfire = computed(() => {
  if (!props.at) return ''
  const { row, column } = props.at
  const { cylinder } = props.cylinder
  const zone = props.field.misfires.find((one) => isMisfire([one], props.field.grid, cylinder, row, column))
  return zone ? misfireWords(zone, props.cylinderName) : ''
})
const isIdle = computed(() => props.field.grid.loadAxis === 'throttle' && (node.value?.load ?? 100) <= IDLE_LOAD)
/** Cylinders that differ while their average looks right. */
const flattered = computed(() => {
  if (!props.at) return null
  const { row, column } = props.at
  const lambda = props.field.cylinders.map((one) => one.lambda[row]![column] ?? NaN)
  return flatteredBanks(lambda, props.cylinder.target[row]![column]!)
})
const straight = computed(() => straightBetween(props.field.grid, props.field.cylinders))
const straightHere = computed(() => {
  const k = props.field.cylinders.indexOf(props.cylinder)
  return props.at ? (straight.value?.cells[k]?.[props.at.row]?.[props.at.column] ?? null) : null
})
const isBridged = computed(() => node.value?.evidence === 'bridged')
const unit = computed(() => LOAD_UNITS[props.field.grid.loadAxis])
const name = (id: string): string =>
  sweepName(props.runs.find((run) => run.id === sweepOf(id).run)?.name ?? 'a run', id)
const words = computed(() => {
  const n = node.value
  if (!n || n.change === null) return ''
  if (n.byTrim)
    return `The controller holds the mixture here, and its trims tell what it has to ${n.change > 0 ? 'add' : 'take away'}: the table is ${n.change > 0 ? 'short' : 'rich'} by that.`
  if (Math.abs(n.change) < 1) return 'On target.'
  return n.change > 0 ? 'Lean: needs fuel.' : 'Rich: has too much fuel.'
})
</script>

<template>
  <div v-if="!node" class="panel soft">
    <p>Select a cell of the field, with the pointer or the arrow keys, to see what it rests on.</p>
    <p v-if="straight">{{ straightWords(straight, unit) }}</p>
  </div>
  <div v-else class="panel">
    <h2 class="figures">{{ grouped(node.rpm) }} rpm · {{ node.load }} {{ unit }}</h2>
    <template v-if="node.change !== null && node.lambda !== null">
      <p>{{ words }}</p>
      <p v-if="node.silent !== null" class="stale" role="note">
        Does not answer: {{ signed(node.silent) }} % of fuel changed nothing here. {{ SILENT_CAUSES }}
      </p>
      <p v-if="isIdle" class="soft">
        Idle and closed throttle: the idle is set here, and a closed loop holds it where there is one.
      </p>
      <p v-if="stale" class="stale" role="note">
        Stale: spark moved by {{ signed(stale.moved) }}° here since these runs, and with it how the charge burns.
        Measure again.
      </p>
      <dl class="facts">
        <dt>Change</dt>
        <dd class="figures big">{{ signed(node.change) }} %</dd>
        <template v-if="node.low !== null && node.high !== null">
          <dt>90 % interval</dt>
          <dd>
            <span class="figures">{{ signed(node.low) }} to {{ signed(node.high) }} %</span>, of what a table with these
            breakpoints should have here
          </dd>
          <template v-if="straightHere !== null">
            <dt>Between cells</dt>
            <dd>
              <span class="figures">± {{ plain(straightHere, 1) }} %</span> the engine goes off a straight line about
              here, however right the cell is
            </dd>
          </template>
        </template>
        <dt>Evidence</dt>
        <dd>
          <strong>{{ node.evidence }}</strong>, <span class="figures">{{ plain(node.samples, 0) }}</span> samples
          <template v-if="node.passes">in <span class="figures">{{ node.passes }}</span> passes</template>
        </dd>
      </dl>
      <p v-if="flattered" class="flattered" role="note">
        The average of the cylinders flatters: it is {{ signed(flattered.averagePct) }} % off target, but cylinder
        {{ flattered.leanest }} is {{ signed(flattered.leanestPct) }} % and cylinder {{ flattered.richest }}
        {{ signed(flattered.richestPct) }} %.
      </p>
      <h3>Arithmetic</h3>
      <p v-if="isBridged" class="soft">
        Few readings or none lie here: the change is as smooth as the readings about it teach, and its interval is wider
        for that.
      </p>
      <p class="figures sum">
        {{ display.mixture(node.lambda) }} / {{ display.mixture(node.target) }} {{ display.mixtureUnit }} =
        {{ plain(node.lambda / node.target, 3) }} → {{ signed(node.change) }} %
      </p>
      <p class="soft">
        {{
          node.byTrim
            ? 'The loop holds λ 1; times its trims that is what it would be without them, and λ 1 is the aim here. '
            : ''
        }}Measured over target is the factor on the fuel. Limits and shrinkage for this pass stand at the Change stage.
      </p>
    </template>
    <p v-else-if="node.held">
      Held: the controller keeps
      {{ node.lambda === null ? 'the mixture' : `${display.mixture(node.lambda)} ${display.mixtureUnit}` }}
      here whatever the table says, so the reading does not tell what the table needs. Nothing is known, and nothing is
      changed, unless its trims are logged. If the controller has no closed loop, or it is switched off, say so in Rig.
    </p>
    <p v-else-if="misfire" class="stale" role="note">{{ misfire }}</p>
    <p v-else>No evidence: no settled reading came near enough to tell. A run through here would.</p>
    <BesideList v-if="beside && at" :beside="beside" :at="at" />
    <template v-if="explanation">
      <h3>By run</h3>
      <p v-if="explanation.runs.length === 0" class="soft">No run has settled readings here.</p>
      <table v-else>
        <thead>
          <tr>
            <th scope="col">Run</th>
            <th scope="col" class="right">Samples</th>
            <th scope="col" class="right">Says, %</th>
            <th scope="col" class="right">Weight</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="run in explanation.runs" :key="run.id">
            <td>
              <button type="button" class="in-log" :title="`${name(run.id)} over time`" @click="emit('log', run.id)">
                {{ name(run.id) }}
              </button>
            </td>
            <td class="right figures">{{ run.samples }}</td>
            <td class="right figures">{{ run.changePct === null ? '' : signed(run.changePct) }}</td>
            <td class="right figures">{{ plain(run.weight, 2) }}</td>
          </tr>
        </tbody>
      </table>
      <h3>Set aside near here</h3>
      <SetAsideList
        :counts="explanation.setAside"
        :none="misfire ? 'Nothing else was set aside near here.' : 'Nothing was set aside near here.'"
      />
    </template>
  </div>
</template>

<style scoped>
.in-log {
  padding: 0;
  border: 0;
  background: none;
  color: var(--leaf);
  font: inherit;
  text-align: left;
  text-decoration: underline;
  cursor: pointer;
}
.stale {
  padding: 8px 10px;
  border-left: 4px solid var(--lean);
  background: var(--yuzu-soft);
}
.panel {
  display: grid;
  gap: 8px;
}
.facts {
  display: grid;
  grid-template-columns: 110px 1fr;
  gap: 4px 8px;
  margin: 0;
  align-items: baseline;
}
dt {
  color: var(--soft);
}
dd {
  margin: 0;
}
.big {
  font-size: 22px;
  font-weight: 700;
}
.flattered {
  color: var(--lean);
}
.sum {
  padding: 8px;
  background: var(--paper);
  border-radius: 4px;
}
h3 {
  margin-top: 8px;
}
table {
  width: 100%;
  border-collapse: collapse;
}
th {
  text-align: left;
  color: var(--soft);
  font-weight: 400;
}
td,
th {
  padding: 2px 4px;
  border-bottom: 1px solid var(--line);
}
.right {
  text-align: right;
}
</style>
