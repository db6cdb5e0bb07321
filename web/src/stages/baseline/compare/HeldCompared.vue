<script setup lang="ts">
import WorkStatus from '@/parts/frame/WorkStatus.vue'
import { computed } from 'vue'
import type { Filters, LoadGrid, RunInfo } from '@yuzumix/core'
import { grouped } from '@/parts/numbers/format'
import { useJob } from '@/job/openJob'
import { useHeldZones } from './useHeldZones'

const props = defineProps<{ grid: LoadGrid; filters: Filters; sets: string[] }>()
const open = useJob()

const mine = computed(() => open.sets.filter((set) => props.sets.includes(set.id)))
const asked = computed(() => ({
  sets: mine.value.map((set) => ({
    id: set.id,
    runs: open.runs.filter((run: RunInfo) => run.set === set.id),
  })),
  grid: props.grid,
  filters: props.filters,
}))
const { zones, busy, slow, problem, cancel } = useHeldZones(() => open.job!.id, asked)
const rows = computed(() => {
  const loads = [...new Set(Object.values(zones.value).flatMap((list) => list.map((one) => Math.round(one.load))))]
  return loads.sort((a, b) => b - a)
})
const text = (set: string, load: number): string =>
  (zones.value[set] ?? [])
    .filter((one) => Math.round(one.load) === load)
    .map((one) => `${grouped(one.fromRpm)} to ${grouped(one.toRpm)}`)
    .join(', ') || 'not held'
</script>

<template>
  <div class="panel">
    <p class="soft">
      Where the controller holds the mixture, by throttle opening; the second figure is the rpm where it lets go. A fuel
      change does nothing inside.
    </p>
    <WorkStatus v-if="busy" busy :slow="slow" doing="Looking …" @stop="cancel()" />
    <p v-else-if="problem" role="alert">{{ problem }}</p>
    <p v-else-if="rows.length === 0">No held zone was found in these sets.</p>
    <table v-else>
      <thead>
        <tr>
          <th scope="col">{{ grid.loadAxis === 'throttle' ? 'Throttle, %' : 'Manifold, kPa' }}</th>
          <th v-for="set in mine" :key="set.id" scope="col">{{ set.name }}, rpm</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="load in rows" :key="load">
          <td class="figures">{{ load }}</td>
          <td v-for="set in mine" :key="set.id" class="figures">{{ text(set.id, load) }}</td>
        </tr>
      </tbody>
    </table>
  </div>
</template>

<style scoped>
.panel {
  display: grid;
  gap: 8px;
}
table {
  width: 100%;
  border-collapse: collapse;
  font-size: 13px;
}
th {
  text-align: left;
  color: var(--soft);
  font-weight: 400;
}
td,
th {
  padding: 3px 4px;
  border-bottom: 1px solid var(--line);
}
</style>
