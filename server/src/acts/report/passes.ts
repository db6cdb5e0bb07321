import { revisionOf, type RunInfo, type RunSet, type TableInfo } from '@yuzumix/core'

/** Runs of one set that were made on one state of the tables, oldest first. */
export interface Pass {
  set: RunSet
  runs: RunInfo[]
  /** the state, in words */
  on: string
}

/** State of the tables that a run was made on, in words. */
export const stateWords = (run: RunInfo, tables: readonly TableInfo[]): string =>
  tables.map((table) => `revision ${revisionOf(run, table)} of ${table.name}`).join(', ')

/** Passes of a job: set by set, in the order of the sets, and within a set state by state. */
export function passesOf(
  sets: readonly RunSet[],
  runsOf: (set: RunSet) => readonly RunInfo[],
  tables: readonly TableInfo[],
): Pass[] {
  return sets.flatMap((set) => {
    const byTables = new Map<string, RunInfo[]>()
    for (const run of runsOf(set)) {
      const state = stateWords(run, tables)
      byTables.set(state, [...(byTables.get(state) ?? []), run])
    }
    return [...byTables].map(([on, runs]) => ({ set, runs, on }))
  })
}

/** When the first of some runs came. */
export const earliest = (runs: readonly { createdAt: string }[]): string =>
  runs.reduce((first, one) => (one.createdAt < first ? one.createdAt : first), runs[0]!.createdAt)
