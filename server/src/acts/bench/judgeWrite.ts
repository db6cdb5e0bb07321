import {
  fitsController,
  largeSteps,
  setsPlate,
  tableSteps,
  workingTable,
  type Danger,
  type Matrix,
  type Table,
  type TableInfo,
} from '@yuzumix/core'
import type { ControllerTable } from '../../rigs/rigLink'
import type { BenchSession } from '../../sessions/session'
import { findJob } from '../../store/jobs'
import { listTables } from '../../store/tables'
import { findRevision } from '../../store/revisions'
import type { Workshop } from '../questions/ask'
import { judgeSteps, type Judged } from '../tables/judgeSteps'

/**
 * Judges a write to the bench: against what the job's own table was last measured with, and against what was in the
 * controller while the last run was made, so that neither a table made of anything nor many small writes pass. A revision
 * for whose large step somebody gave a reason is not asked about again.
 */
export async function judgeWrite(
  workshop: Workshop,
  session: BenchSession,
  slot: ControllerTable,
  values: Matrix,
): Promise<Judged> {
  const after: Table = { ...slot.table, values }
  const job = (await findJob(workshop.store, session.job))!
  const fitting = (await listTables(workshop.store, job.id)).filter((one) => fitsController(one, slot))
  if (await isReasoned(workshop, fitting, values)) return { steps: [], from: '' }
  const inside = (await session.measured()).find((one) => one.id === slot.id)?.table ?? slot.table
  const steps = largeSteps(after, { measured: inside, parent: inside })
  if (steps.length > 0) return { steps, from: 'what was in the controller at the last run' }
  const own = workingTable(fitting, slot) ?? (setsPlate(slot.table) ? undefined : fitting[0])
  return own ? judgeSteps(workshop, job, { ...own, table: slot.table }, after) : { steps, from: '' }
}

/** Whether these values are those of a revision that was saved with a reason for its large step. */
async function isReasoned({ store }: Workshop, tables: readonly TableInfo[], values: Matrix): Promise<boolean> {
  const cells = JSON.stringify(values)
  for (const { job, id, revisions } of tables)
    for (const { n, override } of revisions) {
      if (override === null) continue
      const found = await findRevision(store, job, id, n)
      if (found && JSON.stringify(found.table.values) === cells) return true
    }
  return false
}

/** What restoring the first contents would move too far from what is in the controller now: the engine has run on that. */
export async function judgeRestore({ link }: BenchSession): Promise<Danger[]> {
  if (!link.state().readable) return []
  const [now, first] = await Promise.all([link.tables(), link.firstTables()])
  return first.flatMap(({ id, name, table }) => {
    const inside = now.find((one) => one.id === id)!.table
    const steps = largeSteps(table, { measured: inside, parent: inside })
    return tableSteps(table.kind, steps, `what is in "${name}" now`).map((one) => ({
      ...one,
      text: `Restoring what was there first: ${one.text}`,
    }))
  })
}
