import { meanAcross } from '../../numbers/meanAcross'
import { heldZonesOfRuns } from '../../field/held/zonesOfRuns'
import { median } from '../../numbers/median'
import type { Filters, RunColumns } from '../../run/run'
import { screenRun } from '../../run/screen'
import { torqueStep } from '../rollOns/mixtureCurve'
import { APART, BESIDE, edgeAlone, edgeAt, type Edge, type EdgeReading } from './mixtureEdge'
import { NINETY } from '../../numbers/ninety'

/** Where the closed loop lets go at a throttle stop, as speed rises. */
export interface LoopExit {
  /** % of plate */
  load: number
  /** middle of the step, and half width of its 90 % interval */
  rpm: number
  rpmError: number
  /** lambda after over lambda before, less 1; negative turns richer */
  stepPct: number
  /** half width of its 90 % interval, percent points */
  stepError: number
  /** speed over which the mixture changes over; 0 where it is sharper than readings tell */
  widthRpm: number
  /** what the step does to torque by the usual mixture curve, percent */
  torquePct: number
}

/** % of plate within which settled readings are of one stop, and share of it. */
const SAME_STOP = { least: 1.5, share: 0.05 }
/** Readings that a stop must have, and speed that they must span. */
const LEAST = { readings: 40, rpm: 900 }
/** How far from where a zone ends the edge is sought. */
const AROUND = 350
const RPM_STEP = 10
const WIDTHS = [0, 100, 200, 300, 450, 600]
/** Speed beyond the zone that must have been seen for an edge to be one and not the end of the runs. */
const SEEN_BEYOND = 200
/** Least step, share of lambda, and in errors. */
const LEAST_STEP = 0.01
const LEAST_ERRORS = 1.8
/** Readings that are looked at of all runs, and about an edge. */
const MOST_READINGS = 60_000
const MOST_NEAR = 2_000
/** Breakpoints of the speed by which zones are sought. */
const GRID_STEP = 250

/**
 * Loop exits of runs, by throttle stop. A stop without one is absent.
 *
 * @param lag s from charge to reading; @param error standard error of it, s
 * @example
 * const exits = loopExits(runs, { lag: 0.2, error: 0.01 }, DEFAULT_FILTERS)
 */
export function loopExits(
  runs: readonly RunColumns[],
  { lag, error }: { lag: number; error: number },
  filters: Filters,
): LoopExit[] {
  const readings = thinned(
    runs.flatMap((run) => readingsOf(run, lag, filters)),
    MOST_READINGS,
  )
  const stops = stopsAmong(readings)
  if (stops.length === 0) return []
  const top = readings.reduce((most, one) => Math.max(most, one.rpm), 0)
  const grid = {
    loadAxis: 'throttle' as const,
    rpm: Array.from({ length: Math.ceil(top / GRID_STEP) }, (_, k) => (k + 1) * GRID_STEP),
    load: gridOf(stops.map((one) => one.load)),
  }
  const zones = heldZonesOfRuns(
    runs.filter((run) => run.throttle),
    { grid, filters, lag },
  )
  return stops.flatMap(({ load, readings: own }) => {
    const zone = zones.find((one) => Math.abs(one.load - load) <= apart(load))
    const rate = rateOf(own)
    const about = { smear: 0.03 * rate, doubt: error * rate }
    const known = zone && exitOf(own, load, zone, about)
    const alone = known ? null : edgeAlone(own)
    const exit = known ?? (alone && exitOf(own, load, alone, about))
    return exit ? [exit] : []
  })
}

interface Reading extends EdgeReading {
  run: string
  time: number
  load: number
}

function readingsOf(run: RunColumns, lag: number, filters: Filters): Reading[] {
  if (!run.throttle || run.handRange || run.lambda.length === 0) return []
  const screened = screenRun(run, { loadAxis: 'throttle', lag, filters })
  if (!screened) return []
  return Array.from({ length: screened.count }, (_, i) => ({
    run: run.id,
    time: screened.time[i]!,
    rpm: screened.rpm[i]!,
    load: screened.load[i]!,
    lambda: meanAcross(screened.lambda, i),
  })).filter((one) => one.lambda > 0)
}

/** Evenly chosen ones, where there are more than tell anything new. */
function thinned<T>(all: readonly T[], most: number): readonly T[] {
  const every = Math.ceil(all.length / most)
  return every > 1 ? all.filter((_, k) => k % every === 0) : all
}

const apart = (load: number): number => Math.max(SAME_STOP.least, SAME_STOP.share * load)

