<script setup lang="ts">
import ChoiceSelect from '@/parts/choose/ChoiceSelect.vue'
import { ElOption, ElSelect } from 'element-plus'
import { CHANNELS, channelKind, channelTitle, isOther, withOthers, type Mapping } from '@yuzumix/core'
import type { LogLayout } from '@yuzumix/core'

const props = defineProps<{ layout: LogLayout }>()
const mapping = defineModel<Mapping>({ required: true })

const unitsOf = (channel: string): string[] => {
  const kind = channelKind(channel)!
  return [
    ...new Set([
      kind.unit,
      ...Object.keys(kind.units).filter((unit) => unit !== kind.unit.toLowerCase() && unit !== ''),
    ]),
  ]
}
const takenElsewhere = (channel: string, header: string): boolean =>
  Object.entries(mapping.value).some(([other, one]) => other !== header && one?.channel === channel)

const OWN_NAME = 'other'
function setChannel(header: string, channel: string): void {
  const { [header]: _, ...rest } = mapping.value
  if (channel === OWN_NAME) mapping.value = withOthers(props.layout.headers, rest, props.layout.units, false)
  else mapping.value = { ...rest, [header]: channel ? { channel, unit: channelKind(channel)!.unit } : null }
}
const isKept = (header: string): boolean => isOther(mapping.value[header]?.channel ?? '')
function setUnit(header: string, unit: string): void {
  mapping.value = { ...mapping.value, [header]: { ...mapping.value[header]!, unit } }
}
</script>

<template>
  <div class="scroll" tabindex="0" aria-label="First rows of the log and what each column is taken for">
    <table>
      <thead>
        <tr>
          <th
            v-for="header in props.layout.headers"
            :key="header"
            scope="col"
            :class="{ open: !mapping[header] || isKept(header) }"
          >
            <div class="header" :title="header">{{ header }}</div>
            <div v-if="mapping[header]?.guessed" class="guess">a guess, by its values</div>
            <ElSelect
              :model-value="isKept(header) ? OWN_NAME : (mapping[header]?.channel ?? '')"
              size="small"
              filterable
              placeholder="left out"
              :aria-label="`Channel of ${header}`"
              @update:model-value="setChannel(header, $event)"
            >
              <ElOption value="" label="leave out" />
              <ElOption :value="OWN_NAME" label="keep under its own name" />
              <ElOption
                v-for="channel in CHANNELS"
                :key="channel"
                :value="channel"
                :label="channelTitle(channel)"
                :disabled="takenElsewhere(channel, header)"
              />
            </ElSelect>
            <ChoiceSelect
              v-if="mapping[header] && !isKept(header)"
              :model-value="mapping[header]!.unit"
              :name="`Unit of ${header}`"
              @update:model-value="setUnit(header, $event)"
              :choices="unitsOf(mapping[header]!.channel).map((unit) => ({ value: unit, label: unit || 'no unit' }))"
            />
          </th>
        </tr>
      </thead>
      <tbody class="figures">
        <tr v-for="(row, r) in props.layout.rows.slice(0, 6)" :key="r">
          <td
            v-for="(header, c) in props.layout.headers"
            :key="header"
            :class="{ open: !mapping[header] || isKept(header) }"
          >
            {{ row[c] ?? '' }}
          </td>
        </tr>
      </tbody>
    </table>
  </div>
</template>

<style scoped>
.scroll {
  overflow-x: auto;
  border: 1px solid var(--line);
  border-radius: 4px;
}
table {
  border-collapse: collapse;
  width: 100%;
}
th,
td {
  padding: 6px 8px;
  text-align: left;
  vertical-align: top;
  min-width: 132px;
  border-left: 1px solid var(--line);
}
td {
  padding-block: 2px;
  border-top: 1px solid var(--line);
}
.header {
  max-width: 200px;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
  margin-bottom: 4px;
}

.guess {
  font-size: 11.5px;
  color: var(--lean);
}
.open {
  background: var(--paper);
  color: var(--soft);
}
th :deep(.el-select) {
  display: block;
  margin-top: 4px;
}
</style>
