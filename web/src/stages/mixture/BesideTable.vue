<script setup lang="ts">
import { computed, ref } from 'vue'
import { channelKind, channelTitle, grouped, heatWords, LOAD_UNITS, type AnswerOf, type LoadGrid } from '@yuzumix/core'
import ChoiceSelect from '@/parts/choose/ChoiceSelect.vue'
import { plain } from '@/parts/numbers/format'

/** What was read beside the mixture over speed and opening: exhaust gas, heads, duty, against the limit; or how steady it is. */
const props = defineProps<{ beside: AnswerOf<'beside'>; grid: LoadGrid }>()
const emit = defineEmits<{ select: [{ row: number; column: number }] }>()
const STEADY = 'steadiness'
const chosen = ref('')
const shown = computed(() =>
  [...props.beside.channels.map((one) => one.channel), STEADY].includes(chosen.value)
    ? chosen.value
    : (props.beside.channels[0]?.channel ?? STEADY),
)
const channel = computed(() => props.beside.channels.find((one) => one.channel === shown.value) ?? null)
const choices = computed(() => [
  ...props.beside.channels.map((one) => ({ value: one.channel, label: `${channelTitle(one.channel)}, at most` })),
  { value: STEADY, label: 'Steadiness of the mixture, ± %' },
])
const cells = computed(() => channel.value?.most ?? props.beside.steadyPct)
const unit = computed(() => (channel.value ? (channelKind(channel.value.channel)?.unit ?? '') : '%'))
/** Only speeds and openings that anything was read at. */
const columns = computed(() =>
  props.grid.rpm.flatMap((rpm, k) => (cells.value.some((row) => row[k] !== null) ? [{ rpm, k }] : [])),
)
const rows = computed(() =>
  props.grid.load.flatMap((load, k) => (cells.value[k]!.some((one) => one !== null) ? [{ load, k }] : [])).reverse(),
)
const isOver = (value: number | null): boolean =>
  value !== null && channel.value?.limit != null && value > channel.value.limit
const over = computed(() => cells.value.flat().filter(isOver).length)
const text = (value: number | null): string => (value === null ? '·' : plain(value, channel.value ? 0 : 2))
const heat = computed(() => heatWords(props.beside.heat))
</script>

<template>
  <div class="beside">
    <ChoiceSelect :model-value="shown" name="What is shown" :choices="choices" @update:model-value="chosen = $event" />
    <p v-if="channel && channel.limit !== null" :class="{ over }">
      {{ over ? `${over} ${over === 1 ? 'cell is' : 'cells are'} over` : 'All within' }} the limit of
      <span class="figures">{{ plain(channel.limit, 0) }} {{ unit }}</span>.
    </p>
    <p v-if="rows.length === 0" class="soft">Nothing of it was read.</p>
    <div v-else class="scroll" tabindex="0" aria-label="By speed and opening">
      <table class="figures">
        <thead>
          <tr>
            <th scope="col">{{ LOAD_UNITS[grid.loadAxis] }}</th>
            <th v-for="{ rpm } in columns" :key="rpm" scope="col">{{ grouped(rpm) }}</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="row in rows" :key="row.load">
            <th scope="row">{{ row.load }}</th>
            <td
              v-for="{ rpm, k } in columns"
              :key="rpm"
              :class="{ over: isOver(cells[row.k]![k]!) }"
              @click="emit('select', { row: row.k, column: k })"
            >
              {{ text(cells[row.k]![k]!) }}{{ isOver(cells[row.k]![k]!) ? '!' : '' }}
            </td>
          </tr>
        </tbody>
      </table>
    </div>
    <p v-if="heat" :class="{ over: beside.heat.verdict === 'disagree' }">{{ heat }}</p>
    <p class="soft">
      Exhaust limits are common practice unless the job says its own; a probe takes seconds, so a sweep reads low and a
      hold tells.
    </p>
  </div>
</template>

<style scoped>
.beside {
  display: grid;
  gap: 8px;
}
.scroll {
  overflow-x: auto;
}
table {
  border-collapse: collapse;
  font-size: 12px;
}
th,
td {
  padding: 3px 6px;
  text-align: right;
  font-weight: 400;
}
th {
  color: var(--soft);
}
.over {
  color: var(--alarm);
  font-weight: 700;
}
</style>
