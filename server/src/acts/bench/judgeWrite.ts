import {
  build,
  changeCell,
  effectOfWay,
  factorBetween,
  fitsController,
  fuelTables,
  interpolate,
  largeSteps,
  nameOfWay,
  setsPlate,
  tableSteps,
  workingTable,
  type ControllerWays,
  type Danger,
  type LargeStep,
  type LoadGrid,
  type Matrix,
  type Table,
  type TableInfo,
  type WayAsked,
} from '@yuzumix/core'
import type { ControllerTable } from '../../rigs/rigLink'
import type { BenchSession } from '../../sessions/session'
import { jobThere } from '../../store/jobs'
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
  const measured = await session.measured()
  // What settings and tables beside it were moved since acts on every cell: all are judged together.
  const [ways, tables] = await Promise.all([session.link.ways(), session.link.tables()])
  const byWays = movedByWays(slot.table, measured.ways, ways)
  const byTables = movedByTables(slot, measured.tables, tables)
  const rulesFuel = fuelTables(tables).some((one) => one.id === slot.id)
  const moved = build(slot.table, (row, column) => byWays[row]![column]! * byTables[row]![column]!)
  const after: Table = { ...slot.table, values: rulesFuel ? timesEach(slot.table, values, moved) : values }
  const job = await jobThere(workshop.store, session.job)
  const fitting = (await listTables(workshop.store, job.id)).filter((one) => fitsController(one, slot))
  if (await isReasoned(workshop, fitting, values)) return { steps: [], from: '' }
  const inside = measured.tables.find((one) => one.id === slot.id)?.table ?? slot.table
  const steps = stepsBetween(inside, after)
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

/** Factor by which the settings beside the tables changed the fuel between two states, by cell. */
function movedByWays(grid: LoadGrid, before: ControllerWays, after: ControllerWays): Matrix {
  const factorOf = (ways: ControllerWays, row: number, column: number): number =>
    effects.get(ways)!.reduce((factor, one) => factor * (1 + one.values[row]![column]! / 100), 1)
  const kinds = Object.keys(after) as (keyof ControllerWays)[]
  const effects = new Map(
    [before, after].map((ways) => [ways, kinds.map((kind) => effectIn(grid, kind, before, ways[kind]))]),
  )
  return build(grid, (row, column) => factorOf(after, row, column) / factorOf(before, row, column))
}

/** Factor by which the other tables that rule the fuel of the same cylinder changed it between two states, by cell. */
function movedByTables(
  slot: ControllerTable,
  before: readonly ControllerTable[],
  now: readonly ControllerTable[],
): Matrix {
  const { rpm, load, loadAxis } = slot.table
  const others = fuelTables(now).filter(
    (one) =>
      one.id !== slot.id &&
      one.table.loadAxis === loadAxis &&
      (one.cylinder === null || slot.cylinder === null || one.cylinder === slot.cylinder),
  )
  return build(slot.table, (row, column) =>
    others.reduce((factor, { id, table, cylinder }) => {
      const then = before.find((one) => one.id === id)?.table
      // A trim of one cylinder says nothing of a table that serves all.
      if (!then || (cylinder !== null && slot.cylinder === null)) return factor
      const [a, b] = [then, table].map((one) => interpolate(one, one.values, rpm[column]!, load[row]!))
      return factor * factorBetween(a!, b!, then, table)
    }, 1),
  )
}

/** Values of a table whose fuel is multiplied cell by cell. */
const timesEach = (table: Table, values: Matrix, factors: Matrix): Matrix =>
  build(table, (row, column) => changeCell(values[row]![column]!, 100 * (factors[row]![column]! - 1), table))

/** What restoring the first contents would move too far from what is in the controller now: the engine has run on that. */
export async function judgeRestore({ link }: BenchSession): Promise<Danger[]> {
  if (!link.state().readable) return []
  const [now, first, ways, firstWays] = await Promise.all([
    link.tables(),
    link.firstTables(),
    link.ways(),
    link.firstWays(),
  ])
  const tables = first.map(({ id, name, table }) => ({
    name,
    steps: stepsBetween(now.find((one) => one.id === id)!.table, table),
    kind: table.kind,
  }))
  const settings = (Object.keys(ways) as (keyof ControllerWays)[]).map((kind) => ({
    name: nameOfWay(kind),
    steps: wayStepsBetween(now[0]!.table, kind, ways, firstWays[kind]),
    kind: 'fuel trim' as const,
  }))
  return [...tables, ...settings].flatMap(({ name, steps, kind }) =>
    tableSteps(kind, steps, `what is in "${name}" now`).map((one) => ({
      ...one,
      text: `Restoring what was there first: ${one.text}`,
    })),
  )
}

const stepsBetween = (before: Table, after: Table): LargeStep[] =>
  largeSteps(after, { measured: before, parent: before })

/**
 * Steps of fuel from what stands in a controller to other settings of one way that are too large to be taken unasked.
 *
 * @param grid breakpoints that they are judged on
 */
export function wayStepsBetween<K extends keyof ControllerWays>(
  grid: LoadGrid,
  kind: K,
  now: ControllerWays,
  settings: ControllerWays[K],
): LargeStep[] {
  return stepsBetween(effectIn(grid, kind, now, now[kind]), effectIn(grid, kind, now, settings))
}

/** What settings of a way do to the fuel, as a trim. Only a pressure is judged from what it was; the others say all by themselves. */
function effectIn<K extends keyof ControllerWays>(
  grid: LoadGrid,
  kind: K,
  from: ControllerWays,
  settings: ControllerWays[K],
): Table {
  return effectOfWay(grid, { kind, kPa: from.pressure.kPa } as unknown as WayAsked, settings as never)
}
