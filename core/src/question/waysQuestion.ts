import { inputRefused, refused } from '../refusal/refusal'
import type { TableInfo } from '../contract/table'
import type { WaysRequest } from '../contract/ways'
import type { Field } from '../field/field'
import { answerWay, wholeOf } from '../delivery/answerWay'
import { checkSettings } from '../delivery/checkSettings'
import { checkWay } from '../delivery/checkWay'
import { judgeWay } from '../delivery/judgeWay'
import type { Wanted } from '../delivery/wanted'
import { wantedOfField } from '../delivery/wantedOfField'
import type { SettingsOf, WayAsked, WayKind, WayTold } from '../delivery/ways'
import { breakpointFault, filled, LOAD_UNITS, shapeFault, type Table } from '../table/table'
import { cautionWords } from '../words/cautionWords'
import { changeRuns } from './changeQuestion'
import { answerField, fieldQuestion, type FieldAsked, type FieldQuestion } from './fieldQuestion'
import type { ColumnsOf, JobGround, Loader } from './ground'
import { madeOnNewest, untoldRuns, type Untold } from './madeOn'
import { commandedTable, fuelTables, tablesSince, type TableMoved } from './states'

/** Ways as they are asked for; what is left out of the field is as the job has chosen it. */
export interface WaysAsked extends FieldAsked, Pick<WaysRequest, 'ways' | 'wanted' | 'cylinder'> {}

/** What ways to put a change in are worked out from. */
export interface WaysQuestion {
  /** the field that tells what is wanted; null where that is said */
  field: FieldQuestion | null
  /** cylinder whose field is taken; null for what all need */
  cylinder: number | null
  /** fuel tables that moved since the runs were made */
  since: TableMoved[]
  wanted: Wanted | null
  ways: WayAsked[]
  /** numbers of one's own for a way, in the same order; null where they are to be found */
  set: (SettingsOf[WayKind] | null)[]
  /** runs of which it is not known what they were made on: nothing may be suggested before somebody says */
  untold: Untold[]
}

/**
 * Puts together what ways to put a change in are worked out from: the change that is said, or the field on the breakpoints of the
 * job's fuel table, of runs on its newest state, and what moved since.
 *
 * @throws Refusal 'input-refused' for a run, a table or a matrix that does not fit
 */
export async function waysQuestion(
  ground: JobGround,
  loader: Pick<Loader, 'revision'>,
  asked: WaysAsked,
): Promise<WaysQuestion> {
  const { ways, wanted, cylinder = null, ...request } = asked
  const resolved = ways.map((way, k) => resolve(ground, way, `ways[${k}]`))
  // Pulses of a swap are worked out, never taken: the gate lets them pass as what the hardware asks for.
  const set = ways.map((way) => (way.kind === 'injectors' ? null : (way.settings ?? null)))
  if (wanted) return { field: null, cylinder, since: [], wanted: wantedSaid(wanted), ways: resolved, set, untold: [] }
  const tables = fuelTables(ground.tables)
  const all = changeRuns(ground, asked)
  const made = madeOnNewest(all, tables)
  const [field, since] = await Promise.all([
    fieldQuestion(ground, loader, { ...request, runs: made.runs.map((run) => run.id) }),
    tablesSince(loader, tables, made.revisions),
  ])
  return {
    field: { ...field, older: made.older },
    cylinder,
    since,
    wanted: null,
    ways: resolved,
    set,
    untold: tables.flatMap((one) => untoldRuns(all, one) ?? []),
  }
}

/** A way with the table it names, what stands in that way already, and its axis by the one word of the core. */
function resolve({ tables }: JobGround, { settings: _, ...way }: WaysRequest['ways'][number], field: string): WayAsked {
  const tableOf = (name: 'table' | 'commanded', id: string | undefined): Table | undefined => {
    const info = tables.find((one) => one.id === id)
    if (id !== undefined && !info)
      throw inputRefused([{ field: `${field}.${name}`, message: `there is no table ${id.slice(0, 40)} in this job` }])
    return info?.table
  }
  const table = tableOf('table', 'table' in way ? way.table : undefined)
  // The wanted change rests on all readings; a map that takes turns has its own, and its own change.
  if (table && way.kind !== 'injectors' && tables.find((one) => one.table === table)?.inForce)
    throw inputRefused([
      {
        field: `${field}.table`,
        message: 'is one of several maps that take turns: its change is worked out from the readings of its own range',
      },
    ])
  const both = way.kind === 'filling' && {
    table: table ?? tables.find((one) => one.table.kind === 'filling')?.table,
    commanded: tableOf('commanded', way.commanded) ?? commandedTable(tables)?.table,
  }
  return {
    ...way,
    ...('axis' in way && { axis: way.axis === 'rpm' ? 'rpm' : 'load' }),
    ...(table && { table }),
    ...both,
    ...standingIn(tables, way.kind),
  } as WayAsked
}

