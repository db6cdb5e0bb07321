import type { RunColumns } from '../../run/run'
import type { FieldOptions } from '../field'

/** Runs by the state of the tables that they were made on. @param since by run: what was corrected after it was made */
export function byState(runs: readonly RunColumns[], since: FieldOptions['since']): RunColumns[][] {
  const states = new Map<string, RunColumns[]>()
  for (const [r, run] of runs.entries()) {
    const key = JSON.stringify(since[r])
    states.set(key, [...(states.get(key) ?? []), run])
  }
  return [...states.values()]
}
