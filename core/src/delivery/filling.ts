import { factorFromPercent, percentFromFactor } from '../fuel/mixture'
import { MOST_FILLING } from '../fuel/filling'
import { targetOn } from '../field/target'
import { interpolate } from '../table/lookup'
import type { Matrix, Table } from '../table/table'
import type { Given, Worst } from './left'
import { onTop } from './onTop'
import { fitWholeTable, givenByWhole } from './wholeTable'
import type { Wanted } from './wanted'
import type { AskedOf, SettingsOf } from './ways'

type Asked = AskedOf<'filling'>
type Settings = SettingsOf['filling']

/** The lambda that a table commands, on its breakpoints, once it is set by intent; null where it stays. */
const intended = ({ commanded, intent }: Asked): Matrix | null =>
  commanded && intent !== undefined ? targetOn(commanded, commanded.loadAxis, { preset: intent, zones: [] }) : null

/** Factor on the fuel that another commanded lambda asks for: fuel goes as one over it. */
function givenByCommanded(before: Table, after: Matrix): Given {
  return (rpm, load) => interpolate(before, before.values, rpm, load) / interpolate(before, after, rpm, load)
}

/** A wanted change with what is intended on top of what was measured. */
export function withIntent(wanted: Wanted, asked: Asked): Wanted {
  const target = intended(asked)
  if (!target) return wanted
  return onTop(wanted, givenByCommanded(asked.commanded!, target))
}

/**
 * Filling and commanded lambda, each by its own: fuel = filling / lambda. The filling takes what was measured over what was
 * commanded; the commanded lambda takes what is intended, and nothing else.
 *
 * @param measured what the readings ask for over what was commanded
 * @throws RangeError when nothing is wanted
 */
export function fitFilling(measured: Wanted, asked: Asked): Settings {
  const { table, commanded, equalFrom } = asked
  const { rpm, load, values } = fitWholeTable(measured, table!)
  const own = equalFrom === undefined ? values : equalled({ ...table!, values }, table!, equalFrom)
  const target = intended(asked)
  return {
    filling: { rpm, load, values: own },
    target: target && { rpm: commanded!.rpm, load: commanded!.load, values: target },
  }
}

/**
 * Rows from a load up made one, speed by speed: there the plate no longer rules the air. The richest of them stands for all, so
 * that none is left lean. @returns change by cell, %
 */
function equalled({ load, values: change }: Table, before: Table, from: number): Matrix {
  const rows = load.flatMap((at, row) => (at >= from ? [row] : []))
  const after = change.map((cells, row) => cells.map((pct, c) => before.values[row]![c]! * factorFromPercent(pct)))
  return change.map((cells, row) =>
    cells.map((pct, column) => {
      const now = before.values[row]![column]!
      if (!rows.includes(row) || now <= 0) return pct
      return percentFromFactor(Math.max(...rows.map((one) => after[one]![column]!)) / now)
    }),
  )
}

/** Factor that changes of filling and of commanded lambda give together. */
export function givenByFilling({ table, commanded }: Asked, { filling, target }: Settings): Given {
  const byFilling = givenByWhole(filling, table)
  if (!target || !commanded) return byFilling
  const byCommanded = givenByCommanded(commanded, target.values)
  return (rpm, load) => byFilling(rpm, load) * byCommanded(rpm, load)
}

/** Cells that would be filled further than an engine breathes: the mixture is off for another reason there. */
export function breathesTooMuch({ table }: Asked, { filling }: Settings): { cells: number; most: Worst } | null {
  if (!table) return null
  const over = table.values.flatMap((cells, row) =>
    cells.flatMap((now, column): Worst[] => {
      const pct = now * factorFromPercent(filling.values[row]![column]!)
      return pct > MOST_FILLING ? [{ pct, rpm: table.rpm[column]!, load: table.load[row]! }] : []
    }),
  )
  return over.length ? { cells: over.length, most: over.reduce((a, b) => (b.pct > a.pct ? b : a)) } : null
}
