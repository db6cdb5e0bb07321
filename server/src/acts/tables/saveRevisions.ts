import {
  checkTable,
  hardwareDangers,
  overfilled,
  passGate,
  tableSteps,
  type Job,
  type NewRevision,
  type Table,
  type TableInfo,
} from '@yuzumix/core'
import { findTable } from '../../store/tables'
import { addRevisions, staleRevision, type RevisionOf } from '../../store/revisions'
import type { Workshop } from '../questions/ask'
import { judgeSteps, type Judged } from './judgeSteps'

/** A revision asked for, of a table of a job. */
export type AskedRevision = NewRevision & { table: string }

/** A new state as asked for, with the table that it is one of and what is too far in it. */
interface JudgedRevision {
  asked: AskedRevision
  info: TableInfo
  after: Table
  judged: Judged
}

/**
 * Judges a new state of a table.
 *
 * @returns null when the job has no such table
 * @throws staleRevision when another was saved after its parent; TableError when it is no table
 */
export async function judgeRevision(
  workshop: Workshop,
  job: Job,
  asked: AskedRevision,
): Promise<JudgedRevision | null> {
  const info = await findTable(workshop.store, job.id, asked.table)
  if (!info) return null
  const latest = info.revisions.at(-1)!.n
  if (asked.parent !== latest) throw staleRevision(latest)
  const { values, global = info.table.global ?? 0 } = asked
  const after = checkTable({ ...info.table, values, global })
  return { info, asked, after, judged: await judgeSteps(workshop, job, info, after, asked.hardware?.factor) }
}

/**
 * Saves a revision of each of some tables: all of them, or none.
 *
 * @param at how a table's place in the body is called, for what is refused; empty for a body that is one revision
 * @returns null when the job lacks one of the tables
 * @throws what the gate refuses, when a cell moves too far and nobody says why; else as `judgeRevision`
 */
export async function saveRevisions(
  workshop: Workshop,
  job: Job,
  asked: readonly AskedRevision[],
  at: (place: number) => string = () => '',
): Promise<TableInfo[] | null> {
  const revisions: RevisionOf[] = []
  for (const [place, one] of asked.entries()) {
    const found = await judgeRevision(workshop, job, one)
    if (!found) return null
    const { info, after, judged } = found
    const dangers = [
      ...tableSteps(info.table.kind, judged.steps, judged.from, at(place)),
      ...hardwareDangers(one.hardware, at(place)),
      ...overfilled(info.table, after, at(place)),
    ]
    const lines = passGate(dangers, one.override, at(place))
    const { hardware } = one
    revisions.push({
      table: one.table,
      parent: one.parent,
      reason: one.reason,
      runs: one.runs ?? [],
      values: after.values,
      global: after.global ?? 0,
      // What hardware asked for is a reason, too: whoever judges the history later must find it there.
      override: lines.length ? one.override : hardware && `Other hardware: ${hardware.what}`,
      hardware: hardware && `${hardware.what}, times ${hardware.factor} on the table`,
      lines,
    })
  }
  return addRevisions(workshop.store, job.id, revisions)
}
