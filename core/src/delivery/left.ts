import { factorFromPercent } from '../fuel/mixture'
import { build, type SparseMatrix } from '../table/table'
import type { Points } from './points'
import type { Wanted } from './wanted'

/** Factor on the fuel that a way gives at a speed and a load. */
export type Given = (rpm: number, load: number) => number

/** The largest error of a kind, and where it stands; %, positive lean. */
export interface Worst {
  pct: number
  rpm: number
  load: number
}

/** What a way leaves wrong, between cells, too. */
export interface Left {
  /** typically off by: root of the mean square by use, % */
  rmsPct: number
  /** the same with lean counting twice, four times from 70 % load: what the ways are chosen by */
  costPct: number
  /** the leanest and the richest place; below zero where even the leanest is rich */
  worstLean: Worst
  worstRich: Worst
  /** share of the use that ends within 2 %, % */
  within2Pct: number
}

const WITHIN = 0.02

/**
 * What is left wrong at one place: (1 + wanted) / (1 + given) - 1, positive lean.
 *
 * @example
 * residual(1.05, 1.03).toFixed(4) // '0.0194'
 */
export const residual = (wanted: number, given: number): number => wanted / given - 1

/** Factors that a way gives at the places of some points. */
export function givenAt(points: Points, given: Given): Float64Array {
  return Float64Array.from(points.factor, (_, k) => given(points.rpm[points.column[k]!]!, points.load[points.row[k]!]!))
}

/** What is left by factors given at some points. */
export function leftOf(points: Points, given: Float64Array): Left {
  let [squares, cost, within, lean, rich] = [0, 0, 0, 0, 0]
  const { factor, weight } = points
  const errors = factor.map((wanted, k) => residual(wanted, given[k]!))
  errors.forEach((error, k) => {
    const square = weight[k]! * error ** 2
    squares += square
    cost += error > 0 ? square * points.lean[k]! : square
    if (Math.abs(error) <= WITHIN + 1e-9) within += weight[k]!
    if (error > errors[lean]!) lean = k
    if (error < errors[rich]!) rich = k
  })
  const worst = (k: number): Worst => ({
    pct: 100 * errors[k]!,
    rpm: points.rpm[points.column[k]!]!,
    load: points.load[points.row[k]!]!,
  })
  return {
    rmsPct: 100 * Math.sqrt(squares),
    costPct: 100 * Math.sqrt(cost),
    worstLean: worst(lean),
    worstRich: worst(rich),
    within2Pct: Math.min(100, Number((100 * within).toFixed(9))),
  }
}

/** What is left wrong by cell, %, positive lean; null where nothing is wanted. */
export function residualPct(wanted: Wanted, given: Given): SparseMatrix {
  return build(wanted, (row, column) => {
    const pct = wanted.pct[row]![column]!
    return pct === null ? null : 100 * residual(factorFromPercent(pct), given(wanted.rpm[column]!, wanted.load[row]!))
  })
}
