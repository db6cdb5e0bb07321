import { rowFinder } from '../../table/lookup'
import type { Grid } from '../../table/table'
import { ALONE, BESIDE, heldSpan, MARGIN, pointsOf, polynomial, type Demand, type HeldSpan } from './heldSpan'
import { BIN, rowBins, type Bin } from '../readings/rowBins'
import { type Samples } from '../readings/samples'

/** Where closed loop pins the mixture at stoichiometric: a span of rpm on one throttle stop. */
export interface HeldZone {
  /** row of the table the stop is nearest to */
  row: number
  /** mean load of the samples in the zone */
  load: number
  fromRpm: number
  toRpm: number
  /** shown by a later pass than the first: what was corrected there was corrected on the loop's mixture */
  isLate?: boolean
}

/** Two zones on one row that share some rpm: the same zone, as two passes or two cylinders saw it. */
export const isSameZone = (a: HeldZone, b: HeldZone): boolean =>
  a.row === b.row && a.fromRpm < b.toRpm && b.fromRpm < a.toRpm

/** A bin is pinned when its mean over the passes lies this near lambda 1 (ln), beside its error. */
const PINNED = 0.012
/** How clearly, in chi-square, a stretch must be held when the edges of others are left out. */
const CLEAR_APART = 5
/** Bins without a reading that a zone may bridge. */
const MOST_EMPTY = 4
/** Bins beside a zone that its edge may have smeared. */
const EDGE = 1
/** Bins at the start of the data, and how far off lambda 1 (ln) they may be, that still belong to a zone beside them. */
const PULL_IN = 4
const PULL_IN_LEVEL = 0.02
/**
 * rpm that a zone must span that stands on one stop alone, unless trims are logged or it goes on where the data begin:
 * narrower, a mixture that touches lambda 1 looks the same.
 */
const LEAST_ALONE = 1200

/** Readings of one row of the table, as a throttle stop was held there. */
interface Stop {
  row: number
  /** indices of its readings */
  list: number[]
  /** rpm of the first of them */
  begin: number
}

/**
 * Finds held zones by throttle stop: stretches of rpm, repeat after repeat, where the reading lies flat on lambda 1 and
 * then leaves it at an edge. A field that merely crosses lambda 1 has a slope there and no edge; one that touches it does
 * so over little of one stop.
 *
 * @param lambda one column of readings, by sample
 * @returns zones in rising row and rpm
 */
export function findHeldZones(grid: Grid, samples: Samples, lambda: Float32Array): HeldZone[] {
  const stops = stopsOf(grid, samples)
  const zonesAt = ({ row, list }: Stop, demand: Demand): HeldZone[] => zonesOfRow(row, list, samples, lambda, demand)
  const zones = stops.map((stop) => zonesAt(stop, ALONE))
  const besideOf = (k: number): HeldZone[] => [...(zones[k - 1] ?? []), ...(zones[k + 1] ?? [])]
  // A loop's zone spans neighbouring stops: beside a known zone, less is asked.
  for (const [k, stop] of stops.entries()) {
    const known = besideOf(k)
    if (zones[k]!.length === 0 && known.length > 0)
      zones[k] = zonesAt(stop, BESIDE).filter((zone) => known.some((one) => isAlong(zone, one)))
  }
  for (const [k, stop] of stops.entries()) zones[k] = zones[k]!.map((zone) => fromBegin(zone, stop, besideOf(k)))
  return stops
    .flatMap((stop, k) =>
      zones[k]!.filter(
        (zone) => samples.trim || isWide(zone, stop) || besideOf(k).some((one) => shared(zone, one) > 0),
      ),
    )
    .sort((a, b) => a.row - b.row || a.fromRpm - b.fromRpm)
}

/** Rows that have readings, lowest first. */
function stopsOf(grid: Grid, samples: Samples): Stop[] {
  const rows = new Map<number, Stop>()
  const rowOf = rowFinder(grid)
  for (let i = 0; i < samples.count; i++) {
    const row = rowOf(samples.load[i]!)
    let stop = rows.get(row)
    if (!stop) rows.set(row, (stop = { row, list: [], begin: Infinity }))
    stop.list.push(i)
    if (samples.rpm[i]! < stop.begin) stop.begin = samples.rpm[i]!
  }
  return [...rows.values()].sort((a, b) => a.row - b.row)
}

/** rpm that two zones share. */
const shared = (a: HeldZone, b: HeldZone): number => Math.min(a.toRpm, b.toRpm) - Math.max(a.fromRpm, b.fromRpm)
/** A zone shares more than half of another. */
const isAlong = (zone: HeldZone, other: HeldZone): boolean => shared(zone, other) > 0.5 * (other.toRpm - other.fromRpm)

/** Where a stop's data begin a little before its zone, and the stop beside it is held from there on, the loop was only pulling in. */
function fromBegin(zone: HeldZone, { begin }: Stop, beside: readonly HeldZone[]): HeldZone {
  const isGoneOn = beside.some((one) => one.fromRpm <= begin + BIN && isAlong(one, zone))
  return zone.fromRpm > begin && zone.fromRpm - begin <= PULL_IN * BIN && isGoneOn
    ? { ...zone, fromRpm: Math.floor(begin) }
    : zone
}

