import {
  inputRefused,
  isRefusal,
  refused,
  checkRunsOf,
  firstValues,
  largeSteps,
  likesOf,
  measuredFlatness,
  passGate,
  resample,
  revisionOf,
  shelfDifference,
  shelfPrior,
  tableSteps,
  unprovenStart,
  type Danger,
  type Job,
  type Shelf,
  type ShelfMatch,
  type Table,
  type TableInfo,
} from '@yuzumix/core'
import { listSets, insertSet } from '../../store/sets'
import { writeEntry } from '../../store/entries'
import { changeJobRow } from '../../store/jobs'
import { addShelf } from '../../store/shelf'
import type { Store } from '../../store/database'
import { addTable, findTable, listTables } from '../../store/tables'
import { findRevision } from '../../store/revisions'
import { fieldFor, fieldRunsOf, type Workshop } from '../questions/ask'
import { saveRevisions } from './saveRevisions'

/** How the reason of a table begins that was taken from the shelf. */
const STARTED = 'Start from the shelf'

/**
 * How far runs prove a calibration: those made on the revision that is kept, and no others.
 *
 * @param info null where there are only carburettors
 */
async function provenBy(
  workshop: Workshop,
  job: Job,
  info: TableInfo | null,
  signal: AbortSignal,
): Promise<Shelf['proven']> {
  const newest = await fieldRunsOf(workshop, job)
  const runs = info ? newest.filter((run) => revisionOf(run, info) === info.revisions.at(-1)!.n) : newest
  if (runs.length === 0) return { runs: 0, rmsPct: null, worstPct: null }
  try {
    const flat = measuredFlatness(await fieldFor(workshop, job, { runs: runs.map((run) => run.id) }, signal))
    return { runs: runs.length, rmsPct: flat.nodes ? flat.rms : null, worstPct: flat.worst && flat.worst.pct }
  } catch (error) {
    if (!isRefusal(error, 'no-field')) throw error
    return { runs: runs.length, rmsPct: null, worstPct: null }
  }
}

/** The carburettors of a job with what was fitted last; null for an injected one. */
async function jetsOf({ store }: Workshop, job: Job): Promise<Shelf['jets']> {
  if (!job.jetting) return null
  const sets = await listSets(store, job.id)
  return { settings: job.jetting, fitted: sets.findLast((one) => one.fitting)?.fitting?.fitted ?? null }
}

/**
 * Keeps the latest revision of a table, and the carburettors of the job, with what they were made on.
 *
 * @param info null where there are only carburettors
 * @throws Refusal 'input-refused' when there is nothing to keep
 */
export async function keepOnShelf(
  workshop: Workshop,
  job: Job,
  info: TableInfo | null,
  name: string,
  signal: AbortSignal,
): Promise<Shelf> {
  const jets = await jetsOf(workshop, job)
  if (!info && !jets)
    throw inputRefused([{ field: 'table', message: 'the job has no carburettors either: name a table to keep' }])
  const { machine, fuel, changed, fuelSold } = job
  return addShelf(workshop.store, {
    name,
    job: job.title,
    machine,
    fuel,
    changed,
    fuelSold,
    target: job.mixture.target.preset,
    proven: await provenBy(workshop, job, info, signal),
    table: info && info.table,
    came: info && (await asItCame(workshop.store, job, info)),
    jets,
  })
}

/** The mean of a calibration and all that are as near to the job; itself where there is no other. */
export function meanOf(shelf: Shelf, matches: readonly ShelfMatch[]): Shelf {
  const own = matches.find((one) => one.shelf.id === shelf.id)
  const likes = own ? likesOf(own, matches).map((one) => one.shelf) : []
  if (likes.length < 2) return shelf
  const tables = [shelf, ...likes.filter((one) => one.id !== shelf.id)].flatMap((one) => one.table ?? [])
  return { ...shelf, name: `mean of ${likes.length} like ${shelf.name}`.slice(0, 120), table: shelfPrior(tables) }
}

/** A table of the shelf on the breakpoints of another. @throws Refusal 'does-not-fit' */
function onto(shelf: Pick<Shelf, 'name' | 'table'>, table: Table): { table: Table; lost: string[] } {
  if (!shelf.table) throw refused('does-not-fit', `"${shelf.name}" has carburettors, no table.`, 'shelf')
  if (shelf.table.kind !== table.kind)
    throw refused(
      'does-not-fit',
      `"${shelf.name}" is a ${shelf.table.kind} table, here is a ${table.kind} table.`,
      'shelf',
    )
  try {
    return resample(shelf.table, table)
  } catch (error) {
    throw refused('does-not-fit', (error as Error).message, 'shelf')
  }
}

/**
 * Takes a calibration of the shelf as the start of a job: its table as a revision of the job's table of that kind, on
 * its breakpoints, or as a table of its own where the job has none; its carburettors where the job has none yet, or as
 * many.
 *
 * @param matches what else on the shelf is near the job
 * @param override why a large step against what was measured, or a start that nothing proves, is taken all the same
 * @throws Refusal 'does-not-fit' where load means something else; what the gate refuses
 */
