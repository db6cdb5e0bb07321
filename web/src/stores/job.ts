import { defineStore } from 'pinia'
import { computed, ref, shallowRef } from 'vue'
import type { Job, JobChange, MixtureSettings, RunInfo, TableInfo } from '@yuzumix/core'
import { api, ProblemError } from '@/api/client'

const SAVE_AFTER = 500

/** The job that is open: its facts, runs and tables, as the server has them. */
export const useJob = defineStore('job', () => {
  const job = ref<Job | null>(null)
  const runs = shallowRef<RunInfo[]>([])
  const tables = shallowRef<TableInfo[]>([])
  const state = ref<'loading' | 'ready' | 'missing' | 'failed'>('loading')
  const problem = ref('')
  const saving = ref<'saved' | 'saving' | 'failed'>('saved')

  const fuelTables = computed(() => tables.value.filter((one) => one.table.kind.startsWith('fuel')))

  async function open(id: string): Promise<void> {
    if (job.value?.id !== id) [job.value, runs.value, tables.value] = [null, [], []]
    state.value = 'loading'
    try {
      const [found, foundRuns, foundTables] = await Promise.all([api.job(id), api.runs(id), api.tables(id)])
      ;[job.value, runs.value, tables.value] = [found, foundRuns, foundTables]
      state.value = 'ready'
    } catch (error) {
      state.value = error instanceof ProblemError && error.status === 404 ? 'missing' : 'failed'
      problem.value = (error as Error).message
    }
  }

  async function reloadRuns(): Promise<void> {
    runs.value = await api.runs(job.value!.id)
  }

  function putTable(table: TableInfo): void {
    const at = tables.value.findIndex((one) => one.id === table.id)
    tables.value = at < 0 ? [...tables.value, table] : tables.value.map((one, k) => (k === at ? table : one))
  }

  /** Saves facts at once; rejects with a ProblemError. */
  async function change(facts: JobChange): Promise<void> {
    saving.value = 'saving'
    try {
      job.value = await api.changeJob(job.value!.id, facts)
      saving.value = 'saved'
    } catch (error) {
      saving.value = 'failed'
      throw error
    }
  }

  let timer: ReturnType<typeof setTimeout> | undefined
  /** Takes choices of the mixture stage now, and saves them when they have come to rest. */
  function chooseMixture(choice: Partial<MixtureSettings>): void {
    if (!job.value) return
    job.value = { ...job.value, mixture: { ...job.value.mixture, ...choice } }
    saving.value = 'saving'
    clearTimeout(timer)
    const { id, mixture } = job.value
    timer = setTimeout(() => {
      api.changeJob(id, { mixture }).then(
        () => (saving.value = 'saved'),
        (error: Error) => {
          saving.value = 'failed'
          problem.value = error.message
        },
      )
    }, SAVE_AFTER)
  }

  return { job, runs, tables, fuelTables, state, problem, saving, open, reloadRuns, putTable, change, chooseMixture }
})
