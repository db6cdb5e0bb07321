<script setup lang="ts">
import { ElRadioButton, ElRadioGroup } from 'element-plus'
import { computed } from 'vue'
import { oneKnob, RANGE_USES, stopName, type RangeUse } from '@yuzumix/core'
import { grouped, plain, signed } from '@/parts/numbers/format'
import NumberBox from '@/parts/numbers/NumberBox.vue'
import type { Spark } from './useSpark'

/** The one static setting that serves the range best, as it is used. */
const props = defineProps<{ spark: Spark; stop: number | null }>()
const { settings, choose, bins } = props.spark

const here = computed(() => {
  const atStop = bins.value.filter(({ bin }) => bin.stop === props.stop)
  // Sweeps at settings are what an ignition plate gives; held points serve where there are none.
  const sweeps = atStop.filter(({ bin }) => bin.source === 'sweeps')
  return sweeps.length ? sweeps : atStop
})
const answer = computed(() => {
  try {
    const { use, knockMargin, giveAwayPct } = settings.value
    return oneKnob(here.value, use, knockMargin, undefined, giveAwayPct / 100)
  } catch (error) {
    return (error as Error).message
  }
})
const present = computed(() => (here.value[0]?.bin.isStatic ? here.value[0].bin.present : null))
const at = (offset: number): string =>
  `${signed(offset)}° from now${present.value === null ? '' : `, ${plain(present.value + offset, 1)}°`}`
const USES = ['even', 'road', 'track'] as const
const preset = computed(
  () => USES.find((id) => JSON.stringify(RANGE_USES[id]) === JSON.stringify(settings.value.use)) ?? '',
)
const THIRDS: [keyof RangeUse, string][] = [
  ['low', 'Lower third'],
  ['middle', 'Middle third'],
  ['high', 'Upper third'],
]
</script>

<template>
  <div class="panel">
    <p class="soft">
      An ignition plate turned as a whole moves every speed at once. What counts is where the engine is used; here at
      {{ stopName(stop) }}.
    </p>
    <ElRadioGroup
      :model-value="preset"
      size="small"
      aria-label="How the range is used"
      @update:model-value="choose({ use: RANGE_USES[$event as 'even'] })"
    >
      <ElRadioButton v-for="id in USES" :key="id" :value="id">{{ id }}</ElRadioButton>
    </ElRadioGroup>
    <div class="uses">
      <label v-for="[key, name] in THIRDS" :key="key"
        >{{ name }}
        <NumberBox
          :model-value="settings.use[key]"
          :least="0"
          :most="10"
          :step="0.5"
          :name="`${name}, share of use`"
          @update:model-value="choose({ use: { ...settings.use, [key]: $event } })"
      /></label>
    </div>
    <p v-if="typeof answer === 'string'" class="fault" role="alert">{{ answer }}</p>
    <template v-else>
      <p>
        <strong>{{ answer.note }}</strong>
      </p>
      <dl class="facts figures">
        <template v-if="answer.recommended !== null">
          <dt>advised</dt>
          <dd>{{ at(answer.recommended) }}</dd>
        </template>
        <template v-if="answer.best">
          <dt>best</dt>
          <dd>
            {{ signed(answer.best.offset) }}° ({{ signed(answer.best.low) }} to {{ signed(answer.best.high) }}, 90 %)
          </dd>
        </template>
        <template v-if="answer.gain">
          <dt>gain, as used</dt>
          <dd>{{ signed(answer.gain.value) }} % ({{ signed(answer.gain.low) }} to {{ signed(answer.gain.high) }})</dd>
        </template>
      </dl>
      <table v-if="answer.byRpm.length" class="figures">
        <thead>
          <tr>
            <th scope="col">rpm</th>
            <th scope="col">use, %</th>
            <th scope="col">gain over now, %</th>
            <th scope="col">below its own best, %</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="row in answer.byRpm" :key="row.rpm">
            <th scope="row">{{ grouped(row.rpm) }}</th>
            <td>{{ plain(100 * row.weight, 0) }}</td>
            <td>{{ signed(row.gain) }}</td>
            <td>{{ row.givenAway === null ? '·' : plain(row.givenAway, 1) }}</td>
          </tr>
        </tbody>
      </table>
    </template>
  </div>
</template>

<style scoped>
.panel {
  display: grid;
  gap: 10px;
  justify-items: start;
}
.uses {
  display: flex;
  gap: 8px;
}
.uses label {
  display: grid;
  font-size: 13px;
}
.uses :deep(.number-input) {
  width: 96px;
}
table {
  width: 100%;
  border-collapse: collapse;
  font-size: 13px;
}
th,
td {
  padding: 3px 6px;
  border-bottom: 1px solid var(--line);
  text-align: right;
  font-weight: 400;
}
thead th {
  color: var(--soft);
}
</style>
