import { kindOfTable, setsFuel, setsPlate } from '../table/kinds'
import { counted, grouped, signed } from '../numbers/format'
import type { Table, TableKind } from '../table/table'
import { cellChange, fuelOfCell } from './applyFactor'
import { DEFAULT_LIMITS, leanestAt } from './limits'
import { DEFAULT_SPARK_LIMITS } from '../spark/sparkChange'

export const LARGE_STEP_UNITS = ['%', '°', '% of plate'] as const
type LargeStepUnit = (typeof LARGE_STEP_UNITS)[number]

/** A cell whose step is too large to be taken unasked. */
export interface LargeStep {
  row: number
  column: number
  rpm: number
  load: number
  /** percent of fuel, degrees of advance, or percent of plate */
  size: number
  /** furthest that would be let pass, with its sign */
  limit: number
  unit: LargeStepUnit
}

/** What a step is judged by. */
export interface StepGround {
  /** the state that measured runs rest on, or the first: many small saves do not pass for one large step */
  measured: Table
  /** the state before this one: what stays as it is was taken already */
  parent: Table
  /** cells, `[load][rpm]`, known to be leaner than target on the measured state: these may not be leaned far */
  lean?: boolean[][] | null
  /** factor on the table that a declared change of hardware alone asks for; taken out before judging */
  hardware?: number
}

/** Richer at once than this washes the oil off the bore and drowns what was to be measured, % (common practice). */
const RICHEST_STEP = 25
/** Rounding of what was typed. */
const SLACK = 0.051

/** Furthest step of fuel that is let pass at a cell, %. */
function fuelLimits(load: number, isLean: boolean): [leanest: number, richest: number] {
  return [-(isLean ? DEFAULT_LIMITS.leanestHighLoad : leanestAt(load, DEFAULT_LIMITS)), RICHEST_STEP]
}

/** Acceleration fuel added or taken at once, points of %: less of it can stall an opening, much more drowns it (common practice). */
const ACCELERATION = { less: -4, more: 40 }

/** Furthest step that is let pass at a cell of a table of that kind; null for kinds judged otherwise. */
function limitsAt(kind: TableKind, load: number, isLean: boolean): [least: number, most: number] | null {
  const { sets } = kindOfTable(kind)
  if (sets === 'fuel' || sets === 'target') return fuelLimits(load, isLean)
  if (sets === 'spark') return [-DEFAULT_SPARK_LIMITS.less, DEFAULT_SPARK_LIMITS.more]
  return sets === 'acceleration' ? [ACCELERATION.less, ACCELERATION.more] : null
}

/** Furthest steps of a cell that are let pass, as `GET /rules` tells them. */
export const STEP_LIMITS = {
  fuel: { least: -DEFAULT_LIMITS.leanest, most: RICHEST_STEP, unit: '%' },
  fuelUnderLoad: { least: -DEFAULT_LIMITS.leanestHighLoad, most: RICHEST_STEP, unit: '%' },
  spark: { least: -DEFAULT_SPARK_LIMITS.less, most: DEFAULT_SPARK_LIMITS.more, unit: '°' },
  acceleration: { least: ACCELERATION.less, most: ACCELERATION.more, unit: '%' },
}

/** How far a cell is from a state, as its trade counts it; from or to no fuel at all is as far as can be. */
function departure(from: Table, to: Table, row: number, column: number, hardware: number): number {
  const [before, after] = [from.values[row]![column]!, to.values[row]![column]!]
  if (setsFuel(from) && fuelOfCell(before, from) <= 0) return after > 0 ? Infinity : 0
  const { size } = cellChange(before, after, from, to)
  return hardware === 1 || !setsFuel(from) ? size : 100 * ((1 + size / 100) / hardware - 1)
}

/**
 * Cells of a table whose step is too large to be taken unasked. Fuel, and a lambda target as fuel goes by it: more than 4 %
 * leaner (2.5 % from 70 % load, or where it reads lean already), more than 25 % richer. Spark: more than 1.5 degrees more,
 * more than 4 less. Acceleration fuel: more than 4 points less, 40 more. A plate that opens more, or more steeply in the first
 * third of the grip. All are common practice. A cell that stays as it was, or comes back toward what was measured, is none.
 *
 * @param after the new state, on the same breakpoints
 */
