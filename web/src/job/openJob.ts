import { defineStore } from 'pinia'
import { computed, ref, shallowRef } from 'vue'
import {
  isRefusal,
  fieldSet,
  type Job,
  type JobPart,
  type JobChange,
  type MixtureSettings,
  type NewSet,
  type RunInfo,
  type RunSet,
  type SetChange,
  type TableInfo,
  fuelTables,
} from '@yuzumix/core'
import { api } from '@/api/client'
import { withReason } from '@/api/withReason'
import { keepSame } from './keepSame'
import { saver, type Saver } from './saver'

/**
 * The job that is open: its facts, runs and tables, as the server has them. The one owner of that state: an answer that
 * comes when another job is open is dropped, and what was chosen is saved under the job it was chosen in.
 */
export const useJob = defineStore('job', () => {
  const job = ref<Job | null>(null)
  const sets = shallowRef<RunSet[]>([])
  const runs = shallowRef<RunInfo[]>([])
  const tables = shallowRef<TableInfo[]>([])
  const state = ref<'loading' | 'ready' | 'missing' | 'failed'>('loading')
  const problem = ref('')
  /** acts under way, and whether the last one failed */
  const acting = ref(0)
  const failed = ref(false)
  /** what is typed and not saved yet, by where it stands: said in words */
  const unsaved = ref(new Map<string, string>())
  const isOpen = (id: string): boolean => job.value?.id === id
  const choices: Saver<JobChange> = saver(
    async (id: string, change: JobChange) => {
      // What can hurt wants a reason; left without one, it is as it was.
      const now = (await withReason((override) => api.changeJob(id, { ...change, override }))) ?? (await api.job(id))
      if (isOpen(id)) job.value = { ...now, ...choices.pending(id, false) } as Job
    },
    (error) => (problem.value = error.message),
  )
  /** One word for the whole page: what is typed and not saved goes first. */
  const saving = computed<'saved' | 'saving' | 'failed' | 'unsaved'>(() => {
    if (failed.value || choices.state.value === 'failed') return 'failed'
    if (acting.value > 0 || choices.state.value !== 'saved') return 'saving'
    return unsaved.value.size > 0 ? 'unsaved' : 'saved'
  })
  /** Says that something is typed and not saved; an empty text takes that back. */
  function notSaved(where: string, text: string): void {
    if ((unsaved.value.get(where) ?? '') === text) return
    const next = new Map(unsaved.value)
    if (text) next.set(where, text)
    else next.delete(where)
    unsaved.value = next
  }

  const ownFuelTables = computed(() => fuelTables(tables.value))

  /** set looked at in Baseline; empty for the one the field stands on */
  const chosenSet = ref('')
  /** The set the field stands on, and the one looked at. */
  const setOfField = computed(() => (job.value ? fieldSet(job.value.mixture, sets.value, runs.value) : null))
  const set = computed(
    () =>
      sets.value.find((one) => one.id === chosenSet.value) ??
      sets.value.find((one) => one.id === setOfField.value) ??
      sets.value.at(-1) ??
      null,
  )

  /** What a cylinder is called, as said at the rig: front, left, or its number. */
  const cylinderName = (n: number): string => job.value?.rigging?.cylinderNames?.[n - 1] || `cylinder ${n}`

  let round = 0
  async function load(id: string): Promise<void> {
    const mine = ++round
    if (!isOpen(id)) {
      void choices.flush()
      ;[job.value, sets.value, runs.value, tables.value, chosenSet.value] = [null, [], [], [], '']
      unsaved.value = new Map()
      failed.value = false
    }
    state.value = 'loading'
    try {
      const [found, foundSets, foundRuns, foundTables] = await Promise.all([
        api.job(id),
        api.sets(id),
        api.runs(id),
        api.tables(id),
      ])
      // The address may name another job by now.
      if (mine !== round) return
      ;[job.value, sets.value, runs.value, tables.value] = [found, foundSets, foundRuns, foundTables]
      state.value = 'ready'
    } catch (error) {
      if (mine !== round) return
      state.value = isRefusal(error, 'not-found') ? 'missing' : 'failed'
      problem.value = (error as Error).message
    }
  }

  /** what was asked for last of each part: an answer to an older question is dropped */
  const rounds = { job: 0, runs: 0, tables: 0 }
  async function reloadPart<T>(part: keyof typeof rounds, ask: (id: string) => Promise<T>, take: (found: T) => void) {
    const { id } = job.value!
    const mine = ++rounds[part]
    const found = await ask(id)
    if (isOpen(id) && mine === rounds[part]) take(found)
  }
  /** Runs and the sets they are in; both change together. */
  const reloadRuns = (): Promise<void> =>
    reloadPart(
      'runs',
      (id) => Promise.all([api.runs(id), api.sets(id)]),
      ([foundRuns, foundSets]) => {
        runs.value = keepSame(runs.value, foundRuns)
        sets.value = keepSame(sets.value, foundSets)
      },
    )
  const reloadTables = (): Promise<void> =>
    reloadPart('tables', api.tables, (found) => (tables.value = keepSame(tables.value, found)))
  /** Asks anew for what changed, here or elsewhere. */
  async function reload(parts: readonly JobPart[]): Promise<void> {
    // Before the job is here there is nothing to bring up to date.
    if (!job.value || state.value !== 'ready') return
    const has = (...some: JobPart[]): boolean => some.some((part) => parts.includes(part))
    await Promise.all([
      has('job') && reloadPart('job', api.job, putJob),
      has('runs', 'sets') && reloadRuns(),
      has('tables') && reloadTables(),
    ])
  }

  /** Makes a set. @param isLookedAt whether Baseline goes there; @returns its id */
  async function addSet(set: NewSet, isLookedAt = true): Promise<string> {
    const { id } = job.value!
    const made = await saved(() => api.addSet(id, set))
    if (isOpen(id)) {
      sets.value = [...sets.value, made]
      if (isLookedAt) chosenSet.value = made.id
    }
    return made.id
  }

  async function changeSet(id: string, change: SetChange): Promise<void> {
    const own = job.value!.id
    const set = await saved(() => api.changeSet(own, id, change))
    if (!isOpen(own)) return
    sets.value = sets.value.map((one) => (one.id === id ? set : one))
    // Where the sensor sat goes with the runs.
    if (change.sensorPlace !== undefined) await reloadRuns()
  }

  async function deleteSet(id: string): Promise<void> {
    const own = job.value!.id
    await saved(() => api.deleteSet(own, id))
    if (isOpen(own)) await reloadRuns()
  }

  /** Does an act that stores something; until it is stored the page says so. */
  async function saved<T>(act: () => Promise<T>): Promise<T> {
    acting.value++
    try {
      const result = await act()
      failed.value = false
      return result
    } catch (error) {
      failed.value = true
      throw error
    } finally {
      acting.value--
    }
  }

  function putTable(table: TableInfo): void {
    if (!isOpen(table.job)) return
    const at = tables.value.findIndex((one) => one.id === table.id)
    tables.value = at < 0 ? [...tables.value, table] : tables.value.map((one, k) => (k === at ? table : one))
  }

  /** Takes the job as the server answered it; what was chosen since it was asked stays chosen. */
  function putJob(now: Job): void {
    if (isOpen(now.id)) job.value = keepSame(job.value, { ...now, ...choices.pending(now.id) } as Job)
  }
  /** A table of its own with the values that another holds now. */
  async function copyTable({ job: own, cylinder, table, name: of }: TableInfo, name: string): Promise<void> {
    putTable(await saved(() => api.addTable(own, { name, cylinder, table, reason: `As ${of} was` })))
  }

  /** Saves facts at once, of the open job or of one that is being left; rejects with a Refusal. */
  async function change(facts: JobChange, id = job.value!.id): Promise<void> {
    const asked = await saved(() => withReason((override) => api.changeJob(id, { ...facts, override })))
    putJob(asked ?? (await api.job(id)))
  }

  /** Takes choices now, and saves them when they have come to rest, or when the job is left. */
  function choose(facts: JobChange): void {
    if (!job.value) return
    job.value = { ...job.value, ...facts } as Job
    choices.later(job.value.id, facts)
  }
  /** Choices of the mixture stage. */
  function chooseMixture(choice: Partial<MixtureSettings>): void {
    if (job.value) choose({ mixture: { ...job.value.mixture, ...choice } })
  }
  // A page that is closed takes nothing with it.
  if (typeof window !== 'undefined') window.addEventListener('pagehide', () => void choices.flush())

  return {
    job,
    sets,
    set,
    chosenSet,
    setOfField,
    runs,
    tables,
    fuelTables: ownFuelTables,
    cylinderName,
    state,
    problem,
    saving,
    unsaved,
    notSaved,
    flush: choices.flush,
    saved,
    choose,
    load,
    reload,
    reloadRuns,
    addSet,
    changeSet,
    deleteSet,
    putTable,
    putJob,
    reloadTables,
    copyTable,
    change,
    chooseMixture,
  }
})
