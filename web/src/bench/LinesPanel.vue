<script setup lang="ts">
import { ElButton } from 'element-plus'
import { computed, ref, watch } from 'vue'
import { CHANNELS, channelKind, channelTitle, isOther, type LiveColumn, type Mapping } from '@yuzumix/core'
import ChoiceSelect from '@/parts/choose/ChoiceSelect.vue'
import type { useBench } from './useBench'

/** A source of live lines: what its columns are taken for, and recording what it tells. */
const props = defineProps<{ bench: ReturnType<typeof useBench> }>()
const { state, news, isDriving, connection } = props.bench
const columns = computed<LiveColumn[]>(() => state.value?.lines?.columns ?? [])
const wanted = ref<Record<string, string>>({})
watch(columns, () => (wanted.value = {}))
const OUT = ''
const channelOf = ({ header, channel }: LiveColumn): string => wanted.value[header] ?? channel ?? OUT
const choices = [
  { value: OUT, label: 'leave out' },
  ...CHANNELS.map((channel) => ({ value: channel, label: channelTitle(channel) })),
]
const shown = ({ channel }: LiveColumn): { value: string; label: string }[] =>
  channel && isOther(channel) ? [...choices, { value: channel, label: 'under its own name' }] : choices
const unitOf = (column: LiveColumn): string =>
  wanted.value[column.header] === undefined ? column.unit : (channelKind(channelOf(column))?.unit ?? '')

/** Two columns cannot be one channel. */
const twice = computed(() => {
  const taken = columns.value.map(channelOf).filter((one) => one !== OUT)
  return taken.find((one, k) => taken.indexOf(one) !== k) ?? null
})
const isChanged = computed(() => Object.keys(wanted.value).length > 0)
function take(): void {
  const mapping: Mapping = Object.fromEntries(
    columns.value.map((column) => [
      column.header,
      channelOf(column) === OUT ? null : { channel: channelOf(column), unit: unitOf(column) },
    ]),
  )
  void props.bench.remap(mapping)
}
// Columns come to be known after the link is open.
watch(
  () => news.value?.said,
  () => void props.bench.look(),
)
function record(): void {
  if (!isDriving.value) props.bench.drive()
  props.bench.record()
}
</script>

<template>
  <div class="lines">
    <p class="soft">
      Read-only: nothing is set at the machine from here. A recording becomes a run of this job, under the set that is
      newest.
    </p>
    <div class="acts">
      <ElButton v-if="!news?.recording" type="primary" :disabled="connection !== 'open'" @click="record"
        >Record</ElButton
      >
      <ElButton v-else type="danger" @click="bench.stop()">Stop and keep</ElButton>
    </div>
    <h2>Columns</h2>
    <p v-if="columns.length === 0" class="soft">They are known once a line with their names has come.</p>
    <table v-else>
      <thead>
        <tr>
          <th scope="col">Sent as</th>
          <th scope="col">Taken for</th>
          <th scope="col">Unit</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="column in columns" :key="column.header">
          <td>{{ column.header }}</td>
          <td>
            <ChoiceSelect
              :model-value="channelOf(column)"
              :name="`Channel of ${column.header}`"
              :choices="shown(column)"
              filterable
              @update:model-value="wanted = { ...wanted, [column.header]: $event }"
            />
          </td>
          <td class="soft">{{ unitOf(column) }}</td>
        </tr>
      </tbody>
    </table>
    <p v-if="twice" class="twice" role="alert">Two columns are taken for {{ channelTitle(twice).toLowerCase() }}.</p>
    <ElButton v-if="isChanged" :disabled="twice !== null" @click="take">Take the columns so, and remember it</ElButton>
    <p v-if="state?.lines?.strange" class="soft">{{ state.lines.strange }} lines told nothing.</p>
  </div>
</template>

<style scoped>
.lines {
  display: grid;
  gap: 8px;
  justify-items: start;
  padding-top: 8px;
}
table {
  width: 100%;
  border-collapse: collapse;
}
th {
  text-align: left;
  font-weight: 400;
  color: var(--soft);
}
td {
  padding: 2px 6px 2px 0;
}
.acts :deep(.el-button) {
  min-height: 44px;
}
.twice {
  color: var(--alarm);
}
</style>