/** Ways whose numbers are whole: those that come out replace those that stand. */
const STANDS: ReadonlySet<WayKind> = new Set<WayKind>(['coarse', 'bands', 'strips', 'global'])

/** The table of a job that a way of a kind was put in by; the pressure and the injectors of now are told by whoever asks. */
export const tableWithWay = <T extends Pick<TableInfo, 'revisions'>>(
  tables: readonly T[],
  kind: WayKind,
): T | undefined => tables.find((one) => one.revisions.at(-1)!.way?.asked.kind === kind)

/** The numbers that stand in a way already, where those that come out replace them. */
export function standingIn(
  tables: readonly Pick<TableInfo, 'revisions'>[],
  kind: WayKind,
): { standing?: SettingsOf[WayKind] } {
  const way = STANDS.has(kind) ? tableWithWay(tables, kind)?.revisions.at(-1)!.way : null
  return way ? { standing: way.settings } : {}
}

/** A change that is said, checked as a table is. @throws Refusal 'input-refused' */
function wantedSaid({ rpm, load, loadAxis = 'throttle', pct, weight }: NonNullable<WaysAsked['wanted']>): Wanted {
  const grid = { rpm, load, loadAxis }
  const faults = [
    ...(['rpm', 'load'] as const).flatMap((axis) => {
      const message = breakpointFault(axis, grid[axis])
      return message ? [{ field: `wanted.${axis}`, message }] : []
    }),
    ...Object.entries({ pct, weight }).flatMap(([name, values]) => {
      const message = values && shapeFault(grid, values)
      return message ? [{ field: `wanted.${name}`, message: `has ${message}` }] : []
    }),
    ...(pct.some((cells) => cells.some((one) => one !== null && !(one > -90 && one < 400)))
      ? [{ field: 'wanted.pct', message: 'has a cell outside -90 to 400 %' }]
      : []),
  ]
  if (faults.length) throw inputRefused(faults)
  return { ...grid, pct, weight: weight ?? filled(grid, 1) }
}

/** The change that is wanted, and what each way would make of it. */
export interface WaysTold {
  wanted: Wanted
  ways: WayTold[]
}

/**
 * What each way would leave of the change that is wanted.
 *
 * @param onProgress share that is done
 * @throws Refusal 'no-field' where there is nothing to estimate from, 'input-refused' for a way that cannot be worked out
 */
export function answerWays(
  { field, cylinder, since, wanted: said, ways, set }: WaysQuestion,
  columnsOf: ColumnsOf,
  onProgress?: (share: number) => void,
): WaysTold {
  const wanted = said ?? wantedBy(answerField(field!, columnsOf), cylinder, since)
  if (!wanted.pct.some((cells, row) => cells.some((one, column) => one !== null && wanted.weight[row]![column]! > 0)))
    throw refused(
      'no-field',
      'No change is wanted anywhere: nothing is known of any cell, or none has a weight.',
      'wanted',
    )
  ways.forEach((way, k) => {
    checkWay(wanted, way, `ways[${k}]`)
    if (set[k]) checkSettings(way, set[k], `ways[${k}].settings`)
  })
  return {
    wanted,
    ways: ways.map((way, k) => {
      const own = set[k]
      return own
        ? (judgeWay(wholeOf(wanted, way), way, { settings: own }) as WayTold)
        : answerWay(wanted, way, (share) => onProgress?.((k + share) / ways.length))
    }),
  }
}

/** @throws Refusal 'input-refused' for a cylinder that the runs do not tell of */
function wantedBy(field: Field, cylinder: number | null, since: readonly TableMoved[]): Wanted {
  const told = field.cylinders.map((one) => one.cylinder)
  if (cylinder !== null && !told.includes(cylinder))
    throw inputRefused([{ field: 'cylinder', message: `is not in the runs: they tell of ${told.join(', ')}` }])
  return wantedOfField(field, cylinder, since)
}

/** Ways as the HTTP interface answers them: what has to be said of each in words. */
export const waysAnswer = ({ wanted, ways }: WaysTold) =>
  ways.map((way) => ({ ...way, cautions: way.cautions.map((one) => cautionWords(one, LOAD_UNITS[wanted.loadAxis])) }))
