import { kindOfTable } from '../table/kinds'
import { factorFromPercent, percentFromFactor } from '../fuel/mixture'
import { interpolate } from '../table/lookup'
import type { Table } from '../table/table'
import { cellChange } from './applyFactor'

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
    return cellChange(before, after, from, to).size
  })
  return moves.reduce((most, one) => (Math.abs(one) > Math.abs(most) ? one : most), 0)
}

/** How far tables of a kind moved since a time, for the cylinder that was moved furthest; `sum` puts several tables together. */
function furthest(
  histories: readonly TableHistory[],
  what: 'fuel' | 'spark',
  sum: (moves: readonly number[]) => number,
  of: (history: TableHistory) => number,
): number {
  const all = histories.filter(({ states }) => kindOfTable(states.at(-1)!.table.kind).sets === what)
  const own = [...new Set(all.flatMap((one) => one.cylinder ?? []))]
  return (own.length ? own : [null])
    .map((cylinder) => sum(all.filter((one) => one.cylinder === null || one.cylinder === cylinder).map(of)))
    .reduce((most, one) => (Math.abs(one) > Math.abs(most) ? one : most), 0)
}

const movedSince =
  (at: string, rpm: number, load: number) =>
  (history: TableHistory): number => {
    const { states } = history
    return moved(states[stateAt(history, at)]!.table, states.at(-1)!.table, rpm, load)
  }

/**
 * How far fuel was moved since a time at a point, %: tables multiply, and of cylinders with tables of their own the one
 * moved furthest counts.
 *
 * @param at ISO time; @param load % of plate
 */
export function fuelMoved(histories: readonly TableHistory[], at: string, rpm: number, load: number): number {
  const together = (moves: readonly number[]): number =>
    percentFromFactor(moves.reduce((factor, one) => factor * factorFromPercent(one), 1))
  return furthest(histories, 'fuel', together, movedSince(at, rpm, load))
}

/** How far spark was moved since a time at a point, degrees, of the cylinder moved furthest: base and trim add up. */
export function sparkMoved(histories: readonly TableHistory[], at: string, rpm: number, load: number): number {
  const together = (moves: readonly number[]): number => moves.reduce((sum, one) => sum + one, 0)
  return furthest(histories, 'spark', together, movedSince(at, rpm, load))
}
