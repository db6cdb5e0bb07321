<script setup lang="ts">
import { ElButton, ElDialog } from 'element-plus'
import { ref, shallowRef, watch } from 'vue'
import type { RunInfo } from '@yuzumix/core'
import { api } from '@/api/client'
import { notifyProblem } from '@/api/notify'
import { counted } from '@/parts/numbers/format'
import { useJob } from '@/job/openJob'

/** Runs that were taken out, and the way back for each. */
const open = useJob()
const runs = shallowRef<RunInfo[]>([])
const isShown = ref(false)
const busy = ref('')
async function ask(): Promise<void> {
  const id = open.job?.id
  if (!id) return
  const found = await api.takenOut(id).catch((error: unknown) => (notifyProblem(error), null))
  if (found && open.job?.id === id) runs.value = found
  if (runs.value.length === 0) isShown.value = false
}
// Whatever is taken out or put back changes the runs there are.
watch(() => open.runs, ask, { immediate: true })

async function putBack({ id }: RunInfo): Promise<void> {
  busy.value = id
  try {
    await api.changeRun(open.job!.id, id, { removed: false })
    await open.reloadRuns()
  } catch (error) {
    notifyProblem(error)
  } finally {
    busy.value = ''
  }
}
const setOf = (run: RunInfo): string => open.sets.find((set) => set.id === run.set)?.name ?? 'a set'
</script>

<template>
  <ElButton v-if="runs.length" size="small" @click="isShown = true">{{ runs.length }} taken out</ElButton>
  <ElDialog v-model="isShown" :title="`${counted(runs.length, 'run')} taken out`" width="560" append-to-body>
    <ul>
      <li v-for="run in runs" :key="run.id">
        <span><strong>{{ run.name }}</strong> <span class="soft">{{ run.kind }}, of {{ setOf(run) }}</span></span>
        <ElButton size="small" :loading="busy === run.id" :aria-label="`Put back ${run.name}`" @click="putBack(run)"
          >Put back</ElButton
        >
      </li>
    </ul>
  </ElDialog>
</template>

<style scoped>
ul {
  display: grid;
  gap: 8px;
  max-height: 50vh;
  margin: 0;
  padding: 0;
  overflow-y: auto;
  list-style: none;
}
li {
  display: flex;
  justify-content: space-between;
  gap: 12px;
  align-items: center;
}
</style>
