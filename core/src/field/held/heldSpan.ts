import { addAt, banded, cholesky, solveFactored } from '../../numbers/banded'
import { BIN, type Bin } from '../readings/rowBins'

/** Narrower spans are crossings of lambda 1, not zones. */
const LEAST_SPAN = 600
/** A mean further off lambda 1 than this (ln) is another level. */
const MOST_OFFSET = 0.008
/** Mean square of the bins' levels in units of their own error: a loop leaves little but noise, about 1. */
const MOST_EXCESS = 3
/** What a loop's own hunting adds to the error of a bin inside a zone (ln). */
const HUNTING = 0.004
/** A loop passes lambda 1 again and again; and the widest swing it may have (ln, one deviation). */
const LEAST_TURNS = 3
const MOST_SWING = 0.025
/** Passes scatter this much more where a loop hunts, and what that may speak for a zone at most, in chi-square. */
const HUNTS = 1.8
const MOST_HUNTING = 40
/** Bins beyond a pinned stretch on which the two explanations are judged. */
export const MARGIN = 5
/** Degree of the smooth curve that would explain the readings without a held zone, and of the pieces beside one. */
const SMOOTH_DEGREE = 5
const BESIDE_DEGREE = 2
/** A bin next to an edge is smeared by the sensor: it counts against the held explanation by no more than this chi-square. */
const SMEARED = 2
/** Cost of one parameter, in chi-square (Akaike). */
const PARAMETER = 2
/** Cost of an edge at which nothing steps: the zone then likely goes on there. */
const SMOOTH_EDGE = 8
/** How clearly the held explanation must win, and the step it must show at an edge: alone, and beside a stop where a zone is known. */
export const ALONE: Demand = { win: 16, step: 0.018 }
export const BESIDE: Demand = { win: 4, step: 0.01 }

export interface Demand {
  win: number
  step: number
}

/** Bins of a held zone, ends included, and by how much it explains the readings better than a smooth curve, in chi-square. */
export interface HeldSpan {
  from: number
  to: number
  win: number
}

/** A bin with its place in the row. */
interface Point extends Bin {
  b: number
}

export function pointsOf(bins: readonly (Bin | null)[], from: number, to: number): Point[] {
  const points: Point[] = []
  for (let b = from; b <= to; b++) {
    const bin = bins[b]
    if (bin) points.push({ b, ...bin })
  }
  return points
}

/**
 * The held span within a pinned stretch, or null. Two explanations compete for the stretch and its margins: one smooth
 * curve through all of it, or lambda 1 over a span with a step to a curve on either side. The second must be flat inside
 * and win clearly; a field that merely touches or crosses lambda 1 is explained as well by the first.
 */
export function heldSpan(bins: readonly (Bin | null)[], from: number, to: number, demand: Demand): HeldSpan | null {
  const least = Math.ceil(LEAST_SPAN / BIN)
  const window = pointsOf(bins, from - MARGIN, to + MARGIN)
  const smooth = polynomial(window, Math.min(SMOOTH_DEGREE, window.length - 4)).cost
  let best: HeldSpan | null = null
  let bestCost = smooth - demand.win
  for (let a = from; a <= to - least + 1; a++) {
    const before = beside(window.filter((p) => p.b < a - 1))
    if (before.cost > bestCost) continue
    for (let b = a + least - 1; b <= to; b++) {
      const inside = window.filter((p) => p.b >= a && p.b <= b)
      if (inside.length < least) continue
      const chi = lambdaOne(inside)
      if (chi === null) continue
      const after = beside(window.filter((p) => p.b > b + 1))
      const steps = [
        before.points > 1 ? Math.abs(before.at(a - 1)) : null,
        after.points > 1 ? Math.abs(after.at(b + 1)) : null,
      ]
      const step = Math.max(...steps.map((size) => size ?? 0))
      const level = steps.filter((size) => size !== null && size < BESIDE.step).length
      const cost = chi + before.cost + after.cost + SMEARED + SMOOTH_EDGE * level - hunting(bins, a, b)
      if (step >= demand.step && cost < bestCost) [best, bestCost] = [{ from: a, to: b, win: smooth - cost }, cost]
    }
  }
  return best && extended(bins, best)
}

