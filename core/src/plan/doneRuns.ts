import type { RunInfo } from '../contract/run'
import type { RunSet } from '../contract/set'
import { isLeftOut } from '../run/runColumns'
import { runFault } from '../run/runFault'
import type { DoneRun } from './tickPlan'

/** Runs of a set as a plan asks for them: those that nobody left out, with the gear of their column or else of the set. */
export function doneRuns(
  runs: readonly RunInfo[],
  sets: readonly Pick<RunSet, 'id' | 'gear'>[],
  set: string | null,
): DoneRun[] {
  const gear = sets.find((one) => one.id === set)?.gear ?? null
  return runs
    .filter((run) => run.set === set && !isLeftOut(run))
    .map((run) => ({
      id: run.id,
      kind: run.kind,
      facts: run.facts,
      gear: run.facts?.gear ?? gear,
      fault: runFault(run),
    }))
}
