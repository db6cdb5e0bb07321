import { largeSteps } from '../change/largeSteps'
import type { Table } from '../table/table'
import type { Danger } from './danger'
import { firstValues } from './firstValues'
import { tableSteps } from './tableSteps'

/** A state of a table as a file tells it. */
interface PastState {
  n: number
  createdAt: string
  values: Table['values']
  global?: number | undefined
  /** why a large step was taken; null without one */
  override: string | null
}

/** A run that a file says was made on a state of the table. */
interface PastRun {
  createdAt: string
  /** null where it is not told */
  revision: number | null
}

/**
 * What went far without a reason in a history that comes from outside, judged as it was when it was saved: each state against
 * the last that runs before it rest on.
 *
 * @param states oldest first; @param at where the table stands in what was asked
 */
export function historyDangers(
  table: Table,
  name: string,
  states: readonly PastState[],
  runs: readonly PastRun[],
  at = '',
): Danger[] {
  const stateOf = (k: number): Table => ({ ...table, values: states[k]!.values, global: states[k]!.global ?? 0 })
  return states.flatMap((state, k): Danger[] => {
    if (state.override !== null) return []
    if (k === 0) return firstValues(stateOf(0), `${at}revisions[0].`)
    const before = runs.filter((run) => run.createdAt <= state.createdAt).map((run) => indexOn(run, states))
    const measured = Math.min(k - 1, Math.max(0, ...before))
    const steps = largeSteps(stateOf(k), { measured: stateOf(measured), parent: stateOf(k - 1) })
    return tableSteps(table.kind, steps, `revision ${states[measured]!.n} of "${name}"`, `${at}revisions[${k}].`).map(
      (one) => ({ ...one, text: `Revision ${state.n} of "${name}" gives no reason: ${one.text}` }),
    )
  })
}

/** Place of the state that a run was made on: as it says, else the latest at its time. */
function indexOn(run: PastRun, states: readonly PastState[]): number {
  const told = states.findIndex((one) => one.n === run.revision && one.createdAt <= run.createdAt)
  return told >= 0
    ? told
    : Math.max(
        0,
        states.findLastIndex((one) => one.createdAt <= run.createdAt),
      )
}
