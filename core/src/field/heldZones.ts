import { rowFinder } from '../table/lookup'
import type { Grid } from '../table/table'
import { addAt, banded, cholesky, solveFactored } from '../numbers/banded'
import { median } from '../numbers/median'
import { type Samples } from './samples'

/** Where closed loop pins the mixture at stoichiometric: a span of rpm on one throttle stop. */
export interface HeldZone {
  /** row of the table the stop is nearest to */
  row: number
  /** mean load of the samples in the zone */
  load: number
  fromRpm: number
  toRpm: number
}

const BIN = 150
const LEAST_SAMPLES = 4
/** A bin is pinned when its mean over the runs lies this near lambda 1 (ln). */
const PINNED = 0.014
/** Narrower spans are crossings of lambda 1, not zones. */
const LEAST_SPAN = 600
/** A mean further off lambda 1 than this (ln) is another level. */
const MOST_OFFSET = 0.008
/** Mean square of the bins' levels in units of their own error: a loop leaves little but noise, about 1. */
const MOST_EXCESS = 3
/** What repeats add to the error of a bin, and what a loop's own hunting adds inside a zone (ln). */
const BETWEEN = 0.002
const HUNTING = 0.004
/** Bins beyond a pinned stretch on which the two explanations are judged. */
const MARGIN = 5
/** Degree of the smooth curve that would explain the readings without a held zone, and of the pieces beside one. */
const SMOOTH_DEGREE = 5
const BESIDE_DEGREE = 2
/** A bin next to an edge is smeared by the sensor: it counts against the held explanation by no more than this chi-square. */
const SMEARED = 2
/** Bins at the start of the data, and how far off lambda 1 (ln) they may be, that still belong to a zone beside them. */
const PULL_IN = 4
const PULL_IN_LEVEL = 0.02
/** Cost of one parameter, in chi-square (Akaike). */
const PARAMETER = 2
/** Cost of an edge at which nothing steps: the zone then likely goes on there. */
const SMOOTH_EDGE = 8
/** How clearly the held explanation must win, and the step it must show at an edge: alone, and beside a stop where a zone is known. */
const ALONE: Demand = { win: 16, step: 0.018 }
const BESIDE: Demand = { win: 4, step: 0.01 }

interface Demand {
  win: number
  step: number
}

/** One rpm bin on one row: medians of ln lambda by run, and how many samples. */
interface Bin {
  level: number
  /** standard error of the level */
  error: number
}

/**
 * Finds held zones by throttle stop: stretches of rpm, repeat after repeat, where the reading lies flat on lambda 1 and
 * then leaves it at an edge. A field that merely crosses lambda 1 has a slope there and no edge.
 *
 * @param lambda one column of readings, by sample
 * @returns zones in rising row and rpm
 */
export function findHeldZones(grid: Grid, samples: Samples, lambda: Float32Array): HeldZone[] {
  const rows = new Map<number, number[]>()
  const rowOf = rowFinder(grid)
  for (let i = 0; i < samples.count; i++) {
    const row = rowOf(samples.load[i]!)
    let list = rows.get(row)
    if (!list) rows.set(row, (list = []))
    list.push(i)
  }
  const all = [...rows].sort((a, b) => a[0] - b[0])
  const zones = all.flatMap(([row, list]) => zonesOfRow(row, list, samples, lambda, ALONE))
  // A loop's zone spans neighbouring stops: beside a known zone, less is asked.
  for (const [row, list] of all) {
    const known = zones.filter((zone) => Math.abs(zone.row - row) === 1)
    if (known.length === 0 || zones.some((zone) => zone.row === row)) continue
    const overlaps = (a: HeldZone): boolean =>
      known.some((b) => Math.min(a.toRpm, b.toRpm) - Math.max(a.fromRpm, b.fromRpm) > 0.5 * (b.toRpm - b.fromRpm))
    zones.push(...zonesOfRow(row, list, samples, lambda, BESIDE).filter(overlaps))
  }
  // Where a row's data begin a little before its zone, and the row beside it is held from there on, the loop was only
  // pulling in.
  for (const zone of zones) {
    const begin = rows.get(zone.row)!.reduce((least, i) => Math.min(least, samples.rpm[i]!), Infinity)
    const isBeside = zones.some(
      (one) =>
        Math.abs(one.row - zone.row) === 1 &&
        one.fromRpm <= begin + BIN &&
        Math.min(one.toRpm, zone.toRpm) - Math.max(one.fromRpm, zone.fromRpm) > 0.5 * (zone.toRpm - zone.fromRpm),
    )
    if (zone.fromRpm > begin && zone.fromRpm - begin <= PULL_IN * BIN && isBeside) zone.fromRpm = Math.floor(begin)
  }
  return zones.sort((a, b) => a.row - b.row || a.fromRpm - b.fromRpm)
}

