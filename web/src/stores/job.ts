import { defineStore } from 'pinia'
import { computed, ref, shallowRef } from 'vue'
import {
  fieldSet,
  type Job,
  type JobChange,
  type MixtureSettings,
  type NewSet,
  type RunInfo,
  type RunSet,
  type SetChange,
  type TableInfo,
} from '@yuzumix/core'
import { api, ProblemError } from '@/api/client'

const SAVE_AFTER = 500

/** The job that is open: its facts, runs and tables, as the server has them. */
export const useJob = defineStore('job', () => {
  const job = ref<Job | null>(null)
  const sets = shallowRef<RunSet[]>([])
  const runs = shallowRef<RunInfo[]>([])
  const tables = shallowRef<TableInfo[]>([])
  const state = ref<'loading' | 'ready' | 'missing' | 'failed'>('loading')
  const problem = ref('')
  const saving = ref<'saved' | 'saving' | 'failed'>('saved')

  const fuelTables = computed(() => tables.value.filter((one) => one.table.kind.startsWith('fuel')))

  /** set looked at in Baseline; empty for the one the field stands on */
  const looking = ref('')
  /** The set the field stands on, and the one looked at. */
  const setOfField = computed(() => (job.value ? fieldSet(job.value.mixture, sets.value, runs.value) : null))
  const set = computed(
    () =>
      sets.value.find((one) => one.id === looking.value) ??
      sets.value.find((one) => one.id === setOfField.value) ??
      sets.value.at(-1) ??
      null,
  )

  async function open(id: string): Promise<void> {
    if (job.value?.id !== id) [job.value, sets.value, runs.value, tables.value, looking.value] = [null, [], [], [], '']
    state.value = 'loading'
    try {
      const [found, foundSets, foundRuns, foundTables] = await Promise.all([
        api.job(id),
        api.sets(id),
        api.runs(id),
        api.tables(id),
      ])
      ;[job.value, sets.value, runs.value, tables.value] = [found, foundSets, foundRuns, foundTables]
      state.value = 'ready'
    } catch (error) {
      state.value = error instanceof ProblemError && error.status === 404 ? 'missing' : 'failed'
      problem.value = (error as Error).message
    }
  }

  /** Runs and the sets they are in; both change together. */
  async function reloadRuns(): Promise<void> {
    const { id } = job.value!
    ;[runs.value, sets.value] = await Promise.all([api.runs(id), api.sets(id)])
  }

  async function addSet(set: NewSet): Promise<void> {
    const made = await saved(() => api.addSet(job.value!.id, set))
    sets.value = [...sets.value, made]
    looking.value = made.id
  }

  async function changeSet(id: string, change: SetChange): Promise<void> {
    const set = await saved(() => api.changeSet(job.value!.id, id, change))
    sets.value = sets.value.map((one) => (one.id === id ? set : one))
    // Where the sensor sat goes with the runs.
    if (change.sensorPlace !== undefined) await reloadRuns()
  }

  async function deleteSet(id: string): Promise<void> {
    await saved(() => api.deleteSet(job.value!.id, id))
    await reloadRuns()
  }

  async function saved<T>(act: () => Promise<T>): Promise<T> {
    saving.value = 'saving'
    try {
      const result = await act()
      saving.value = 'saved'
      return result
    } catch (error) {
      saving.value = 'failed'
      throw error
    }
  }

  function putTable(table: TableInfo): void {
    const at = tables.value.findIndex((one) => one.id === table.id)
    tables.value = at < 0 ? [...tables.value, table] : tables.value.map((one, k) => (k === at ? table : one))
  }

  /** Saves facts at once; rejects with a ProblemError. */
  async function change(facts: JobChange): Promise<void> {
    job.value = await saved(() => api.changeJob(job.value!.id, facts))
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

  return {
    job,
    sets,
    set,
    looking,
    setOfField,
    runs,
    tables,
    fuelTables,
    state,
    problem,
    saving,
    open,
    reloadRuns,
    addSet,
    changeSet,
    deleteSet,
    putTable,
    change,
    chooseMixture,
  }
})
