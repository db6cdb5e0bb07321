import { madeLater, passGate, type RunChange, type RunInfo } from '@yuzumix/core'
import type { Store } from '../store/database'
import { changeRun, findRun } from '../store/runs'
import { listTables } from '../store/tables'

/**
 * Changes a run.
 *
 * @returns null when there is no such run
 * @throws GateRefusal when it would be taken for made on a state younger than itself, and nobody says how that is known
 */
export async function changeRunAsked(
  store: Store,
  job: string,
  id: string,
  { override, ...change }: RunChange,
): Promise<RunInfo | null> {
  const run = await findRun(store, job, id)
  if (!run) return null
  const { revisions } = change
  const lines = revisions ? passGate(madeLater(run, await listTables(store, job), revisions), override) : []
  return changeRun(store, job, id, change, lines)
}
