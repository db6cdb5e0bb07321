import {
  checkRunsOf,
  FieldError,
  InputError,
  likesOf,
  measuredFlatness,
  resample,
  shelfDifference,
  shelfPrior,
  type Job,
  type Shelf,
  type ShelfMatch,
  type Table,
  type TableInfo,
} from '@yuzumix/core'
import { addShelf } from '../store/shelf'
import { addTable, findTable, listTables } from '../store/tables'
import { fieldFor, runsFor, type Workshop } from './fieldFor'
import { saveRevisions } from './saveRevisions'

/** A table of the shelf that cannot stand for one of the job. */
class DoesNotFit extends Error {
  readonly status = 422
  readonly title = 'It does not fit'
  readonly faults = [{ field: 'shelf', message: this.message }]
}

/** How far the runs made on it prove a calibration. */
async function provenBy(workshop: Workshop, job: Job, signal: AbortSignal): Promise<Shelf['proven']> {
  const runs = await runsFor(workshop, job, undefined)
  if (runs.length === 0) return { runs: 0, rmsPct: null, worstPct: null }
  try {
    const flat = measuredFlatness(await fieldFor(workshop, job, runs, {}, null, signal))
    return { runs: runs.length, rmsPct: flat.nodes ? flat.rms : null, worstPct: flat.worst && flat.worst.pct }
  } catch (error) {
    if (!(error instanceof FieldError)) throw error
    return { runs: runs.length, rmsPct: null, worstPct: null }
  }
}

/** Keeps the latest revision of a table with what it was made on. */
export async function keepOnShelf(
  workshop: Workshop,
  job: Job,
  info: TableInfo,
  name: string,
  signal: AbortSignal,
): Promise<Shelf> {
  const { machine, fuel, changed, fuelSold } = job
  return addShelf(workshop.store, {
    name,
    job: job.title,
    machine,
    fuel,
    changed,
    fuelSold,
    target: job.mixture.target.preset,
    proven: await provenBy(workshop, job, signal),
    table: info.table,
  })
}

/** The mean of a calibration and all that are as near to the job; itself where there is no other. */
export function meanOf(shelf: Shelf, matches: readonly ShelfMatch[]): Shelf {
  const own = matches.find((one) => one.shelf.id === shelf.id)
  const likes = own ? likesOf(own, matches).map((one) => one.shelf) : []
  if (likes.length < 2) return shelf
  const tables = [shelf, ...likes.filter((one) => one.id !== shelf.id)].map((one) => one.table)
  return { ...shelf, name: `mean of ${likes.length} like ${shelf.name}`.slice(0, 120), table: shelfPrior(tables) }
}

/** A table of the shelf on the breakpoints of another. @throws DoesNotFit */
function onto(shelf: Shelf, table: Table): { table: Table; lost: string[] } {
  if (shelf.table.kind !== table.kind)
    throw new DoesNotFit(`"${shelf.name}" is a ${shelf.table.kind} table, here is a ${table.kind} table.`)
  try {
    return resample(shelf.table, table)
  } catch (error) {
    throw new DoesNotFit((error as Error).message)
  }
}

/**
 * Takes a calibration of the shelf as the start of a job: as a revision of the job's table of that kind, on its
 * breakpoints; or as a table of its own where the job has none.
 *
 * @param override why a large step against what was measured is taken all the same
 * @throws DoesNotFit where load means something else; TooLarge
 */
export async function startFromShelf(workshop: Workshop, job: Job, shelf: Shelf, override: string | undefined) {
  const { store } = workshop
  const reason = `Start from the shelf: ${shelf.name} (${shelf.job})`.slice(0, 480)
  const own = (await listTables(store, job.id)).find((one) => one.table.kind === shelf.table.kind)
  const checkRuns = checkRunsOf(shelf.table, job.limits?.revCeiling)
  if (!own) {
    const made = await addTable(store, job.id, { name: shelf.name, cylinder: null, table: shelf.table }, reason)
    return { table: made.id, lost: [], checkRuns }
  }
  const { table, lost } = onto(shelf, own.table)
  await saveRevisions(workshop, job, [
    { table: own.id, parent: own.revisions.at(-1)!.n, reason, values: table.values, override },
  ])
  return { table: own.id, lost, checkRuns }
}

/** "Has somebody been in here?" @throws DoesNotFit; InputError when there is no such table */
export async function againstShelf({ store }: Workshop, job: Job, table: string, shelf: Shelf) {
  const info = await findTable(store, job.id, table)
  if (!info) throw new InputError([{ field: 'table', message: 'there is no such table' }])
  return shelfDifference(info.table, onto(shelf, info.table).table)
}
