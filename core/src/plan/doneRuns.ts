import type { RunInfo } from '../run/runInfo'
import { sweepsOfRun } from '../run/facts'
import { isLeftOut } from '../run/runColumns'
import { runFault } from '../run/runFault'
import type { DoneRun } from './tickPlan'

/** Runs of a set, sweep by sweep, as a plan asks for them: those that nobody left out, with the gear of their column or else of the set. */
export function doneRuns(
  runs: readonly RunInfo[],
  sets: readonly { id: string; gear: number | null }[],
  set: string | null,
): DoneRun[] {
  const gear = sets.find((one) => one.id === set)?.gear ?? null
  return runs
    .filter((run) => run.set === set && !isLeftOut(run))
    .flatMap((run) =>
      (run.facts ? sweepsOfRun(run.kind, run.facts) : [run]).map(({ kind, facts }) => ({
        id: run.id,
        kind,
        facts,
        gear: facts?.gear ?? gear,
        fault: runFault(run),
      })),
    )
}
