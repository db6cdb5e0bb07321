import { factorFromPercent, percentFromFactor } from '../fuel/mixture'
import { interpolate } from '../table/lookup'
import type { Table } from '../table/table'
import { factorBetween } from './applyFactor'

/** A table with every state that may still matter, oldest first; the last is what it holds now. */
export interface TableHistory {
  id: string
  name: string
  /** from 1; null when it serves all */
  cylinder: number | null
  states: { n: number; at: string; table: Table }[]
}

/** Number of the state that was in force at a time; the first where it did not exist yet. */
function stateAt({ states }: TableHistory, at: string): number {
  return Math.max(
    0,
    states.findLastIndex((one) => one.at <= at),
  )
}

/** Percent of fuel and degrees of advance that two states of a table differ by, at a point. */
function moved(from: Table, to: Table, rpm: number, load: number): number {
  // Where rows stand for manifold pressure, a throttle opening tells no row: the largest move in that column counts.
  const loads = to.loadAxis === 'throttle' ? [load] : to.load
  const moves = loads.map((at) => {
    const [before, after] = [interpolate(from, from.values, rpm, at), interpolate(to, to.values, rpm, at)]
    return to.kind.startsWith('fuel') ? percentFromFactor(factorBetween(before, after, to)) : after - before
  })
  return moves.reduce((most, one) => (Math.abs(one) > Math.abs(most) ? one : most), 0)
}

const ofKind = (histories: readonly TableHistory[], what: 'fuel' | 'spark'): TableHistory[] =>
  histories.filter(({ states }) => states.at(-1)!.table.kind.startsWith(what))

/**
 * How far fuel was moved since a time at a point, %: tables multiply, and of cylinders with tables of their own the one
 * moved furthest counts.
 *
 * @param at ISO time; @param load % of plate
 */
export function fuelMoved(histories: readonly TableHistory[], at: string, rpm: number, load: number): number {
  const fuel = ofKind(histories, 'fuel')
  const cylinders = [...new Set(fuel.flatMap((one) => one.cylinder ?? []))]
  const ofCylinder = (cylinder: number | null): number => {
    const serving = fuel.filter((one) => one.cylinder === null || one.cylinder === cylinder)
    return percentFromFactor(
      serving.reduce((factor, one) => {
        const { states } = one
        const percent = moved(states[stateAt(one, at)]!.table, states.at(-1)!.table, rpm, load)
        return factor * factorFromPercent(percent)
      }, 1),
    )
  }
  return (cylinders.length ? cylinders : [null])
    .map(ofCylinder)
    .reduce((most, one) => (Math.abs(one) > Math.abs(most) ? one : most), 0)
}

/** How far spark was moved since a time at a point, degrees: base and trim add up. */
export function sparkMoved(histories: readonly TableHistory[], at: string, rpm: number, load: number): number {
  return ofKind(histories, 'spark').reduce((sum, one) => {
    const { states } = one
    return sum + moved(states[stateAt(one, at)]!.table, states.at(-1)!.table, rpm, load)
  }, 0)
}