/** Wide enough to stand alone, or going on where the data begin. */
const isWide = (zone: HeldZone, { begin }: Stop): boolean =>
  zone.toRpm - zone.fromRpm >= LEAST_ALONE || zone.fromRpm <= begin + BIN

function zonesOfRow(
  row: number,
  list: readonly number[],
  samples: Samples,
  lambda: Float32Array,
  demand: Demand,
): HeldZone[] {
  const binned = rowBins(list, samples, lambda)
  if (!binned) return []
  const { first, bins } = binned
  /** Level beyond an edge by rpm, null where the data end. */
  const outside = (from: number, to: number): ((rpm: number) => number) | null => {
    const points = pointsOf(bins, from, to)
    if (points.length < 2) return null
    const { at } = polynomial(points, points.length < 3 ? 0 : 1)
    return (rpm) => at(rpm / BIN - first - 0.5)
  }
  return spansOf(bins, demand).map((span) => {
    const { from, to } = pulledIn(bins, span)
    const edge = (rough: number, way: 1 | -1, beyond: ReturnType<typeof outside>): number =>
      refineEdge(list, samples, lambda, rough, way, beyond)
    const fromRpm = edge((first + from) * BIN, -1, outside(from - 1 - MARGIN, from - 2))
    const toRpm = edge((first + to + 1) * BIN, 1, outside(to + 2, to + 1 + MARGIN))
    const inside = list.filter((i) => samples.rpm[i]! >= fromRpm && samples.rpm[i]! < toRpm)
    return { row, load: inside.reduce((sum, i) => sum + samples.load[i]!, 0) / inside.length, fromRpm, toRpm }
  })
}

/**
 * Held spans of a row, the clearest first: once one is known, its bins and the edges beside them no longer stand against
 * the smooth curve that would explain another stretch.
 */
function spansOf(given: readonly (Bin | null)[], demand: Demand): HeldSpan[] {
  const bins = [...given]
  const spans: HeldSpan[] = []
  for (;;) {
    const stretches = pinnedStretches(bins)
    const clearest = stretches
      .flatMap((one) => spanOf(bins, one, stretches, demand) ?? [])
      .reduce<HeldSpan | null>((best, one) => (best && best.win >= one.win ? best : one), null)
    if (!clearest) return spans
    spans.push(clearest)
    for (let k = Math.max(0, clearest.from - EDGE); k <= clearest.to + EDGE && k < bins.length; k++) bins[k] = null
  }
}

/** The held span of a stretch, which must also be clear without the edges of other stretches: those may be steps of their own. */
function spanOf(
  bins: readonly (Bin | null)[],
  [from, to]: Stretch,
  stretches: readonly Stretch[],
  demand: Demand,
): HeldSpan | null {
  const span = heldSpan(bins, from, to, demand)
  const before = Math.max(...stretches.map((one) => (one[1] < from ? one[1] : -1)))
  const after = Math.min(...stretches.map((one) => (one[0] > to ? one[0] : bins.length)))
  if (!span || (before < from - MARGIN && after > to + MARGIN)) return span
  const alone = bins.map((bin, k) => (k > before && k < after ? bin : null))
  const apart = heldSpan(alone, from, to, { ...demand, win: Math.min(demand.win, CLEAR_APART) })
  return apart && { ...span, win: Math.min(span.win, apart.win) }
}

type Stretch = readonly [from: number, to: number]

/** Stretches of bins about lambda 1, as far as their errors tell. */
function pinnedStretches(bins: readonly (Bin | null)[]): Stretch[] {
  const near = ({ error }: Bin): number => PINNED + error
  const isPinned = bins.map((bin, k) => {
    if (!bin) return false
    const around = [bins[k - 1], bin, bins[k + 1]].filter(
      (one): one is Bin => !!one && Math.abs(one.level - bin.level) < near(bin),
    )
    return Math.abs(around.reduce((sum, one) => sum + one.level, 0) / around.length) < near(bin)
  })
  const stretches: Stretch[] = []
  for (let k = 0; k < bins.length; k++) {
    if (!isPinned[k]) continue
    let end = k
    // One bin that is not breaks nothing; nor do some without a reading.
    let [others, empty] = [0, 0]
    for (let next = k + 1; next < bins.length && others <= 1 && empty <= MOST_EMPTY; next++) {
      if (isPinned[next]) [end, others, empty] = [next, 0, 0]
      else if (bins[next]) others++
      else empty++
    }
    stretches.push([k, end])
    k = end
  }
  return stretches
}

/** Where the data begin just beside a zone, the loop was still pulling in: no other edge is seen there. */
function pulledIn(bins: readonly (Bin | null)[], { from, to }: HeldSpan): { from: number; to: number } {
  const isNear = bins.slice(0, from).every((bin) => !bin || Math.abs(bin.level) < PULL_IN_LEVEL)
  return { from: from <= PULL_IN && isNear ? 0 : from, to }
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
