import {
  changeCell,
  checkTable,
  hardwareDangers,
  inputRefused,
  passGate,
  tableSteps,
  type BesideSettings,
  type Job,
  type SettingsOf,
  type TableInfo,
  type TakeWay,
  type WayAsked,
  type WayKind,
  type WaysTold,
  type WayTaken,
} from '@yuzumix/core'
import { addRevisions, type RevisionOf } from '../../store/revisions'
import type { Workshop } from '../questions/ask'
import { judgeSteps } from './judgeSteps'

/** A way that is taken, with all that is known of it. */
export interface Taken {
  told: WaysTold
  way: WayAsked
  settings: SettingsOf[WayKind]
  /** runs that the change rests on */
  runs: string[]
  tables: readonly TableInfo[]
}

type Asked = TakeWay['way']
/** The table that a way names. @throws Refusal 'input-refused' where it names none */
export const namesTable = (asked: Asked): string => {
  const id = 'table' in asked ? asked.table : undefined
  if (id === undefined)
    throw inputRefused([{ field: 'way.table', message: 'is missing: name the table that takes it' }])
  return id
}

/** The change of every cell of a table, as its next revision. */
export async function saveTable(
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
export function nextOf(
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
export async function saveInjectors(
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
export async function saveAdded(
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
export function plain(asked: Asked): WayTaken['asked'] {
  const { settings: _, ...rest } = asked
  if ('table' in rest) delete rest.table
  return rest as WayTaken['asked']
}
