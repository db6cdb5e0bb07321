import type { MixtureSettings } from '../contract/mixture'
import type { RunInfo } from '../run/runInfo'
import type { RunSet } from '../contract/set'
import type { TableInfo } from '../contract/table'
import { fieldRuns } from './fieldRuns'
import { revisionOf } from './madeOn'

/** A job's sets, oldest first, its runs and its fuel tables. */
export interface PassesOf {
  mixture: MixtureSettings
  sets: readonly Pick<RunSet, 'id' | 'setup'>[]
  runs: readonly RunInfo[]
  tables: readonly Pick<TableInfo, 'id' | 'revisions'>[]
}

/**
 * Runs that went before those of a field on the same hardware, pass by pass, oldest first: of sets of the same setup, by
 * the state of the fuel tables they were made on. None where the field's runs are of several sets.
 *
 * @param own runs that make the field
 */
export function passesBefore(own: readonly RunInfo[], { mixture, sets, runs, tables }: PassesOf): RunInfo[][] {
  const at = sets.findIndex((one) => one.id === own[0]?.set)
  if (at < 0 || own.some((run) => run.set !== own[0]!.set)) return []
  const setup = sets[at]!.setup.trim()
  const stateOf = (run: RunInfo): number => tables.reduce((sum, table) => sum + revisionOf(run, table), 0)
  const state = Math.min(...own.map(stateOf))
  const ids = new Set(own.map((run) => run.id))
  return sets.slice(0, at + 1).flatMap((set, k) => {
    if (set.setup.trim() !== setup) return []
    const byState = new Map<number, RunInfo[]>()
    for (const run of fieldRuns(mixture, set.id, runs)) {
      const its = stateOf(run)
      // In the field's own set the tables tell what went before.
      if (ids.has(run.id) || (k === at && its >= state)) continue
      byState.set(its, [...(byState.get(its) ?? []), run])
    }
    return [...byState].sort((a, b) => a[0] - b[0]).map((one) => one[1])
  })
}
