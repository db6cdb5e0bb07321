import {
  changeCell,
  effectOfWay,
  checkSettings,
  checkTable,
  hardwareDangers,
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
  type WaysTold,
  type WayTaken,
} from '@yuzumix/core'
import { addRevisions, type RevisionOf } from '../../store/revisions'
import { addWay } from '../../store/ways'
import { ask, groundOf, loaderOf, type Workshop } from '../questions/ask'
import { judgeSteps } from './judgeSteps'

/** A way that is taken, with all that is known of it. */
interface Taken {
  told: WaysTold
  way: WayAsked
  settings: SettingsOf[WayKind]
  /** runs that the change rests on */
  runs: string[]
  tables: readonly TableInfo[]
}

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
  const settings = asked.settings ?? typedSettings(way.kind, told.ways[0]!.settings)
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

type Asked = TakeWay['way']
const namesTable = (asked: Asked): string => {
  const id = 'table' in asked ? asked.table : undefined
  if (id === undefined)
    throw inputRefused([{ field: 'way.table', message: 'is missing: name the table that takes it' }])
  return id
}

/** The change of every cell of a table, as its next revision. */
async function saveTable(
  workshop: Workshop,
  job: Job,
  asked: Asked,
  { settings, runs, tables }: Taken,
  reason = 'The whole change, cell by cell',
  override?: string,
): Promise<TableInfo[]> {
  const info = tables.find((one) => one.id === namesTable(asked))!
  const next = nextOf(info, settings as SettingsOf['table'], runs, reason)
  const { steps, from } = await judgeSteps(workshop, job, info, { ...info.table, values: next.values })
  const lines = passGate(tableSteps(info.table.kind, steps, from), override)
  return (await addRevisions(workshop.store, job.id, [
    { ...next, override: lines.length ? override : undefined, lines },
  ]))!
}

/** Without what sums leave behind the sixth decimal. */
const rounded = (value: number): number => Number(value.toFixed(6))

/** A change by cell as the next revision of a table on the same breakpoints. */
function nextOf(
  info: TableInfo,
  { values }: Pick<BesideSettings, 'values'>,
  runs: string[],
  reason: string,
): RevisionOf {
  const now = info.table
  const after = checkTable({
    ...now,
    values: now.values.map((cells, row) =>
      cells.map((one, column) => rounded(changeCell(one, values[row]![column]!, now))),
    ),
  })
  return { table: info.id, parent: info.revisions.at(-1)!.n, reason, runs, values: after.values }
}

/** Pulses of the new injectors: a declared change of hardware, which the limit of lean steps does not know. */
async function saveInjectors(
  workshop: Workshop,
  job: Job,
  asked: Asked,
  { way, settings, tables }: Taken,
  reason?: string,
  override?: string,
): Promise<TableInfo[]> {
  const info = tables.find((one) => one.id === namesTable(asked))!
  const { pulses, pulseFactor } = settings as SettingsOf['injectors']
  const { from, to } = way as Extract<WayAsked, { kind: 'injectors' }>
  const what = `Injectors of ${from.flow} to ${to.flow}, dead time ${from.deadMs} to ${to.deadMs} ms`
  const lines = passGate(hardwareDangers({ what, factor: Number(pulseFactor.toFixed(4)) }), override)
  const next = {
    table: info.id,
    parent: info.revisions.at(-1)!.n,
    reason: reason ?? what,
    runs: [],
    values: checkTable({ ...info.table, values: pulses! }).values,
    override: lines.length ? override : `Other hardware: ${what}`,
    hardware: what,
    way: { asked: plain(asked), settings } as WayTaken,
    lines,
  }
  return (await addRevisions(workshop.store, job.id, [next]))!
}

/**
 * One percent beside a table of a module that adds the two: both stand in that table, and act as one.
 *
 * The fuel of cell and global together is what it is to be: cell = total - global.
 */
async function saveAdded(
  workshop: Workshop,
  job: Job,
  info: TableInfo,
  { settings, runs }: Taken,
  reason = 'One percent everywhere, and the cells beside it',
  override?: string,
): Promise<TableInfo[]> {
  const now = info.table
  const { pct, table } = settings as SettingsOf['global']
  const values = now.values.map((cells, row) =>
    cells.map((one, column) => {
      const both = 100 * ((1 + pct / 100) * (1 + (table?.values[row]![column] ?? 0) / 100) - 1)
      return rounded(changeCell(one, both, now) - pct)
    }),
  )
  const after = checkTable({ ...now, values, global: (now.global ?? 0) + pct })
  const { steps, from } = await judgeSteps(workshop, job, info, after)
  const lines = passGate(tableSteps(now.kind, steps, from), override)
  const parent = info.revisions.at(-1)!.n
  const next = { table: info.id, parent, reason, runs, values: after.values, global: after.global, lines }
  return (await addRevisions(workshop.store, job.id, [{ ...next, override: lines.length ? override : undefined }]))!
}

/** What a way was asked with, without the table that it names, whose id means nothing elsewhere, and its numbers. */
function plain(asked: Asked): WayTaken['asked'] {
  const { settings: _, ...rest } = asked
  if ('table' in rest) delete rest.table
  return rest as WayTaken['asked']
}

/** A way as a table of its own, or the next state of the one that it was put in by before. */
async function saveWay(
  { store }: Workshop,
  job: Job,
  { told, way, settings, runs, tables }: Taken,
  asked: Asked,
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
  { settings, tables, asked, runs }: Pick<Taken, 'settings' | 'tables' | 'runs'> & { asked: Asked },
  reason: string,
): RevisionOf | null {
  const beside = 'table' in settings ? settings.table : undefined
  const id = 'table' in asked ? asked.table : undefined
  const info = tables.find((one) => one.id === id)
  return beside && info ? nextOf(info, beside, runs, reason) : null
}
