import { inputRefused } from '../refusal/refusal'
import type { MixtureSettings } from '../contract/mixture'
import type { RunInfo } from '../run/runInfo'
import type { RunSet } from '../contract/set'
import { partOfRun } from '../run/partOfRun'
import { isLeftOut } from '../run/runColumns'

/** Whether a run tells the mixture of the table: with fuel added by hand it does not. */
export const tellsMixture = (run: RunInfo): boolean =>
  run.kind !== 'mixture step' && run.channels.some((one) => one.channel === 'lambda1')

/** The set whose runs make a job's field: the one chosen, else the newest that has runs with a mixture; null without any. */
export function fieldSet(
  mixture: MixtureSettings,
  sets: readonly Pick<RunSet, 'id'>[],
  runs: readonly RunInfo[],
): string | null {
  // A set of nothing but spark steps was not made for the mixture.
  const has = (id: string): boolean =>
    runs.some((run) => run.set === id && run.kind !== 'spark step' && tellsMixture(run))
  if (mixture.set && sets.some((one) => one.id === mixture.set)) return mixture.set
  return sets.findLast((one) => has(one.id))?.id ?? null
}

/** Runs of a set that make its field: those with a mixture that nobody left out. */
export function fieldRuns(mixture: MixtureSettings, set: string | null, runs: readonly RunInfo[]): RunInfo[] {
  const left = new Set(mixture.runsLeftOut)
  return runs.filter((run) => run.set === set && tellsMixture(run) && !left.has(run.id) && !isLeftOut(run))
}

/**
 * Runs of a job by their ids, in the order in which they came, and stretches of runs by theirs.
 *
 * @throws Refusal 'input-refused' for one that the job does not have
 */
export function namedRuns(runs: readonly RunInfo[], ids: readonly string[]): RunInfo[] {
  const parts = new Map(ids.flatMap((id) => (runs.some((run) => run.id === id) ? [] : [[id, partOfRun(runs, id)]])))
  const unknown = [...parts].flatMap(([id, part]) => (part ? [] : [id]))
  if (unknown.length)
    throw inputRefused(
      unknown.map((id) => ({ field: 'runs', message: `there is no run ${id.slice(0, 40)} in this job` })),
    )
  return [...runs.filter((run) => ids.includes(run.id)), ...[...parts.values()].flatMap((part) => part ?? [])]
}
