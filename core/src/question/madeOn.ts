import type { RunInfo } from '../run/runInfo'
import type { TableInfo } from '../contract/table'

type Made = Pick<RunInfo, 'revisions' | 'createdAt'>
type Revised = Pick<TableInfo, 'id' | 'revisions'>

/**
 * Revision of a table that was in force while a run was made: as it was bound, else the latest at the time; the first
 * where the table came later than the run.
 */
export function revisionOf(run: Made, { id, revisions }: Revised): number {
  const bound = run.revisions[id]
  if (bound !== undefined && revisions.some((one) => one.n === bound)) return bound
  return revisions.findLast((one) => one.createdAt <= run.createdAt)?.n ?? revisions[0]!.n
}

/** Runs that were made on one state of the fuel tables, and those of other states, that say nothing of it. */
export interface MadeOn<Run extends Made> {
  runs: Run[]
  /** made on other revisions than the newest that any of them was made on */
  older: Run[]
  /** revision by table */
  revisions: Map<string, number>
}

/**
 * Of some runs, those made on the newest state of these tables: readings of different fuelling must not be averaged.
 *
 * @param tables all fuel tables of the job
 */
export function madeOnNewest<Run extends Made>(runs: readonly Run[], tables: readonly Revised[]): MadeOn<Run> {
  const states = runs.map((run) => ({ run, on: tables.map((table) => revisionOf(run, table)) }))
  const sum = (on: readonly number[]): number => on.reduce((total, n) => total + n, 0)
  const newest = states.reduce<number[] | null>((best, { on }) => (best && sum(best) > sum(on) ? best : on), null) ?? []
  const isNewest = ({ on }: { on: number[] }): boolean => on.every((n, k) => n === newest[k])
  return {
    runs: states.filter(isNewest).map((one) => one.run),
    older: states.filter((one) => !isNewest(one)).map((one) => one.run),
    revisions: new Map(tables.flatMap((table, k) => (newest[k] === undefined ? [] : [[table.id, newest[k]]]))),
  }
}

/**
 * The first state of each table that a run was made on: what was saved before it, a placeholder among it, no engine of these
 * runs ever ran on.
 *
 * @param runs all of the job
 */
export function firstStates(runs: readonly Made[], tables: readonly Revised[]): Map<string, number> {
  return new Map(
    tables.map((table) => [
      table.id,
      runs.length ? Math.min(...runs.map((run) => revisionOf(run, table))) : table.revisions[0]!.n,
    ]),
  )
}

/** Tables whose newest revision is another than the one that some runs were made on, with that one. */
export function movedSince<T extends Revised>(
  tables: readonly T[],
  revisions: ReadonlyMap<string, number>,
): { info: T; n: number }[] {
  return tables.flatMap((info) => {
    const n = revisions.get(info.id)
    return n === undefined || n === info.revisions.at(-1)!.n ? [] : [{ info, n }]
  })
}

/**
 * The newest revision of a table that some runs rest on; the first where none does.
 *
 * @param runs that tell something of the table
 */
export function measuredRevision(table: Revised, runs: readonly Made[]): { n: number; isMeasured: boolean } {
  const measured = runs.map((run) => revisionOf(run, table))
  return measured.length
    ? { n: Math.max(...measured), isMeasured: true }
    : { n: table.revisions[0]!.n, isMeasured: false }
}

/**
 * Runs of which it cannot be told on which state of a table they were made, and the states it may have been: they came before
 * the table, or the controller held what is no state of it.
 */
export interface Untold {
  table: string
  runs: string[]
  revisions: number[]
}

type Placed = Made & Pick<RunInfo, 'id' | 'warnings'>
type Told = Pick<TableInfo, 'id' | 'name' | 'revisions'>

/** What a run says of itself that was made while the controller held what is no revision of a table. */
export const foreignWarning = (name: string): string =>
  `The controller held other contents than any revision of "${name}" while this was made.`

/**
 * Runs that were made on contents of the controller that are no state of a table; or that came into the job before the table
 * did, where several states of it were saved with no run between: nothing says which of them was in the machine. A table with one state, or whose next state rests on a run, is the state they were made
 * on; a run that somebody bound is told.
 *
 * @returns null when all is told
 */
export function untoldRuns(runs: readonly Placed[], { id, name, revisions }: Told): Untold | null {
  const first = revisions[0]!
  const foreign = runs.filter((run) => run.revisions[id] === undefined && run.warnings.includes(foreignWarning(name)))
  if (foreign.length) return { table: id, runs: foreign.map((run) => run.id), revisions: revisions.map((one) => one.n) }
  const isEarly = (run: Placed): boolean => run.createdAt < first.createdAt
  const early = runs.filter((run) => isEarly(run) && !revisions.some((one) => one.n === run.revisions[id]))
  if (early.length === 0) return null
  const later = runs.filter((run) => !isEarly(run)).map((run) => run.createdAt)
  // A run after a state was made on it, and a state that rests on runs came of them: what follows is no candidate.
  const end = revisions.findIndex(
    (one, k) => k > 0 && (one.runs.length > 0 || later.some((at) => at >= first.createdAt && at < one.createdAt)),
  )
  const open = end < 0 ? revisions : revisions.slice(0, end)
  return open.length < 2 ? null : { table: id, runs: early.map((run) => run.id), revisions: open.map((one) => one.n) }
}
