<script setup lang="ts">
import { computed, ref } from 'vue'
import { LOAD_UNITS, type Selection, type SettingsOf, type WayKind } from '@yuzumix/core'
import { notifyProblem } from '@/api/notify'
import NumberBox from '@/parts/numbers/NumberBox.vue'
import { plain, signed } from '@/parts/numbers/format'
import TableGrid from '@/parts/table/TableGrid.vue'
import type { Ways } from './useWays'

/** Numbers of the opened way as they are typed in; each can be set by hand, and what it leaves follows at once. */
const props = defineProps<{ ways: Ways }>()
const { chosen, settings, wanted } = props.ways
const unit = computed(() => LOAD_UNITS[wanted.value!.loadAxis])
const selection = ref<Selection>({ row0: 0, column0: 0, row1: 0, column1: 0 })
/** The numbers as those of one kind; null for the others. */
const as = <K extends WayKind>(kind: K) =>
  computed(() => (chosen.value === kind ? (settings.value as SettingsOf[K] | null) : null))
const [coarse, bands, strips, global, pressure, injectors, filling] = [
  as('coarse'),
  as('bands'),
  as('strips'),
  as('global'),
  as('pressure'),
  as('injectors'),
  as('filling'),
]
const bandNames = computed(() => {
  const { axis, edges } = bands.value!
  const ends = axis === 'rpm' ? 'rpm' : unit.value
  return [...edges, null].map((edge, k) =>
    k === 0
      ? `below ${plain(edges[0]!, 0)}`
      : edge === null
        ? `from ${plain(edges.at(-1)!, 0)} ${ends}`
        : `${plain(edges[k - 1]!, 0)} to ${plain(edge, 0)}`,
  )
})
const replaced = (values: readonly number[], at: number, value: number): number[] =>
  values.map((one, k) => (k === at ? value : one))
function enter(take: (cell: number) => number): void {
  const now = coarse.value!
  const { row0, row1, column0, column1 } = selection.value
  const isIn = (row: number, column: number): boolean =>
    row >= Math.min(row0, row1) &&
    row <= Math.max(row0, row1) &&
    column >= Math.min(column0, column1) &&
    column <= Math.max(column0, column1)
  props.ways.set({
    ...now,
    values: now.values.map((cells, row) => cells.map((one, column) => (isIn(row, column) ? take(one) : one))),
  })
}
const shown = (value: number): string => plain(value, 1)
const PERCENT = { least: -60, most: 100, step: 0.5, precision: 1 }
const fillingSpan = computed(() => {
  const all = filling.value!.filling.values.flat()
  return [Math.min(...all), Math.max(...all)] as const
})
const dutyMost = computed(() => Math.max(...(injectors.value?.dutyPct?.flat() ?? [0])))
</script>

<template>
  <div v-if="coarse" class="grid">
    <TableGrid
      v-model:selection="selection"
      :grid="{ rpm: [...coarse.rpm], load: [...coarse.load] }"
      kind="fuel trim"
      :values="coarse.values"
      :shown="shown"
      :look="(row, column) => ({ text: signed(coarse!.values[row]![column]!) })"
      :load-unit="unit"
      label="Points of the coarse table, % of fuel"
      note="Type to set a point; what is left follows."
      @entry="enter"
      @fault="notifyProblem"
    />
  </div>
  <table v-else-if="bands" class="numbers">
    <tr v-for="(value, k) in bands.values" :key="k">
      <th scope="row">{{ bandNames[k] }}</th>
      <td>
        <NumberBox
          :model-value="value"
          :name="`Percent of band ${k + 1}`"
          v-bind="PERCENT"
          @update:model-value="ways.set({ ...bands!, values: replaced(bands!.values, k, $event) })"
        />
        %
      </td>
    </tr>
  </table>
  <table v-else-if="strips" class="numbers">
    <thead>
      <tr>
        <th scope="col">rpm</th>
        <th scope="col">below {{ strips.threshold }} {{ unit }}, %</th>
        <th scope="col">from there up, %</th>
      </tr>
    </thead>
    <tr v-for="(speed, k) in strips.rpm" :key="speed">
      <th scope="row" class="figures">{{ speed }}</th>
      <td v-for="side in ['low', 'high'] as const" :key="side">
        <NumberBox
          :model-value="strips[side][k]!"
          :name="`Percent ${side === 'low' ? 'below' : 'above'} at ${speed} rpm`"
          v-bind="PERCENT"
          @update:model-value="ways.set({ ...strips!, [side]: replaced(strips![side], k, $event) })"
        />
      </td>
    </tr>
  </table>
  <p v-else-if="global">
    Everywhere
    <NumberBox
      :model-value="global.pct"
      name="Percent everywhere"
      v-bind="PERCENT"
      @update:model-value="ways.set({ ...global!, pct: $event })"
    />
    %
  </p>
  <p v-else-if="pressure">
    Rail pressure
    <NumberBox
      :model-value="pressure.kPa"
      name="New rail pressure"
      :least="1"
      :most="5000"
      @update:model-value="ways.set({ kPa: $event })"
    />
    kPa
  </p>
  <p v-else-if="injectors">
    Every pulse, its dead time apart, times <b class="figures">{{ plain(injectors.pulseFactor, 3) }}</b>; dead time
    <b class="figures">{{ signed(injectors.deadMsChange, 2) }} ms</b>.
    <template v-if="injectors.dutyPct">Duty at most <b class="figures">{{ plain(dutyMost, 0) }} %</b>.</template>
  </p>
  <p v-else-if="filling">
    Filling changes by <b class="figures">{{ signed(fillingSpan[0]) }} to {{ signed(fillingSpan[1]) }} %</b>: measured
    over commanded, nothing else.
    <template v-if="filling.target">The commanded lambda is set as it is intended.</template>
    <template v-else>The commanded lambda stays.</template>
  </p>
</template>

<style scoped>
.grid {
  height: 270px;
  display: flex;
  flex-direction: column;
}
.numbers {
  border-collapse: collapse;
  margin: 8px 0;
}
.numbers :is(th, td) {
  padding: 2px 8px 2px 0;
  font-weight: 400;
  text-align: left;
  white-space: nowrap;
}
.numbers thead th {
  color: var(--soft);
  font-size: 12px;
}
</style>
