import {
  build,
  changeCell,
  effectOfWay,
  filled,
  checkSettings,
  checkTable,
  inputRefused,
  interpolate,
  largeSteps,
  needsState,
  nameOfWay,
  namedRuns,
  passGate,
  revisionOf,
  sameGrid,
  tableOfWay,
  tableSteps,
  tableWithWay,
  typedSettings,
  waysQuestion,
  type BesideSettings,
  type Job,
  type SettingsOf,
  type Table,
  type TableInfo,
  type TakeWay,
  type WayAsked,
  type WayKind,
  type WayTaken,
} from '@yuzumix/core'
import type { Store } from '../../store/database'
import { addRevisions, findRevision, type RevisionOf } from '../../store/revisions'
import { listRuns } from '../../store/runs'
import { addWay, type WayState } from '../../store/ways'
import { ask, groundOf, loaderOf, type Workshop } from '../questions/ask'
import { saveFilling } from './saveFilling'
import { namesTable, nextOf, plain, saveAdded, saveInjectors, saveTable, type Taken } from './wayOntoTable'

/**
 * Puts one way in: its numbers become a table of the job, as one act.
 *
 * @returns the tables that changed
 * @throws Refusal 'input-refused' for numbers that do not fit, and what the gate refuses
 */
export async function takeWay(
  workshop: Workshop,
  job: Job,
  { way: asked, reason, override, ...request }: TakeWay,
  signal: AbortSignal,
): Promise<TableInfo[]> {
  const { store } = workshop
  const ground = await groundOf(store, job)
  const question = await waysQuestion(ground, loaderOf(store), { ...request, ways: [asked] })
  needsState(question.untold, ground.tables)
  const told = await ask(workshop, 'ways', question, signal)
  const way = question.ways[0]!
  const settings = question.set[0] ?? typedSettings(way.kind, told.ways[0]!.settings)
  checkSettings(way, settings, 'way.settings')
  checkPump(way, settings)
  const runs = (question.field?.runs ?? namedRuns(ground.runs, request.runs ?? [])).map((run) => run.id)
  const taken = { told, way, settings, runs, tables: ground.tables }
  if (way.kind === 'table') return saveTable(workshop, job, asked, taken, reason, override)
  if (way.kind === 'injectors') return saveInjectors(workshop, job, asked, taken, reason, override)
  if (way.kind === 'filling') return saveFilling(workshop, job, taken, reason, override)
  const adds =
    way.kind === 'global' &&
    way.table?.composition === 'add' &&
    ground.tables.find((one) => one.id === namesTable(asked))
  if (adds) return saveAdded(workshop, job, adds, taken, reason, override)
  return saveWay(workshop, job, taken, asked, reason, override)
}

/** A pressure that the pump does not hold is worked out and told, and not put in. @throws Refusal 'input-refused' */
function checkPump(way: WayAsked, settings: SettingsOf[WayKind]): void {
  if (way.kind !== 'pressure' || way.mostKpa === undefined) return
  const { kPa } = settings as SettingsOf['pressure']
  if (kPa > way.mostKpa)
    throw inputRefused([
      { field: 'way.settings', message: `${kPa} kPa are more than the ${way.mostKpa} kPa that the pump holds` },
    ])
}

/** A way as a table of its own, or the next state of the one that it was put in by before. */
async function saveWay(
  { store }: Workshop,
  job: Job,
  { told, way, settings, runs, tables }: Taken,
  asked: TakeWay['way'],
  reason?: string,
  override?: string,
): Promise<TableInfo[]> {
  const name = nameOfWay(way.kind)
  const standing = tableWithWay(tables, way.kind) ?? null
  const began = fromWhereItBegan(way, standing)
  const taken = { asked: { ...plain(asked), ...began }, settings } as WayTaken
  const after = checkTable(tableOfWay(told.wanted, { ...way, ...began } as WayAsked, settings))
  const earlier = standing ? await statesOn(store, after, standing) : [nothing(after)]
  const before = { ...after, values: earlier.at(-1)!.values }
  const beside = besideOf({ settings, tables, asked, runs }, `${name}: the table beside it`)
  // With a table beside it both act together, and are judged together.
  const whole = beside ? times(after, (settings as { table: BesideSettings }).table.values) : after
  const steps = largeSteps(whole, { measured: before, parent: before })
  const lines = passGate(tableSteps(after.kind, steps, 'what was in before'), override)
  const state = {
    values: after.values,
    way: taken,
    reason: reason ?? `${name} as worked out`,
    runs,
    override: lines.length ? override! : null,
  }
  if (standing && sameGrid(standing.table, after)) {
    const parent = standing.revisions.at(-1)!.n
    const next = { ...state, table: standing.id, parent, override: state.override ?? undefined, lines }
    return (await addRevisions(store, job.id, [next, ...(beside ? [beside] : [])]))!
  }
  const all = await listRuns(store, job.id)
  return addWay(store, job.id, {
    name,
    table: after,
    states: [...earlier, { ...state, createdAt: new Date().toISOString() }],
    madeOn: new Map(all.map((run) => [run.id, standing ? revisionOf(run, standing) : 1])),
    lines,
    insteadOf: standing?.id ?? null,
    beside,
  })
}

/** A pressure that is changed again counts from the first one, as its table does: both changes act. */
function fromWhereItBegan(
  way: WayAsked,
  standing: TableInfo | null,
): { kPa?: number; manifoldKpa?: number | undefined } {
  const first = standing?.revisions.at(-1)!.way?.asked
  return way.kind === 'pressure' && first?.kind === 'pressure' ? { kPa: first.kPa, manifoldKpa: first.manifoldKpa } : {}
}

/** A way that gives nothing yet. */
const nothing = (table: Table): WayState => ({
  values: filled(table, 0),
  way: null,
  reason: 'Before it was put in',
  runs: [],
  override: null,
  createdAt: new Date().toISOString(),
})

/** States of a way's table on other breakpoints: a run of long ago still knows what it was made on. */
async function statesOn(store: Store, grid: Table, { job, id, revisions }: TableInfo): Promise<WayState[]> {
  const found = await Promise.all(revisions.map(({ n }) => findRevision(store, job, id, n)))
  return found.map((one) => {
    const { revision, table } = one!
    const { way, reason, runs, override, createdAt } = revision
    const values = way
      ? effectOfWay(grid, way.asked as WayAsked, way.settings).values
      : build(grid, (row, column) => interpolate(table, table.values, grid.rpm[column]!, grid.load[row]!))
    return { values, way: way ?? null, reason, runs, override: override ?? null, createdAt }
  })
}

/** A trim with another change of fuel on top, %, cell by cell. */
const times = (table: Table, pct: readonly (readonly number[])[]): Table => ({
  ...table,
  values: table.values.map((cells, row) => cells.map((one, column) => changeCell(one, pct[row]![column]!, table))),
})

/** The next state of the table beside a way; null where there is none. */
function besideOf(
  { settings, tables, asked, runs }: Pick<Taken, 'settings' | 'tables' | 'runs'> & { asked: TakeWay['way'] },
  reason: string,
): RevisionOf | null {
  const beside = 'table' in settings ? settings.table : undefined
  const id = 'table' in asked ? asked.table : undefined
  const info = tables.find((one) => one.id === id)
  return beside && info ? nextOf(info, beside, runs, reason) : null
}
