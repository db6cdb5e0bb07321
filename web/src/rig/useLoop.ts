import { computed, ref, shallowRef, watch } from 'vue'
import {
  fieldRuns,
  loopStep,
  madeOnNewest,
  passNumber,
  passSets,
  proveStep,
  type LoopStep,
  type Matrix,
  type RunInfo,
} from '@yuzumix/core'
import { api } from '@/api/client'
import { sayProblem } from '@/api/say'
import { useJob } from '@/job/openJob'
import { useCorrected } from '@/job/useCorrected'
import { useFieldOptions } from '@/job/useFieldOptions'
import { useMadeOn } from '@/parts/desk/useMadeOn'
import { usePassFields } from '@/workers/usePassFields'
import type { Bench } from './useBench'
import { useControllerRows } from './useControllerRows'

/**
 * Measure, correct, repeat: runs of the newest set make the field, the change that the loop's step asks for becomes a
 * revision of each table that is written to the bench, and the next pass is held against what was predicted. Everything is
 * told by what the job holds, so it goes on where it was after a reload.
 */
export function useLoop(bench: Bench) {
  const open = useJob()
  const all = useControllerRows(bench)
  const rows = computed(() => all.value.filter((row) => row.inside.table.kind.startsWith('fuel')))
  const problem = ref('')
  const working = ref('')

  const hasTables = computed(() => rows.value.length > 0 && rows.value.every((row) => row.own !== null))
  const grid = computed(() => {
    const table = rows.value[0]?.own?.info.table
    return table ? { loadAxis: table.loadAxis, rpm: table.rpm, load: table.load } : null
  })
  const sets = computed(() => passSets(open.sets))
  const set = computed(() => sets.value.at(-1) ?? null)
  /** Which pass this is, from 1. */
  const pass = computed(() => passNumber(set.value ?? undefined))
  const runsOf = (id: string): RunInfo[] => (open.job ? fieldRuns(open.job.mixture, id, open.runs) : [])
  const same = (before: RunInfo[] | undefined, now: RunInfo[]): RunInfo[] =>
    before && before.length === now.length && before.every((run, k) => run === now[k]) ? before : now
  const runs = computed<RunInfo[]>((before) => same(before, set.value ? runsOf(set.value.id) : []))
  const made = useMadeOn(runs)
  /** Runs of each pass, this one last; a pass in which nothing was run tells nothing. */
  const passes = computed<RunInfo[][]>((before) => {
    const earlier = sets.value.slice(0, -1).map((one) => madeOnNewest(runsOf(one.id), open.fuelTables).runs)
    const now = [...earlier, made.runs.value].filter((one) => one.length > 0)
    const isSame = before?.length === now.length && now.every((list, k) => same(before[k], list) === before[k])
    return isSame ? before! : now
  })
  const { options } = useFieldOptions(ref('solve'), grid, true)
  const ready = computed(() => (grid.value && hasTables.value ? options.value : null))
  const { fields, problem: fieldProblem, busy } = usePassFields(() => open.job!.id, passes, ready, useCorrected(passes))
  const isMeasured = computed(() => made.runs.value.length > 0)
  const field = computed(() => (isMeasured.value ? (fields.value.at(-1) ?? null) : null))
  const basisField = computed(() => (isMeasured.value ? (fields.value.at(-2) ?? null) : null))

  const tables = computed(() =>
    rows.value.flatMap(({ own, inside }) => (own ? [{ cylinder: inside.cylinder, table: own.info.table }] : [])),
  )
  const step = computed<LoopStep | null>(() => {
    if (!field.value || !hasTables.value) return null
    try {
      return loopStep(field.value, tables.value, made.since.value)
    } catch (error) {
      problem.value = (error as Error).message
      return null
    }
  })

  /** Values of the revisions before the latest ones, by table. */
  const parents = shallowRef(new Map<string, Matrix>())
  watch(
    () => rows.value.map((row) => `${row.own?.info.id} ${row.own?.revision}`).join(),
    async () => {
      try {
        const found = await Promise.all(
          rows.value.flatMap(({ own }) => {
            const parent = own?.info.revisions.at(-1)?.parent
            if (!own || !parent) return []
            return [
              api.revision(open.job!.id, own.info.id, parent).then((one) => [own.info.id, one.table.values] as const),
            ]
          }),
        )
        parents.value = new Map(found)
      } catch (error) {
        sayProblem(error)
      }
    },
    { immediate: true },
  )
  /** What the pass before predicted against what this one measured. */
  const proof = computed(() => {
    const corrected = rows.value.flatMap(({ own, inside }) => {
      const before = own && parents.value.get(own.info.id)
      return own && before ? [{ cylinder: inside.cylinder, table: own.info.table, before }] : []
    })
    if (!basisField.value || !field.value || corrected.length < rows.value.length) return null
    return proveStep(basisField.value, corrected, field.value)
  })
  /** Runs were made before the table that is in the controller now: they say nothing of it. */
  const isStale = computed(() => {
    const latest = rows.value.flatMap((row) => (row.own ? [row.own.info.revisions.at(-1)!] : []))
    const first = runs.value[0]
    return first !== undefined && latest.some((one) => one.parent !== null && one.createdAt > first.createdAt)
  })
  async function guarded(what: string, work: () => Promise<unknown>): Promise<void> {
    working.value = what
    problem.value = ''
    try {
      await work()
    } catch (error) {
      problem.value = (error as Error).message
    } finally {
      working.value = ''
    }
  }

  const beginSet = (n: number): Promise<string> =>
    open.addSet({
      name: `Pass ${n}`,
      pass: n,
      ...(bench.state.value && { rig: bench.state.value.name, weather: bench.state.value.weather }),
    })

  /** Tables of the controller become tables of the job, and the first pass a set of its own. */
  const takeIn = (): Promise<void> =>
    guarded('tables', async () => {
      for (const { own, inside } of rows.value) {
        if (own) continue
        const { name, cylinder, table } = inside
        open.putTable(await api.addTable(open.job!.id, { name, cylinder, table, reason: 'As read from the bench' }))
      }
    })
  const begin = (): Promise<void> => guarded('set', () => beginSet(set.value?.pass ? pass.value + 1 : 1))

  /** Saves the change of all tables as one act, writes them, and opens the next pass. */
  const correct = (): Promise<void> =>
    guarded('write', async () => {
      const { changes } = step.value!
      const revisions = rows.value.map(({ own }, k) => ({
        table: own!.info.id,
        values: changes[k]!.values,
        parent: own!.revision,
        reason: `Guided loop, after pass ${pass.value}`,
        runs: made.runs.value.map((run) => run.id),
      }))
      for (const table of await api.addRevisions(open.job!.id, revisions)) open.putTable(table)
      await writeAll()
      await beginSet(pass.value + 1)
    })
  async function writeAll(): Promise<void> {
    await bench.rest()
    for (const row of rows.value) {
      if (!row.own || row.own.differ === 0) continue
      await bench.write(row.id, row.own.info.table.values)
      if (bench.problem.value) throw new Error(bench.problem.value)
    }
  }
  /** Writes what the job has and the controller has not: after a write that failed, or a power cut. */
  const write = (): Promise<void> => guarded('write', writeAll)

  return {
    rows,
    hasTables,
    set,
    runs,
    pass,
    field,
    busy,
    flatness: computed(() => step.value?.flatness ?? null),
    changed: computed(() => step.value?.changed ?? []),
    proof,
    isStale,
    /** tables of the job that are not in the controller as they are */
    unwritten: computed(() => rows.value.filter((row) => row.own && row.own.differ > 0)),
    problem: computed(() => problem.value || fieldProblem.value),
    working,
    takeIn,
    begin,
    correct,
    write,
  }
}
