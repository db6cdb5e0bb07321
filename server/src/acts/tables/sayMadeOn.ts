import { inputRefused, untoldRuns, type RunInfo } from '@yuzumix/core'
import type { Store } from '../../store/database'
import { bindRuns, listRuns } from '../../store/runs'
import { findTable } from '../../store/tables'

/**
 * Binds all runs of which it could not be told to the state of a table that somebody says they were made on, as one act.
 *
 * @returns the runs that were bound; null when the job has no such table
 * @throws Refusal 'input-refused' when nothing is to be told of it, or that state is none of those it may have been
 */
export async function sayMadeOn(store: Store, job: string, id: string, n: number): Promise<RunInfo[] | null> {
  const table = await findTable(store, job, id)
  if (!table) return null
  const untold = untoldRuns(await listRuns(store, job), table)
  if (!untold)
    throw inputRefused([{ field: 'table', message: 'all runs are told: change one of them by itself if it is wrong' }])
  if (!untold.revisions.includes(n))
    throw inputRefused([{ field: 'revision', message: `must be one of ${untold.revisions.join(', ')}` }])
  await bindRuns(store, job, untold.runs, id, n, `${untold.runs.length} runs: revision ${n} of ${table.name}, as asked`)
  return (await listRuns(store, job)).filter((run) => untold.runs.includes(run.id))
}
