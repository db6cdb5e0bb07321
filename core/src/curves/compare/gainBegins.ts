import type { Comparison } from './compare'
import { gainWindow } from './gainWindow'
import { spreadOf } from '../torque/quantity'
import { alongBins, fitRise, riseLine, type Rise } from '../lay/rise'
import type { CurveRuler } from '../lay/ruler'

/** Where a gain begins, rpm, with its 90 % interval over runs; without one where a side has fewer than two runs. */
export interface GainBegins {
  rpm: number
  low: number | null
  high: number | null
}

/** A base this share of the gain or more is no base: the gain was there from the lowest speed. */
const NO_BASE = 0.6
/** Times the fit is made again for its interval. */
const AGAIN = 100

/**
 * The rpm at which the largest gain begins. Where it becomes significant depends on how many runs there are; so a line that
 * is flat, rises, and is flat again is fitted to the difference from the last thing before the gain to its top, and the
 * beginning is where that line leaves its base; or where it crosses zero, when less comes first. Errors of neighbouring bins
 * hang together, which the fit takes in: it finds sharp beginnings, and takes a slow one for sharper than it is. So the
 * interval, from fitting again with each run's departure from its side turned over or not, spans that of the plain fit, too.
 *
 * @param first, second values by run and bin that the comparison was made of; empty where machines were compared
 * @param smoothing rpm to either side over which curves were smoothed: a step is as wide as that
 * @returns null when no gain is real
 * @see Wu, Annals of Statistics 14 (1986) 1261, for the turned-over departures (wild bootstrap)
 */
export function gainBegins(
  comparison: Comparison,
  first: readonly Float32Array[],
  second: readonly Float32Array[],
  ruler: CurveRuler,
  smoothing: number,
): GainBegins | null {
  const window = gainWindow(comparison)
  if (!window) return null
  const { bins, isFromStart, lessBefore } = window
  const rpm = bins.map((bin) => comparison.rpm[bin]!)
  const lowest = { rpm: rpm[0]!, low: null, high: null }
  if (isFromStart || bins.length < 4) return lowest
  const level = bins.map((bin) => Math.abs(comparison.first[bin]!))
  const share = bins.map((bin, k) => comparison.difference[bin]! / level[k]!)
  const departures = [...departuresOf(first, -1, ruler), ...departuresOf(second, 1, ruler)].map((run) =>
    bins.map((bin, k) => run[bin]! / level[k]! || 0),
  )
  const along = alongBins(departures)
  const found = fitRise(share, along)
  const beginsAt = (rise: Rise): number => {
    const step = ruler.step
    const half = ((rise.to - rise.from) * step) / 2
    if (lessBefore && rise.base < 0 && rise.top > 0)
      return rpm[0]! + step * (rise.from + ((rise.to - rise.from) * -rise.base) / (rise.top - rise.base))
    return rise.base > NO_BASE * rise.top ? rpm[0]! : rpm[0]! + step * rise.from + Math.min(smoothing, half)
  }
  const estimate = beginsAt(found)
  if (first.length < 2 || second.length < 2) return { rpm: Math.round(estimate), low: null, high: null }
  const within = (rise: Rise, weighed: number): Within => {
    const at = beginsAt(rise)
    const again = fittedAgain(rise, departures, weighed)
      .map(beginsAt)
      .sort((a, b) => a - b)
    const [low, high] = [again[Math.floor(0.05 * AGAIN)]!, again[Math.ceil(0.95 * AGAIN) - 1]!]
    // Whether it is a step or a slope that begins, smoothing hides.
    const widened = (side: number): number => Math.hypot(Math.max(0, side), smoothing)
    return { low: at - widened(at - low), high: at + widened(high - at) }
  }
  const [byErrors, plainly] = [within(found, along), within(fitRise(share, 0), 0)]
  return {
    rpm: Math.round(estimate),
    low: Math.min(byErrors.low, plainly.low),
    high: Math.max(byErrors.high, plainly.high),
  }
}

interface Within {
  low: number
  high: number
}

/** The rise fitted again and again, with each run's departure turned over or not. */
function fittedAgain(rise: Rise, departures: readonly (readonly number[])[], along: number): Rise[] {
  const line = riseLine(rise, departures[0]!.length)
  return Array.from({ length: AGAIN }, (_, k) => {
    const turned = line.slice()
    departures.forEach((run, r) => {
      const sign = isTurned(k, r) ? -1 : 1
      run.forEach((value, bin) => (turned[bin]! += sign * value))
    })
    return fitRise(turned, along)
  })
}

/** What each run adds to its side's mean, made as large as runs that are not their own mean would show it. */
function departuresOf(runs: readonly Float32Array[], sign: 1 | -1, ruler: CurveRuler): Float64Array[] {
  const { mean, runs: counts } = spreadOf(runs, ruler)
  return runs.map((run) =>
    Float64Array.from(run, (value, bin) => {
      const n = counts[bin]!
      return n > 1 && value === value ? (sign * (value - mean[bin]!) * Math.sqrt(n / (n - 1))) / n : 0
    }),
  )
}

/** A sign for each run in each repetition, the same every time: bits of a multiplicative hash (Knuth). */
function isTurned(k: number, run: number): boolean {
  return ((Math.imul(k + 1, 2654435761) >>> (31 - (run % 24))) & 1) === 1
}
