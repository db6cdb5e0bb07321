import {
  changeCell,
  effectOfWay,
  checkSettings,
  checkTable,
  inputRefused,
  largeSteps,
  needsState,
  nameOfWay,
  namedRuns,
  passGate,
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
import type { RevisionOf } from '../../store/revisions'
import { addWay } from '../../store/ways'
import { ask, groundOf, loaderOf, type Workshop } from '../questions/ask'
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
  const taken = { asked: plain(asked), settings } as WayTaken
  const after = checkTable(tableOfWay(told.wanted, way, settings))
  const standing = tableWithWay(tables, way.kind)
  const stands = standing?.revisions.at(-1)!.way
  const flat: Table = { ...after, values: after.values.map((cells) => cells.map(() => 0)) }
  const before = stands ? { ...flat, values: tableOn(after, stands) } : flat
  const beside = besideOf({ settings, tables, asked, runs }, `${name}: the table beside it`)
  // With a table beside it both act together, and are judged together.
  const whole = beside ? times(after, (settings as { table: BesideSettings }).table.values) : after
  const steps = largeSteps(whole, { measured: before, parent: before })
  const lines = passGate(tableSteps(after.kind, steps, 'what was in before'), override)
  return addWay(store, job.id, {
    name,
    before,
    after,
    way: taken,
    reason: reason ?? `${name} as worked out`,
    runs,
    override: lines.length ? override! : null,
    lines,
    insteadOf: standing?.id ?? null,
    beside,
  })
}

/** What numbers that stand in a way give on the breakpoints of another table. */
function tableOn(grid: Table, { asked, settings }: WayTaken): number[][] {
  return effectOfWay(grid, asked as WayAsked, settings).values
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
