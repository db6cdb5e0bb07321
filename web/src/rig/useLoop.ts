import { computed, ref, shallowRef, watch } from 'vue'
import {
  factorBetween,
  fieldRuns,
  measuredFlatness,
  predictLambda,
  provePrediction,
  suggestChange,
  type FieldOptions,
  type Matrix,
  type RunInfo,
  type SparseMatrix,
  type SuggestedChange,
} from '@yuzumix/core'
import { api } from '@/api/client'
import { sayProblem } from '@/api/say'
import { useMadeOn } from '@/parts/desk/useMadeOn'
import { useFieldOptions } from '@/job/useFieldOptions'
import { useJob } from '@/job/openJob'
import { useField } from '@/workers/useField'
import type { Bench } from './useBench'
import { useControllerRows, type ControllerRow } from './useControllerRows'

/** ms that an engine may take to come to rest before a write. */
const REST_WITHIN = 20_000
const AT_REST = 400

/**
 * Measure, correct, repeat: runs of the newest set make the field, a change of it becomes a revision that is written to the
 * bench, and the next set's field is held against what was predicted. Everything is told by what the job holds, so it goes
 * on where it was after a reload.
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
  const set = computed(() => open.sets.at(-1) ?? null)
  const same = (before: RunInfo[] | undefined, now: RunInfo[]): RunInfo[] =>
    before && before.length === now.length && before.every((run, k) => run === now[k]) ? before : now
  const runs = computed<RunInfo[]>((before) =>
    same(before, open.job && set.value ? fieldRuns(open.job.mixture, set.value.id, open.runs) : []),
  )
  /** Runs that the latest revisions rest on, where the newest set does not hold them: the pass before. */
  const basis = computed<RunInfo[]>((before) => {
    const ids = new Set(rows.value.flatMap((row) => row.own?.info.revisions.at(-1)?.runs ?? []))
    return same(
      before,
      open.runs.filter((run) => ids.has(run.id) && run.set !== set.value?.id),
    )
  })
  const { options } = useFieldOptions(ref('solve'), grid)
  const ready = computed(() => (grid.value && hasTables.value ? options.value : null))
  const { field: basisField } = useField(() => open.job!.id, basis, ready)
  // A loop that an earlier pass showed stays in the controller, though this one may not show it.
  const withZones = computed<FieldOptions | null>(
    () => ready.value && { ...ready.value, knownZones: basisField.value?.heldZones ?? [] },
  )
  const made = useMadeOn(runs)
  const { field, problem: fieldProblem, busy } = useField(() => open.job!.id, made.runs, withZones)

  const flatness = computed(() => field.value && measuredFlatness(field.value))
  const changes = computed<{ row: ControllerRow; change: SuggestedChange }[]>(() => {
    const since = made.since.value
    if (!field.value || !since) return []
    try {
      return rows.value.flatMap((row) =>
        row.own
          ? [{ row, change: suggestChange(row.own.info.table, field.value!, undefined, row.inside.cylinder, since) }]
          : [],
      )
    } catch (error) {
      problem.value = (error as Error).message
      return []
    }
  })
  const changed = computed(() =>
    changes.value.flatMap(({ change }) => change.nodes.flat().filter((node) => node.changePct !== 0)),
  )

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
    if (!basisField.value || !field.value) return null
    const before = basisField.value
    const predicted = new Map<number, SparseMatrix>()
    for (const { own, inside } of rows.value) {
      const parent = own && parents.value.get(own.info.id)
      if (!own || !parent) return null
      const { table } = own.info
      const factors = table.values.map((row, r) => row.map((value, k) => factorBetween(parent[r]![k]!, value, table)))
      for (const { cylinder } of before.cylinders)
        if (inside.cylinder === null || inside.cylinder === cylinder)
          predicted.set(cylinder, predictLambda(before, inside.cylinder === null ? cylinder : inside.cylinder, factors))
    }
    return provePrediction(predicted, field.value)
  })
  /** Runs were made before the table that is in the controller now: they say nothing of it. */
  const isStale = computed(() => {
    const latest = rows.value.flatMap((row) => (row.own ? [row.own.info.revisions.at(-1)!] : []))
    const first = runs.value[0]
    return first !== undefined && latest.some((one) => one.parent !== null && one.createdAt > first.createdAt)
  })
  /** Which pass this is, from 1. */
  const pass = computed(() => {
    const passes = open.sets.filter((one) => /^Pass \d+$/.test(one.name)).length
    return Math.max(1, passes)
  })

  async function guarded(what: string, work: () => Promise<void>): Promise<void> {
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

  const beginSet = (n: number): Promise<void> =>
    open.addSet({
      name: `Pass ${n}`,
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
  const begin = (): Promise<void> =>
    guarded('set', () => beginSet(open.sets.some((one) => one.name === 'Pass 1') ? pass.value + 1 : 1))

  /** The engine comes to rest: this controller takes no write while it runs. */
  async function rest(): Promise<void> {
    bench.set({ throttle: 0, ignition: false, fuel: false })
    for (const until = performance.now() + REST_WITHIN; (bench.sample.value?.rpm ?? 0) > AT_REST;) {
      if (performance.now() > until)
        throw new Error('The engine does not come to rest. Stop it by hand, then write again.')
      await new Promise((done) => setTimeout(done, 100))
    }
  }
  /** Saves the change as revisions, writes them, and opens the next pass. */
  const correct = (): Promise<void> =>
    guarded('write', async () => {
      const rests = runs.value.map((run) => run.id)
      for (const { row, change } of changes.value) {
        const { info } = row.own!
        open.putTable(
          await api.addRevision(open.job!.id, info.id, {
            values: change.values,
            parent: info.revisions.at(-1)!.n,
            reason: `Guided loop, after pass ${pass.value}`,
            runs: rests,
          }),
        )
      }
      await writeAll()
      await beginSet(pass.value + 1)
    })
  async function writeAll(): Promise<void> {
    await rest()
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
    flatness,
    changes,
    changed,
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
