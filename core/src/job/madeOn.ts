import type { RunInfo } from '../contract/run'
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