export async function startFromShelf(
  workshop: Workshop,
  job: Job,
  shelf: Shelf,
  matches: readonly ShelfMatch[],
  override: string | undefined,
) {
  const { store } = workshop
  const reason = `${STARTED}: ${shelf.name} (${shelf.job})`.slice(0, 480)
  const fault = jetsFault(job, shelf)
  if (fault) throw refused('does-not-fit', fault, 'shelf')
  const taken = shelf.table
    ? await takeTable(workshop, job, { ...shelf, table: shelf.table }, matches, reason, override)
    : { table: null, lost: [] }
  const set = shelf.jets ? await takeJets(store, job, shelf.name, shelf.jets, reason) : null
  return { ...taken, set, checkRuns: checkRunsOf(shelf.table, job.limits?.revCeiling) }
}

/** What of a start can hurt where the job has no table to judge it by: a value, too little proof, or another than its likes. */
function startDangers(shelf: Shelf & { table: Table }, matches: readonly ShelfMatch[]): Danger[] {
  const { id, table } = shelf
  const own = matches.find((one) => one.shelf.id === id)
  const others = (own ? likesOf(own, matches) : []).flatMap((one) =>
    one.shelf.id !== id && one.shelf.table?.kind === table.kind && one.shelf.table.loadAxis === table.loadAxis
      ? one.shelf.table
      : [],
  )
  const usual = others.length ? resample(shelfPrior(others), table).table : null
  const steps = usual ? largeSteps(table, { measured: usual, parent: usual }) : []
  return [...firstValues(table), ...unprovenStart(shelf), ...tableSteps(table.kind, steps, 'its likes on the shelf')]
}

async function takeTable(
  workshop: Workshop,
  job: Job,
  shelf: Shelf & { table: Table },
  matches: readonly ShelfMatch[],
  reason: string,
  override: string | undefined,
): Promise<{ table: string; lost: string[] }> {
  const { store } = workshop
  const { name, table: from } = shelf
  const own = (await listTables(store, job.id)).find((one) => one.table.kind === from.kind)
  if (!own) {
    const lines = passGate(startDangers(shelf, matches), override)
    const passed = { override: lines.length ? override! : null, lines }
    const made = await addTable(store, job.id, { name, cylinder: null, table: from }, reason, passed)
    return { table: made.id, lost: [] }
  }
  const { table, lost } = onto({ name, table: from }, own.table)
  passGate(unprovenStart(shelf), override)
  await saveRevisions(workshop, job, [
    { table: own.id, parent: own.revisions.at(-1)!.n, reason, values: table.values, override },
  ])
  return { table: own.id, lost }
}

/** Why the carburettors of the shelf cannot stand for those of the job; null when they can. */
function jetsFault(job: Job, { name, jets }: Shelf): string | null {
  const [mine, theirs] = [job.jetting?.carburettors.length, jets?.settings.carburettors.length]
  if (mine === undefined || theirs === undefined || mine === theirs) return null
  return `"${name}" has ${theirs} carburettors, this machine ${mine}.`
}

/** The carburettors of the shelf become those of the job, with a set for what is fitted, as one act. */
function takeJets(store: Store, job: Job, name: string, jets: NonNullable<Shelf['jets']>, reason: string) {
  return store.act(async (transaction) => {
    await changeJobRow(store, transaction, job.id, { jetting: jets.settings })
    await writeEntry(store, transaction, job.id, 'start from the shelf', reason)
    return (
      jets.fitted &&
      insertSet(store, transaction, job.id, {
        name: `As ${name}`.slice(0, 120),
        fitting: { fitted: jets.fitted, reason: reason.slice(0, 400), predicted: null },
      })
    )
  })
}

/** A table as the machine came with it; null where it began with one of the shelf. */
async function asItCame(store: Store, job: Job, { id, revisions }: TableInfo): Promise<Table | null> {
  const [first] = revisions
  return first!.reason.startsWith(STARTED) ? null : ((await findRevision(store, job.id, id, first!.n))?.table ?? null)
}

/** "Has somebody been in here?" @throws Refusal 'does-not-fit'; InputError when there is no such table */
export async function againstShelf({ store }: Workshop, job: Job, table: string, shelf: Shelf) {
  const info = await findTable(store, job.id, table)
  if (!info) throw inputRefused([{ field: 'table', message: 'there is no such table' }])
  const mine = await asItCame(store, job, info)
  const { came } = shelf
  // A table that began with one of the shelf tells only what became of it since.
  return mine && came?.kind === mine.kind
    ? shelfDifference(mine, onto({ name: shelf.job, table: came }, mine).table, { name: shelf.job, asItCame: true })
    : shelfDifference(info.table, onto(shelf, info.table).table, { name: shelf.name, asItCame: false })
}
