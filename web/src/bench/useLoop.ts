import { computed, ref } from 'vue'
import { fieldRuns, loopQuestion, passNumber, passSets, type RunInfo, setsFuel } from '@yuzumix/core'
import { api } from '@/api/client'
import { loader } from '@/job/loader'
import { useJob } from '@/job/openJob'
import { useQuestion } from '@/job/useQuestion'
import { questionWorker } from '@/workers/connect'
import { useAnswer } from '@/workers/useAnswer'
import type { Bench } from './useBench'
import { useControllerRows } from './useControllerRows'

/**
 * Measure, correct, repeat: runs of the newest set make the field, the change that the loop's step asks for becomes a
 * revision of each table that is written to the bench, and the next pass is held against what was predicted. Everything is
 * told by what the job holds, so it goes on where it was after a reload.
 */
export function useLoop(bench: Bench, connect = questionWorker) {
  const open = useJob()
  const all = useControllerRows(bench)
  const rows = computed(() => all.value.filter((row) => setsFuel(row.inside.table)))
  const problem = ref('')
  const working = ref('')

  const hasTables = computed(() => rows.value.length > 0 && rows.value.every((row) => row.own !== null))
  const set = computed(() => passSets(open.sets).at(-1) ?? null)
  /** Which pass this is, from 1. */
  const pass = computed(() => passNumber(set.value ?? undefined))
  /** Runs of this pass, whatever state they were made on. */
  const runs = computed<RunInfo[]>(() =>
    open.job && set.value ? fieldRuns(open.job.mixture, set.value.id, open.runs) : [],
  )
  const ids = computed(() => rows.value.flatMap((row) => row.own?.info.id ?? []))
  const { question, fault } = useQuestion(
    (ground) => (hasTables.value ? loopQuestion(ground, loader, { tables: ids.value }) : null),
    () => [hasTables.value, ids.value.join()],
  )
  const work = useAnswer(() => open.job!.id, 'loop', question, connect)
  const told = computed(() => (question.value && work.answer.value) || null)
  const field = computed(() => told.value?.field ?? null)
  const step = computed(() => told.value?.step ?? null)
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
        runs: question.value!.field.runs.map((run) => run.id),
      }))
      for (const table of await api.addRevisions(open.job!.id, { revisions })) open.putTable(table)
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
    busy: work.busy,
    flatness: computed(() => step.value?.flatness ?? null),
    changed: computed(() => step.value?.changed ?? []),
    /** what the pass before predicted against what this one measured */
    proof: computed(() => told.value?.proof ?? null),
    isStale,
    /** tables of the job that are not in the controller as they are */
    unwritten: computed(() => rows.value.filter((row) => row.own && row.own.differ > 0)),
    problem: computed(() => problem.value || fault.value || work.problem.value || told.value?.note || ''),
    working,
    takeIn,
    begin,
    correct,
    write,
  }
}
