<script setup lang="ts">
import { ElButton, ElInput } from 'element-plus'
import { computed, ref } from 'vue'
import { LOAD_UNITS, judgeTipIn, OPENING_ROWS, tipInTarget } from '@yuzumix/core'
import { api } from '@/api/client'
import { notifyDone, notifyProblem } from '@/api/notify'
import NumberBox from '@/parts/numbers/NumberBox.vue'
import { useJob } from '@/job/openJob'
import DropLogs from '@/parts/intake/DropLogs.vue'
import { useDisplay } from '@/stores/display'
import type { Jetting } from './useJetting'
import { counted, plain } from '@/parts/numbers/format'

/** Readings by opening with what is fitted now: typed from a gauge, or out of logs. */
const props = defineProps<{ jetting: Jetting }>()
const open = useJob()
const display = useDisplay()
const { settings, present, axis, carburettor, readings, warnings, tipIn } = props.jetting
const tip = computed(() => tipIn.value[carburettor.value] ?? null)
const wanted = computed(() => tipInTarget(settings.value))
const tipWord = computed(() => (tip.value ? judgeTipIn(tip.value.leanest, wanted.value) : ''))
const ROWS = { throttle: OPENING_ROWS.filter((one) => one >= 5), manifold: [30, 40, 50, 60, 70, 80, 90, 100] }
const openings = computed(() => ROWS[axis.value as 'throttle' | 'manifold'])
const rpm = ref(4500)
const typed = ref<Record<string, string>>({})
const working = ref(false)
const rows = computed(() => readings.value.get(present.value?.id ?? '')?.[carburettor.value] ?? [])
const filled = computed(() =>
  openings.value.flatMap((load) => {
    const cells = settings.value.carburettors.map((_, k) => typed.value[`${load}:${k}`]?.trim() ?? '')
    return cells.some(Boolean) ? [{ rpm: rpm.value, load, readings: cells }] : []
  }),
)

async function add(): Promise<void> {
  working.value = true
  try {
    await api.addHandReadings(open.job!.id, {
      set: present.value!.id,
      loadAxis: axis.value as 'throttle' | 'manifold',
      readings: filled.value,
    })
    await open.reloadRuns()
    typed.value = {}
    notifyDone('The readings are a run of this fitting now.')
  } catch (error) {
    notifyProblem(error)
  } finally {
    working.value = false
  }
}
/** Enter goes on to the next cell down, and adds from the last one. */
function next(event: KeyboardEvent): void {
  const all = [...(event.currentTarget as HTMLElement).querySelectorAll('input[data-cell]')] as HTMLInputElement[]
  const at = all.indexOf(event.target as HTMLInputElement)
  if (at < 0) return
  event.preventDefault()
  if (event.ctrlKey || at === all.length - 1) void add()
  else all[at + 1]!.focus()
}
</script>

<template>
  <div class="panel" @keydown.enter="next">
    <p v-for="warning in warnings" :key="warning" class="alarm" role="alert">{{ warning }}</p>
    <p v-if="!present" class="soft">Say under Parts what is fitted first.</p>
    <template v-else>
      <h3>Type what the gauge shows</h3>
      <p class="soft small">AFR or lambda, one figure or a range such as 13.1-13.3; empty where nothing was read.</p>
      <label class="line"
        >At
        <NumberBox v-model="rpm" name="Engine speed of the readings in rpm" :least="500" :most="20000" :step="500" />
        rpm</label
      >
      <table>
        <thead>
          <tr>
            <th scope="col">{{ axis === 'throttle' ? 'throttle' : 'manifold' }}</th>
            <th v-for="one in settings.carburettors" :key="one.name" scope="col">{{ one.name }}</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="load in openings" :key="load">
            <th scope="row" class="figures">{{ load }} {{ LOAD_UNITS[axis] }}</th>
            <td v-for="(one, k) in settings.carburettors" :key="k">
              <ElInput
                v-model="typed[`${load}:${k}`]"
                size="small"
                data-cell
                :aria-label="`${one.name} at ${load} ${LOAD_UNITS[axis]}`"
              />
            </td>
          </tr>
        </tbody>
      </table>
      <ElButton type="primary" size="small" :disabled="filled.length === 0" :loading="working" @click="add"
        >Add {{ filled.length }} {{ filled.length === 1 ? 'reading' : 'readings' }}</ElButton
      >
      <h3>Or add logs</h3>
      <DropLogs compact />
      <p v-if="tip" class="figures">
        Tip-in, {{ counted(tip.count, 'opening') }}: leanest {{ display.mixture(tip.leanest) }}
        {{ display.mixtureUnit }}, {{ tipWord }}; {{ display.mixture(wanted.wanted) }} is wanted.
      </p>
      <template v-if="rows.length">
        <h3>Read with this fitting</h3>
        <ul class="figures">
          <li v-for="row in rows" :key="row.opening">
            <span>{{ Math.round(100 * row.opening) }} {{ LOAD_UNITS[axis] }}</span>
            <span>{{ display.mixture(row.lambda) }} {{ display.mixtureUnit }}</span>
            <span class="soft">± {{ plain(164.5 * row.error, 1) }} %</span>
          </li>
        </ul>
      </template>
    </template>
  </div>
</template>

<style scoped>
.panel {
  display: grid;
  gap: 8px;
  justify-items: start;
}
.line {
  display: flex;
  gap: 8px;
  align-items: center;
}
th {
  padding: 2px 12px 2px 0;
  font-weight: 400;
  text-align: left;
  color: var(--soft);
}
td {
  padding: 2px 8px 2px 0;
}
ul {
  list-style: none;
  margin: 0;
  padding: 0;
}
li {
  display: grid;
  grid-template-columns: 70px 110px auto;
  font-size: 13px;
}
.alarm {
  padding: 8px 10px;
  border-left: 4px solid var(--alarm);
}
</style>