export function largeSteps(after: Table, { measured, parent, lean = null, hardware = 1 }: StepGround): LargeStep[] {
  if (setsPlate(after)) return furtherOpen(after, [measured, parent])
  const unit = kindOfTable(after.kind).stepUnit
  return after.load.flatMap((load, row) =>
    after.rpm.flatMap((rpm, column): LargeStep[] => {
      const limits = limitsAt(after.kind, load, lean?.[row]?.[column] ?? false)
      if (!limits) return []
      const size = departure(measured, after, row, column, hardware)
      const step = departure(parent, after, row, column, 1)
      const limit = size > 0 ? limits[1] : limits[0]
      const isLarge = Math.abs(size) > Math.abs(limit) + SLACK
      const goesOn = step * size > 0 || (hardware !== 1 && step !== 0)
      return isLarge && goesOn ? [{ row, column, rpm, load, size, limit, unit }] : []
    }),
  )
}

/** First third of the grip, %, and by how much steeper its plate may become unasked, % of plate per % of grip. */
const THIRD = 100 / 3
const STEEPER = 0.1

/** % of plate that a cell may open more than before, unasked. */
const MORE_OPEN = 15

/** Cells of a plate table that would open more steeply in the first third of the grip than in any of some states, or much further anywhere. */
function furtherOpen(after: Table, before: readonly Table[]): LargeStep[] {
  const steeper = steeperThirds(after, before)
  const isTold = (row: number, column: number): boolean =>
    steeper.some((one) => one.row === row && one.column === column)
  const further = after.load.flatMap((load, row) =>
    after.rpm.flatMap((rpm, column): LargeStep[] => {
      const now = after.values[row]![column]!
      const limit = Math.max(...before.map(({ values }) => values[row]![column]!)) + MORE_OPEN
      return now > limit + SLACK && !isTold(row, column)
        ? [{ row, column, rpm, load, size: now, limit, unit: '% of plate' }]
        : []
    }),
  )
  return [...steeper, ...further]
}

/**
 * Cells in the first third of the grip at which a plate table would open more steeply than in any of some states: that is
 * where a machine is balanced by hand.
 */
function steeperThirds(after: Table, before: readonly Table[]): LargeStep[] {
  return after.load.flatMap((load, row) => {
    if (row === 0 || load > THIRD + 1e-9) return []
    const grip = load - after.load[row - 1]!
    return after.rpm.flatMap((rpm, column): LargeStep[] => {
      const [now, ...then] = [after, ...before].map(
        ({ values }) => values[row]![column]! - values[row - 1]![column]!,
      ) as [number, ...number[]]
      const limit = Math.max(0, ...then) + STEEPER * grip
      return now > limit + SLACK ? [{ row, column, rpm, load, size: now, limit, unit: '% of plate' }] : []
    })
  })
}

/** Whether a step leans some cell by so much that it matters whether that cell reads lean already. */
export function dependsOnLean(after: Table, ground: StepGround): boolean {
  const all = after.values.map((cells) => cells.map(() => true))
  return largeSteps(after, { ...ground, lean: all }).length > largeSteps(after, { ...ground, lean: null }).length
}

const sizeText = (size: number): string => (Number.isFinite(size) ? signed(size) : 'from nothing')

/** One such cell in words. */
export function largeStepText({ rpm, load, size, limit, unit }: LargeStep): string {
  return `${grouped(rpm)} rpm, load ${load}: ${sizeText(size)} ${unit}, at most ${sizeText(limit)} ${unit}`
}

const MOST_NAMED = 6

/**
 * Why they are not taken unasked, in words.
 *
 * @param from what they are judged against, as "revision 2"
 */
export function largeStepsText(steps: readonly LargeStep[], from: string): string {
  const largest = [...steps].sort((a, b) => Math.abs(b.size) - Math.abs(a.size))
  const named = largest.slice(0, MOST_NAMED).map(largeStepText)
  const rest = steps.length - named.length
  const why =
    steps[0]?.unit === '°'
      ? 'A large step of advance can knock before anybody hears it, and a large step back runs the exhaust hot.'
      : steps[0]?.unit === '% of plate'
        ? 'A plate that opens more than the hand asks for can throw a rider.'
        : 'Lean under load destroys pistons, and much too rich washes the oil off the bore.'
  if (steps[0]?.unit === '% of plate')
    return `${counted(steps.length, 'cell opens', 'cells open')} further, or more steeply, than ${from}: ${named.join('; ')}${rest > 0 ? `; and ${rest} more` : ''}. ${why} Keep it no steeper, or say why this once it must be.`
  return `${counted(steps.length, 'cell moves', 'cells move')} far from ${from}: ${named.join('; ')}${rest > 0 ? `; and ${rest} more` : ''}. ${why} Go in small steps and measure between them, or say why this once it must be.`
}