function zonesOfRow(
  row: number,
  list: readonly number[],
  samples: Samples,
  lambda: Float32Array,
  demand: Demand,
): HeldZone[] {
  const byBin = new Map<number, Map<number, Sums>>()
  // Samples come in time order and stay in a bin for a while: the last one is nearly always the next one's.
  let lastBin = -1
  let lastRun = -1
  let sums: Sums = { count: 0, sum: 0, square: 0 }
  for (const i of list) {
    const value = Math.log(lambda[i]!)
    if (Number.isNaN(value)) continue
    const b = Math.floor(samples.rpm[i]! / BIN)
    const run = samples.run[i]!
    if (b !== lastBin || run !== lastRun) {
      let runs = byBin.get(b)
      if (!runs) byBin.set(b, (runs = new Map()))
      const known = runs.get(run)
      if (known) sums = known
      else runs.set(run, (sums = { count: 0, sum: 0, square: 0 }))
      lastBin = b
      lastRun = run
    }
    sums.count++
    sums.sum += value
    sums.square += value * value
  }
  if (byBin.size === 0) return []
  const first = Math.min(...byBin.keys())
  const last = Math.max(...byBin.keys())
  const bins: (Bin | null)[] = []
  for (let b = first; b <= last; b++) {
    bins.push(binOf(byBin.get(b)))
  }
  const smooth = bins.map((bin, k) => {
    const around = [bins[k - 1], bin, bins[k + 1]].filter(
      (one): one is Bin => !!one && !!bin && Math.abs(one.level - bin.level) < PINNED,
    )
    return bin && around.length ? around.reduce((sum, one) => sum + one.level, 0) / around.length : NaN
  })
  /** Level beyond an edge by rpm, null where the data end. */
  const outside = (from: number, to: number): ((rpm: number) => number) | null => {
    const points = pointsOf(bins, from, to)
    if (points.length < 2) return null
    const { at } = polynomial(points, points.length < 3 ? 0 : 1)
    return (rpm) => at(rpm / BIN - first - 0.5)
  }
  const zones: HeldZone[] = []
  for (let k = 0; k < bins.length;) {
    if (!(Math.abs(smooth[k]!) < PINNED)) {
      k++
      continue
    }
    let end = k
    for (let next = k + 1; next < bins.length && next - end <= 2; next++)
      if (Math.abs(smooth[next]!) < PINNED) end = next
    const span = heldSpan(bins, k, end, demand)
    if (span) {
      // Where the data begin just beside the zone, the loop was still pulling in: no other edge is seen there.
      while (
        span.from > 0 &&
        span.from <= PULL_IN &&
        bins.slice(0, span.from).every((bin) => !bin || Math.abs(bin.level) < PULL_IN_LEVEL)
      )
        span.from--
      const fromRpm = refineEdge(
        list,
        samples,
        lambda,
        (first + span.from) * BIN,
        -1,
        outside(span.from - 1 - MARGIN, span.from - 2),
      )
      const toRpm = refineEdge(
        list,
        samples,
        lambda,
        (first + span.to + 1) * BIN,
        1,
        outside(span.to + 2, span.to + 1 + MARGIN),
      )
      const inside = list.filter((i) => samples.rpm[i]! >= fromRpm && samples.rpm[i]! < toRpm)
      zones.push({ row, load: inside.reduce((sum, i) => sum + samples.load[i]!, 0) / inside.length, fromRpm, toRpm })
    }
    k = end + 1
  }
  return zones
}

/** Readings of one run in one bin, summed (ln lambda). */
interface Sums {
  count: number
  sum: number
  square: number
}

