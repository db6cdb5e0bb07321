<script setup lang="ts">
import { computed } from 'vue'
import {
  LOAD_UNITS,
  factorBetween,
  percentFromFactor,
  predictLambda,
  servedCylinder,
  valueLimits,
  type Field,
  type SuggestedChange,
  type TableInfo,
  type TableSince,
} from '@yuzumix/core'
import { arithmeticLine } from '@/parts/evidence/arithmeticLine'
import { fullText, grouped, plain, signed } from '@/parts/numbers/format'
import { useDisplay } from '@/stores/display'

const props = defineProps<{
  info: TableInfo
  field: Field | null
  suggested: SuggestedChange | null
  since: readonly TableSince[]
  at: { row: number; column: number }
  value: number
}>()
const display = useDisplay()

const table = computed(() => props.info.table)
const unit = computed(() => valueLimits(table.value.kind).unit)
const node = computed(() => props.suggested?.nodes[props.at.row]?.[props.at.column] ?? null)
const before = computed(() => table.value.values[props.at.row]![props.at.column]!)
const factor = computed(() => factorBetween(before.value, props.value, table.value))
const cylinder = computed(
  () => props.field && servedCylinder(props.field, props.info.cylinder, props.at.row, props.at.column, props.since),
)
const predicted = computed(() => {
  if (!props.field) return null
  const factors = table.value.values.map((cells) => cells.map(() => factor.value))
  return predictLambda(props.field, props.info.cylinder, factors, props.since)[props.at.row]![props.at.column]!
})
const lines = computed(
  () => node.value?.arithmetic.map((step) => arithmeticLine(step, unit.value, display.mixture)) ?? [],
)
const pick = <T>(matrix: T[][] | undefined): T | undefined => matrix?.[props.at.row]?.[props.at.column]
</script>

<template>
  <div class="panel">
    <h2 class="figures">
      {{ grouped(table.rpm[at.column]!) }} rpm · {{ table.load[at.row] }}
      {{ LOAD_UNITS[table.loadAxis] }}
    </h2>
    <dl>
      <dt>Saved</dt>
      <dd class="figures">{{ fullText(before) }} {{ unit }}</dd>
      <dt>Now</dt>
      <dd class="figures">
        <strong>{{ fullText(value) }} {{ unit }}</strong> <span class="soft"
          >({{ signed(percentFromFactor(factor)) }} % fuel)</span
        >
      </dd>
      <template v-if="node">
        <dt>Suggested</dt>
        <dd class="figures">
          {{ fullText(node.after) }} {{ unit }} <span class="soft">({{ signed(node.changePct) }} %)</span>
        </dd>
        <dt>Why</dt>
        <dd>{{ node.reason }}</dd>
      </template>
      <template v-if="predicted !== null && cylinder">
        <dt>Next run shows</dt>
        <dd class="figures">
          {{ display.mixture(predicted) }} {{ display.mixtureUnit }}
          <span class="soft">target {{ display.mixture(pick(cylinder.target)!) }}</span>
        </dd>
      </template>
      <template v-if="cylinder && pick(cylinder.evidence) !== 'none'">
        <dt>Evidence</dt>
        <dd>
          {{ pick(cylinder.evidence)
          }}<template v-if="pick(cylinder.samples)"
            >, <span class="figures">{{ plain(pick(cylinder.samples)!, 0) }}</span> samples</template
          ><template v-else> between readings</template
          ><template v-if="field!.cylinders.length > 1">, cylinder {{ cylinder.cylinder }}</template>
        </dd>
      </template>
    </dl>
    <template v-if="lines.length">
      <h3>Arithmetic</h3>
      <ol>
        <li v-for="(line, k) in lines" :key="k">
          <span class="figures">{{ line.sum }}</span>
          <span class="soft">{{ line.words }}</span>
        </li>
      </ol>
    </template>
    <p v-if="node?.reason === 'misfire, no fuel'" class="soft">
      Every run misfires here: unburnt charge reads lean. No fuel: leads, cap, plugs first, then measure again.
    </p>
    <p v-if="node?.reason === 'taken back, a loop held it'" class="soft">
      Only a later pass showed that a closed loop holds this cell, or the one beside it. What earlier passes corrected
      here leant on the loop's own mixture, so it is taken back, as far as a pass may go.
    </p>
    <p v-if="node?.reason === 'held by closed loop'" class="soft">
      The controller would take a change back here. Correct its loop or its target instead; where it has no closed loop,
      say so in Rig.
    </p>
  </div>
</template>

<style scoped>
.panel {
  display: grid;
  gap: 8px;
}
dl {
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
ol {
  list-style: none;
  margin: 0;
  padding: 8px;
  background: var(--paper);
  border-radius: 4px;
  display: grid;
  gap: 6px;
}
li {
  display: grid;
}
</style>
