<script setup lang="ts">
import { ElButton, ElInput } from 'element-plus'
import { computed, reactive, ref } from 'vue'
import { markName, readNumber, STRIP_MARKS, type NewPass, type Weather } from '@yuzumix/core'
import AirFields from '@/parts/numbers/AirFields.vue'

/** A slip as it was handed out, typed in: whichever marks it has. */
const props = defineProps<{ busy: boolean }>()
const emit = defineEmits<{ add: [pass: NewPass] }>()
const rows = reactive(STRIP_MARKS.map((distanceM) => ({ distanceM, time: '', speed: '' })))
const [name, reaction, note] = [ref(''), ref(''), ref('')]
const air = ref<Partial<Record<keyof Weather, number | undefined>>>({})

/** A figure that was typed; NaN for what is none, null for nothing. */
const figure = (text: string): number | null => (text.trim() ? readNumber(text) : null)
const filled = computed(() =>
  rows.flatMap(({ distanceM, time, speed }) => {
    const [timeS, speedKmh] = [figure(time), figure(speed)]
    return timeS === null && speedKmh === null ? [] : [{ distanceM, timeS, speedKmh }]
  }),
)
const isWhole = (): boolean => Object.values(air.value).filter((one) => one !== undefined).length === 3
const fault = computed(() => {
  for (const [k, { distanceM, timeS, speedKmh }] of filled.value.entries()) {
    const mark = markName(distanceM)
    if (timeS === null) return `${mark}: a speed wants its time.`
    if (!(timeS > 0) || (speedKmh !== null && !(speedKmh > 0))) return `${mark}: that is no figure.`
    const before = filled.value[k - 1]
    if (before?.timeS != null && timeS <= before.timeS) return `${mark}: times must rise from mark to mark.`
  }
  const reacted = figure(reaction.value)
  return reacted !== null && Number.isNaN(reacted) ? 'The reaction is no figure.' : ''
})
function add(): void {
  if (filled.value.length === 0 || fault.value || props.busy) return
  emit('add', {
    splits: filled.value.map(({ distanceM, timeS, speedKmh }) => ({ distanceM, timeS: timeS!, speedKmh })),
    reactionS: figure(reaction.value),
    note: note.value.trim(),
    ...(name.value.trim() && { name: name.value.trim() }),
    ...(isWhole() && { weather: air.value as Weather }),
  })
}
/** Empties the form, once its pass is kept. */
function clear(): void {
  for (const row of rows) [row.time, row.speed] = ['', '']
  ;[name.value, reaction.value, note.value] = ['', '', '']
}
defineExpose({ clear })
</script>

<template>
  <form class="slip" aria-label="A slip by hand" @submit.prevent="add">
    <table>
      <thead>
        <tr>
          <th scope="col">Mark</th>
          <th scope="col">Time, s</th>
          <th scope="col">Speed, km/h</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="row in rows" :key="row.distanceM">
          <th scope="row">{{ markName(row.distanceM) }}</th>
          <td>
            <ElInput v-model="row.time" inputmode="decimal" :aria-label="`Time at ${markName(row.distanceM)} in s`" />
          </td>
          <td>
            <ElInput
              v-model="row.speed"
              inputmode="decimal"
              :aria-label="`Speed at ${markName(row.distanceM)} in km/h`"
            />
          </td>
        </tr>
      </tbody>
    </table>
    <label>Reaction, s <ElInput v-model="reaction" inputmode="decimal" aria-label="Reaction in s" /></label>
    <label>Name <ElInput v-model="name" maxlength="120" aria-label="Name of the pass" /></label>
    <label>Note <ElInput v-model="note" maxlength="400" aria-label="Note on the pass" /></label>
    <AirFields v-model="air" />
    <p v-if="fault" class="fault" role="alert">{{ fault }}</p>
    <ElButton type="primary" native-type="submit" :loading="busy" :disabled="filled.length === 0 || fault !== ''"
      >Keep this slip</ElButton
    >
  </form>
</template>

<style scoped>
.slip {
  display: grid;
  gap: 8px;
}
table {
  border-collapse: collapse;
}
th {
  text-align: left;
  font-weight: 400;
  color: var(--soft);
}
td {
  padding: 2px 0 2px 8px;
}
label {
  display: grid;
  gap: 2px;
  color: var(--soft);
  font-size: 13px;
}
.fault {
  margin: 0;
  color: var(--alarm);
}
</style>