/** Level and its error over runs; null where there are too few readings. */
function binOf(runs: ReadonlyMap<number, Sums> | undefined): Bin | null {
  if (!runs) return null
  const all = [...runs.values()]
  const count = all.reduce((total, one) => total + one.count, 0)
  if (count < LEAST_SAMPLES) return null
  // Noise about each run's own mean: what repeats differ by is told by BETWEEN.
  const within = all.reduce((total, one) => total + one.square - one.sum ** 2 / one.count, 0)
  const variance = Math.max(0, within) / Math.max(1, count - all.length)
  return {
    level: median(all.map((one) => one.sum / one.count)),
    error: Math.hypot(Math.sqrt(variance / count), BETWEEN),
  }
}

interface Point {
  b: number
  level: number
  error: number
}

function pointsOf(bins: readonly (Bin | null)[], from: number, to: number): Point[] {
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
function heldSpan(
  bins: readonly (Bin | null)[],
  from: number,
  to: number,
  demand: Demand,
): { from: number; to: number } | null {
  const least = Math.ceil(LEAST_SPAN / BIN)
  const window = pointsOf(bins, from - MARGIN, to + MARGIN)
  let best: { from: number; to: number } | null = null
  let bestCost = polynomial(window, Math.min(SMOOTH_DEGREE, window.length - 4)).cost - demand.win
  for (let a = from; a <= to - least + 1; a++) {
    const before = beside(window.filter((p) => p.b < a - 1))
    if (before.cost > bestCost) continue
    for (let b = a + least - 1; b <= to; b++) {
      const inside = window.filter((p) => p.b >= a && p.b <= b)
      if (inside.length < least) continue
      const chi = inside.reduce((sum, p) => sum + (p.level / Math.hypot(p.error, HUNTING)) ** 2, 0)
      const mean = inside.reduce((sum, p) => sum + p.level, 0) / inside.length
      if (Math.abs(mean) > MOST_OFFSET || chi > MOST_EXCESS * inside.length) continue
      const after = beside(window.filter((p) => p.b > b + 1))
      const steps = [
        before.points > 1 ? Math.abs(before.at(a - 1)) : null,
        after.points > 1 ? Math.abs(after.at(b + 1)) : null,
      ]
      const step = Math.max(...steps.map((size) => size ?? 0))
      const smooth = steps.filter((size) => size !== null && size < BESIDE.step).length
      const cost = chi + before.cost + after.cost + SMEARED + SMOOTH_EDGE * smooth
      if (step >= demand.step && cost < bestCost) [best, bestCost] = [{ from: a, to: b }, cost]
    }
  }
  return best
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
function polynomial(points: readonly Point[], degree: number): Curve {
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

/** Moves an edge to where readings change from lambda 1 to the level outside: the split with the least absolute error. */
function refineEdge(
  list: readonly number[],
  samples: Samples,
  lambda: Float32Array,
  rough: number,
  step: 1 | -1,
  outside: ((rpm: number) => number) | null,
): number {
  if (!outside) return rough
  const near = list.filter((i) => Math.abs(samples.rpm[i]! - rough) < 2 * BIN)
  let best = rough
  let least = Infinity
  for (let split = rough - 1.5 * BIN; split <= rough + 1.5 * BIN; split += BIN / 6) {
    let cost = 0
    for (const i of near) {
      const rpm = samples.rpm[i]!
      const value = Math.log(lambda[i]!)
      const inside = step > 0 ? rpm < split : rpm >= split
      cost += Math.min(0.1, Math.abs(inside ? value : value - outside(rpm)))
    }
    if (cost < least) [best, least] = [split, cost]
  }
  return best
}

/** 1 for each sample that stands in a zone, or at its very edge where the sensor smears the step. */
export function markHeld(
  grid: Grid,
  samples: Samples,
  zones: readonly HeldZone[],
): { held: Uint8Array; edge: Uint8Array } {
  const held = new Uint8Array(samples.count)
  const edge = new Uint8Array(samples.count)
  if (zones.length === 0) return { held, edge }
  const rowOf = rowFinder(grid)
  for (let i = 0; i < samples.count; i++) {
    const row = rowOf(samples.load[i]!)
    const rpm = samples.rpm[i]!
    for (const zone of zones) {
      if (zone.row !== row) continue
      if (rpm >= zone.fromRpm && rpm < zone.toRpm) held[i] = 1
      else if (rpm >= zone.fromRpm - BIN && rpm < zone.toRpm + BIN) edge[i] = 1
    }
  }
  return { held, edge }
}
