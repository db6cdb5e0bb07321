import {
  unlessRefused,
  dependsOnLean,
  isLeftOut,
  kindOfTable,
  largeSteps,
  measuredRevision,
  revisionOf,
  type Job,
  type LargeStep,
  type RunInfo,
  type StepGround,
  type Table,
  type TableInfo,
} from '@yuzumix/core'
import { listRuns } from '../../store/runs'
import { findRevision } from '../../store/revisions'
import { fieldFor, type Workshop } from '../questions/ask'

/** Steps of a new state that are too large, and what they were judged against. */
export interface Judged {
  steps: LargeStep[]
  /** what they were judged against, as "revision 2" */
  from: string
}

/** Least that a cell must read lean by to be taken for lean, %. */
const LEAN = 0.3

/** Runs that tell something of a table: mixture of a fuel table, torque of a spark table. */
function tellsOf(table: Table, run: RunInfo): boolean {
  const { toldBy } = kindOfTable(table.kind)
  return !isLeftOut(run) && run.channels.some((one) => toldBy.includes(one.channel))
}

/**
 * Judges a new state of a job's table, cell by cell, against the last revision that a measured run rests on (or the first).
 *
 * @param after the new state; @param hardware factor that a declared change of hardware alone asks of the table
 */
export async function judgeSteps(
  workshop: Workshop,
  job: Job,
  info: TableInfo,
  after: Table,
  hardware = 1,
): Promise<Judged> {
  const { store } = workshop
  const runs = (await listRuns(store, job.id)).filter((run) => tellsOf(info.table, run))
  const { n } = measuredRevision(info, runs)
  const measured = (await findRevision(store, job.id, info.id, n))!.table
  const ground: StepGround = { measured, parent: info.table, hardware }
  const lean = dependsOnLean(after, ground)
    ? await leanCells(
        workshop,
        job,
        info,
        runs.filter((run) => revisionOf(run, info) === n),
      )
    : null
  return { steps: largeSteps(after, { ...ground, lean }), from: `revision ${n}` }
}

/** Cells that read leaner than target in some runs, of any cylinder that the table serves; null when that cannot be told. */
async function leanCells(
  workshop: Workshop,
  job: Job,
  { table: { rpm, load, loadAxis }, cylinder, inForce }: TableInfo,
  runs: readonly RunInfo[],
): Promise<boolean[][] | null> {
  const grid = { rpm, load, loadAxis }
  const request = { ...grid, grid, inForce, runs: runs.map((run) => run.id) }
  const field = await unlessRefused(() => fieldFor(workshop, job, request, new AbortController().signal), 'no-field')
  if (!field) return null
  const served = field.cylinders.filter((one) => cylinder === null || one.cylinder === cylinder)
  return load.map((_, row) => rpm.map((__, column) => served.some((one) => (one.changePct[row]![column] ?? 0) > LEAN)))
}