/** Chi-square of bins about lambda 1; null where they lie elsewhere. */
function lambdaOne(inside: readonly Point[]): number | null {
  const mean = inside.reduce((sum, p) => sum + p.level, 0) / inside.length
  const errors = inside.map((p) => Math.hypot(p.error, HUNTING))
  const chiWith = (swing: number): number =>
    inside.reduce((sum, p, k) => sum + p.level ** 2 / (errors[k]! ** 2 + swing ** 2), 0)
  const most = MOST_EXCESS * inside.length
  const plain = chiWith(0)
  if (plain <= most) return Math.abs(mean) > MOST_OFFSET ? null : plain
  // Passes that meet a loop at the same point of its swing agree on it: their errors do not tell of it.
  const turns = turnsOf(inside)
  if (turns < LEAST_TURNS) return null
  const square = inside.reduce((sum, p, k) => sum + p.level ** 2 - errors[k]! ** 2, 0) / inside.length
  const swing = Math.sqrt(Math.max(0, square))
  const chi = chiWith(swing)
  if (swing > MOST_SWING || chi > most) return null
  if (Math.abs(mean) > Math.hypot(MOST_OFFSET, swing / Math.sqrt(turns + 1))) return null
  return chi + errors.reduce((sum, error) => sum + Math.log1p((swing / error) ** 2), 0) + PARAMETER
}

/** How often the bins pass from one side of lambda 1 to the other, those that cannot tell left out. */
function turnsOf(points: readonly Point[]): number {
  const sides = points.filter((p) => Math.abs(p.level) > p.error).map((p) => Math.sign(p.level))
  return sides.filter((side, k) => k > 0 && side !== sides[k - 1]).length
}

/** Errors by which a bin beside a span may be off lambda 1 and still belong to it: an edge steps by more. */
const STILL_HELD = 2

function extended(bins: readonly (Bin | null)[], { from, to, win }: HeldSpan): HeldSpan {
  const isHeld = (b: number): boolean => {
    const bin = bins[b]
    return !!bin && Math.abs(bin.level) <= STILL_HELD * Math.hypot(bin.error, HUNTING)
  }
  let [first, last] = [from, to]
  while (isHeld(first - 1)) first--
  while (isHeld(last + 1)) last++
  return { from: first, to: last, win }
}

/**
 * How strongly the scatter of passes speaks for a loop that hunts between two bins: the likelihood ratio of a scatter of
 * its own there against one for the whole row; 0 unless it is clearly wider.
 */
function hunting(bins: readonly (Bin | null)[], from: number, to: number): number {
  let [apart, free, apartElse, freeElse] = [0, 0, 0, 0]
  bins.forEach((bin, b) => {
    if (!bin) return
    if (b >= from && b <= to) {
      apart += bin.apart
      free += bin.free
    } else if (b < from - 1 || b > to + 1) {
      apartElse += bin.apart
      freeElse += bin.free
    }
  })
  if (free < 4 || freeElse < 4 || !(apartElse > 0)) return 0
  const [inside, outside] = [apart / free, apartElse / freeElse]
  if (inside < HUNTS ** 2 * outside) return 0
  const pooled = (apart + apartElse) / (free + freeElse)
  const ratio = (free + freeElse) * Math.log(pooled) - free * Math.log(inside) - freeElse * Math.log(outside)
  return Math.min(MOST_HUNTING, ratio)
}

/** The curve beside a zone. */
function beside(points: readonly Point[]): Curve & { points: number } {
  return { ...polynomial(points, Math.min(BESIDE_DEGREE, Math.max(0, points.length - 2))), points: points.length }
}

interface Curve {
  /** sum of squares in errors, with the cost of its parameters */
  cost: number
  at: (b: number) => number
}

/** Weighted least-squares polynomial through the points, in bins. */
export function polynomial(points: readonly Point[], degree: number): Curve {
  const terms = Math.min(degree + 1, points.length)
  if (terms <= 0) return { cost: 0, at: () => 0 }
  const low = points[0]!.b
  const half = Math.max(1, (points.at(-1)!.b - low) / 2)
  const scaled = (b: number): number => (b - low) / half - 1
  const normal = banded(terms, terms - 1)
  const right = new Float64Array(terms)
  for (const { b, level, error } of points) {
    for (let row = 0; row < terms; row++) {
      right[row]! += (level * scaled(b) ** row) / error ** 2
      for (let column = 0; column <= row; column++) addAt(normal, row, column, scaled(b) ** (row + column) / error ** 2)
    }
  }
  for (let row = 0; row < terms; row++) addAt(normal, row, row, 1e-6)
  const c = solveFactored(cholesky(normal), right)
  const at = (b: number): number => c.reduce((sum, value, row) => sum + value * scaled(b) ** row, 0)
  const chi = points.reduce((sum, p) => sum + ((p.level - at(p.b)) / p.error) ** 2, 0)
  return { cost: chi + PARAMETER * terms, at }
}
