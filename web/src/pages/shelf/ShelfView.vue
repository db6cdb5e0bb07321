<script setup lang="ts">
import dayjs from 'dayjs'
import { ElButton, ElInput } from 'element-plus'
import { computed, onMounted, ref, shallowRef } from 'vue'
import { RouterLink } from 'vue-router'
import type { Shelf } from '@yuzumix/core'
import { api } from '@/api/client'
import { notifyProblem } from '@/api/notify'
import { counted, plain } from '@/parts/numbers/format'

/** Calibrations kept from earlier jobs. */
const shelf = shallowRef<Shelf[] | null>(null)
const problem = ref('')
const wanted = ref('')
const shown = computed(() => {
  const words = wanted.value.trim().toLowerCase()
  return (shelf.value ?? []).filter(
    (one) => !words || `${one.name} ${one.job} ${one.machine?.name ?? ''}`.toLowerCase().includes(words),
  )
})
async function load(): Promise<void> {
  try {
    ;[shelf.value, problem.value] = [await api.shelf(), '']
  } catch (error) {
    problem.value = (error as Error).message
  }
}
onMounted(load)
const contents = ({ table, jets }: Shelf): string =>
  [
    table && `${table.kind}, ${table.rpm.length} × ${table.load.length}`,
    jets && counted(jets.settings.carburettors.length, 'carburettor'),
  ]
    .filter(Boolean)
    .join('; ')
const dropping = ref('')
async function drop(id: string): Promise<void> {
  try {
    await api.dropShelf(id)
    await load()
  } catch (error) {
    notifyProblem(error)
  }
}
</script>

<template>
  <main class="shelf">
    <div class="bar">
      <h1>Shelf</h1>
      <ElInput v-model="wanted" clearable placeholder="Search the shelf" aria-label="Search the shelf" class="search" />
    </div>
    <p v-if="problem" role="alert">{{ problem }} <ElButton size="small" @click="load">Try again</ElButton></p>
    <p v-else-if="shelf === null" class="soft" role="status">Looking …</p>
    <p v-else-if="shelf.length === 0">
      Nothing is kept yet. At Hand-over of a job "Keep on the shelf" keeps its table as the start for the next machine
      like it. <RouterLink to="/">To the jobs</RouterLink>
    </p>
    <div v-else class="wide" role="region" aria-label="What is kept" tabindex="0">
      <table>
        <thead>
          <tr>
            <th scope="col">Name</th>
            <th scope="col">Machine</th>
            <th scope="col">Fuel</th>
            <th scope="col">What</th>
            <th scope="col">Proven</th>
            <th scope="col">Kept</th>
            <th scope="col"><span class="sr-only">Acts</span></th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="one in shown" :key="one.id">
            <td><strong>{{ one.name }}</strong><br /><span class="soft">from {{ one.job }}</span></td>
            <td>{{ one.machine?.name ?? 'not named' }}</td>
            <td>
              {{
                one.fuelSold?.ethanolPct != null ? `${one.fuelSold.ethanolPct} % ethanol` : (one.fuel?.id ?? 'not said')
              }}
            </td>
            <td class="figures">{{ contents(one) }}</td>
            <td class="figures">
              {{ one.proven.rmsPct === null ? 'not' : `${plain(one.proven.rmsPct, 1)} % over ${one.proven.runs} runs` }}
            </td>
            <td class="figures">{{ dayjs(one.at).format('D MMM YYYY') }}</td>
            <td>
              <ElButton v-if="dropping !== one.id" size="small" @click="dropping = one.id">Take off</ElButton>
              <ElButton v-else size="small" type="danger" @click="drop(one.id)">Take off for good</ElButton>
            </td>
          </tr>
        </tbody>
      </table>
    </div>
  </main>
</template>

<style scoped>
.shelf {
  padding: 24px 32px;
  display: grid;
  gap: 16px;
  align-content: start;
}
.bar {
  display: flex;
  gap: 24px;
  align-items: center;
}
.search {
  max-width: 280px;
}
.wide {
  position: relative;
  min-width: 0;
  overflow-x: auto;
}
@media (max-width: 700px) {
  .shelf {
    padding: 16px 12px;
    grid-template-columns: minmax(0, 1fr);
  }
}
table {
  width: 100%;
  border-collapse: collapse;
  background: var(--panel);
  border: 1px solid var(--line);
}
th,
td {
  text-align: left;
  padding: 8px 12px;
  border-bottom: 1px solid var(--line);
}
th {
  color: var(--soft);
  font-weight: 400;
}
</style>