/** Throttle stops at which speed was swept: readings that lie together in load and spread in speed. */
function stopsAmong(readings: readonly Reading[]): { load: number; readings: Reading[] }[] {
  const sorted = [...readings].sort((a, b) => a.load - b.load)
  const stops: { load: number; readings: Reading[] }[] = []
  let left = sorted
  // The fullest neighbourhood first, so that a stop is not cut in two.
  while (left.length >= LEAST.readings) {
    let [from, to, best] = [0, 0, { from: 0, to: 0 }]
    for (from = 0; from < left.length; from++) {
      while (to < left.length && left[to]!.load - left[from]!.load <= 2 * apart(left[from]!.load)) to++
      if (to - from > best.to - best.from) best = { from, to }
    }
    const own = left.slice(best.from, best.to)
    if (own.length < LEAST.readings) break
    const speeds = own.map((one) => one.rpm)
    const [low, high] = speeds.reduce(([a, b], rpm) => [Math.min(a, rpm), Math.max(b, rpm)], [Infinity, -Infinity])
    if (high - low >= LEAST.rpm) stops.push({ load: median(own.map((one) => one.load)), readings: own })
    left = [...left.slice(0, best.from), ...left.slice(best.to)]
  }
  return stops.sort((a, b) => a.load - b.load)
}

/** Rows of a grid with a stop on each, and one more where there is but one. */
function gridOf(loads: readonly number[]): number[] {
  return loads.length > 1 ? [...loads] : [loads[0]!, loads[0]! + 20]
}

/** Usual speed at which a stop was swept, rpm per second. */
function rateOf(readings: readonly Reading[]): number {
  const byTime = [...readings].sort((a, b) => (a.run === b.run ? a.time - b.time : a.run < b.run ? -1 : 1))
  const rates = byTime.slice(5).flatMap((one, k) => {
    const before = byTime[k]!
    const span = one.time - before.time
    return one.run === before.run && span > 0 && span < 1 ? [Math.abs(one.rpm - before.rpm) / span] : []
  })
  return rates.length ? median(rates) : 0
}

/** The edge of a zone at its upper end, fitted: level before, a line after, over some width; null where nothing steps. */
function exitOf(
  all: readonly Reading[],
  load: number,
  { fromRpm, toRpm }: { fromRpm: number; toRpm: number },
  { smear, doubt }: { smear: number; doubt: number },
): LoopExit | null {
  const near = thinned(
    all.filter((one) => one.rpm >= Math.max(fromRpm, toRpm - BESIDE) && one.rpm <= toRpm + BESIDE),
    MOST_NEAR,
  )
  const beyond = near.filter((one) => one.rpm > toRpm + SEEN_BEYOND)
  if (beyond.length < 8) return null
  const fits: { rpm: number; width: number; cost: number; fit: Edge }[] = []
  for (let rpm = toRpm - AROUND; rpm <= toRpm + AROUND; rpm += RPM_STEP)
    for (const width of WIDTHS) {
      const fit = edgeAt(near, rpm, width)
      if (fit) fits.push({ rpm, width, cost: fit.cost, fit })
    }
  if (fits.length === 0) return null
  const least = fits.reduce((best, one) => (one.cost < best.cost ? one : best))
  const weighed = fits.map((one) => ({ ...one, weight: Math.exp((-APART * (one.cost - least.cost)) / 2) }))
  const total = weighed.reduce((sum, one) => sum + one.weight, 0)
  const meanOf = (of: (one: (typeof weighed)[number]) => number): number =>
    weighed.reduce((sum, one) => sum + one.weight * of(one), 0) / total
  const rpm = meanOf((one) => one.rpm)
  // A lag that is not known moves all edges with the speed of the sweep.
  const spread = Math.sqrt(meanOf((one) => (one.rpm - rpm) ** 2) + RPM_STEP ** 2 + doubt ** 2)
  const step = meanOf((one) => one.fit.open / one.fit.closed - 1)
  const stepError = Math.sqrt(
    meanOf((one) => (one.fit.open / one.fit.closed - 1 - step) ** 2 + one.fit.error ** 2 / APART),
  )
  if (Math.abs(step) < Math.max(LEAST_STEP, LEAST_ERRORS * stepError)) return null
  const [closed, open] = [meanOf((one) => one.fit.closed), meanOf((one) => one.fit.open)]
  const width = meanOf((one) => one.width)
  return {
    load,
    rpm,
    rpmError: NINETY * spread,
    stepPct: 100 * step,
    stepError: 100 * NINETY * stepError,
    widthRpm: Math.sqrt(Math.max(0, width ** 2 - (3 * smear) ** 2)),
    torquePct: torqueStep(closed, open),
  }
}
