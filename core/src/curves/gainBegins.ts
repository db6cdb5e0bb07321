import type { Comparison } from './compare'
import { spreadOf } from './quantity'
import type { CurveRuler } from './ruler'
import { verdictOf } from './verdict'

/** Where a gain begins, rpm, with its 90 % interval over runs; without one where a side has fewer than two runs. */
export interface GainBegins {
  rpm: number
  low: number | null
  high: number | null
}

/** A base this share of the gain or more is no base: the gain was there from the lowest speed. */
const NO_BASE = 0.6
/** Past its top a gain counts until it has fallen to this share. */
const FALLEN = 0.7
/** rpm between real bins over which they are one stretch all the same. */
const SHORT_GAP = 400
/** Times the fit is made again for its interval. */
const AGAIN = 100

/**
 * The rpm at which the largest gain begins. Where it becomes significant depends on how many runs there are; so a line that
 * is flat, rises, and is flat again is fitted to the difference from the last thing before the gain to its top, and the
 * beginning is where that line leaves its base; or where it crosses zero, when less comes first. The interval comes from
 * fitting again with each run's departure from its side turned over or not.
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
  const window = windowOf(comparison)
  if (!window) return null
  const { bins, isFromStart, lessBefore } = window
  const rpm = bins.map((bin) => comparison.rpm[bin]!)
  const lowest = { rpm: rpm[0]!, low: null, high: null }
  if (isFromStart || bins.length < 4) return lowest
  const level = bins.map((bin) => Math.abs(comparison.first[bin]!))
  const share = bins.map((bin, k) => comparison.difference[bin]! / level[k]!)
  const found = fitRise(share)
  const beginsAt = (rise: Rise): number => {
    const step = ruler.step
    const half = ((rise.to - rise.from) * step) / 2
    if (lessBefore && rise.base < 0 && rise.top > 0)
      return rpm[0]! + step * (rise.from + ((rise.to - rise.from) * -rise.base) / (rise.top - rise.base))
    return rise.base > NO_BASE * rise.top ? rpm[0]! : rpm[0]! + step * rise.from + Math.min(smoothing, half)
  }
  const estimate = beginsAt(found)
  if (first.length < 2 || second.length < 2) return { rpm: Math.round(estimate), low: null, high: null }
  const departures = [...departuresOf(first, -1, ruler), ...departuresOf(second, 1, ruler)].map((run) =>
    bins.map((bin, k) => run[bin]! / level[k]! || 0),
  )
  const line = riseLine(found, bins.length)
  const again = Array.from({ length: AGAIN }, (_, k) => {
    const turned = line.slice()
    departures.forEach((run, r) => {
      const sign = isTurned(k, r) ? -1 : 1
      run.forEach((value, bin) => (turned[bin]! += sign * value))
    })
    return beginsAt(fitRise(turned))
  }).sort((a, b) => a - b)
  // Whether it is a step or a slope that begins, smoothing hides.
  const widened = (side: number): number => Math.hypot(side, smoothing)
  return {
    rpm: Math.round(estimate),
    low: estimate - widened(Math.max(0, estimate - again[Math.floor(0.05 * AGAIN)]!)),
    high: estimate + widened(Math.max(0, again[Math.ceil(0.95 * AGAIN) - 1]! - estimate)),
  }
}

/** Bins from the last thing before the largest gain to where it has passed its top. */
function windowOf(comparison: Comparison): { bins: number[]; isFromStart: boolean; lessBefore: boolean } | null {
  const { rpm, difference, first } = comparison
  const spans = bridged(verdictOf(comparison).spans)
  const gains = spans.filter((one) => one.difference > 0)
  const area = ({ fromRpm, toRpm, difference: mean }: Span): number => (toRpm - fromRpm) * mean
  const largest = gains.reduce<Span | null>((best, one) => (best && area(best) >= area(one) ? best : one), null)
  if (!largest) return null
  const before = spans.filter((one) => one.toRpm < largest.fromRpm).at(-1)
  const met = rpm.flatMap((at, k) => (difference[k] === null ? [] : [{ at, k }]))
  const within = met.filter(
    ({ at }) => at <= largest.toRpm && (!before || (before.difference < 0 ? at >= before.fromRpm : at > before.toRpm)),
  )
  const inside = within.filter(({ at }) => at >= largest.fromRpm)
  const share = ({ k }: { k: number }): number => difference[k]! / Math.abs(first[k]!)
  const top = inside.reduce((best, one) => (share(one) > share(best) ? one : best), inside[0]!)
  const fallen = inside.find((one) => one.at > top.at && share(one) < FALLEN * share(top))
  const bins = within.filter(({ at }) => !fallen || at < fallen.at).map(({ k }) => k)
  return {
    bins,
    isFromStart: largest.fromRpm <= rpm[bins[0]!]!,
    lessBefore: before !== undefined && before.difference < 0,
  }
}

type Span = ReturnType<typeof verdictOf>['spans'][number]

/** Spans of one sign with a short gap between them as one. */
function bridged(spans: readonly Span[]): Span[] {
  const out: Span[] = []
  for (const span of spans) {
    const last = out.at(-1)
    if (last && Math.sign(last.difference) === Math.sign(span.difference) && span.fromRpm - last.toRpm <= SHORT_GAP)
      out[out.length - 1] = { ...last, toRpm: span.toRpm, difference: (last.difference + span.difference) / 2 }
    else out.push(span)
  }
  return out
}

/** Flat at the base up to one bin, straight to the top at another, flat from there. */
interface Rise {
  from: number
  to: number
  base: number
  top: number
}

function fitRise(values: readonly number[]): Rise {
  const n = values.length
  const sums = [0]
  const moments = [0]
  values.forEach((value, k) => {
    sums.push(sums[k]! + value)
    moments.push(moments[k]! + k * value)
  })
  let best: Rise & { gained: number } = { from: 0, to: 1, base: 0, top: 0, gained: -Infinity }
  for (let from = 0; from < n - 1; from++)
    for (let to = from + 1; to < n; to++) {
      // The line's shape z is 0 to `from`, 1 from `to` on; least squares of values on 1 and z.
      const width = to - from
      const rising = width - 1
      const after = n - to
      const z = after + rising / 2
      const zz = after + (rising * (2 * width - 1)) / (6 * width)
      const zy =
        sums[n]! - sums[to]! + (moments[to]! - moments[from + 1]! - from * (sums[to]! - sums[from + 1]!)) / width
      const spread = zz - (z * z) / n
      const slope = (zy - (z * sums[n]!) / n) / spread
      const gained = slope * slope * spread
      if (slope > 0 && gained > best.gained) {
        const base = (sums[n]! - slope * z) / n
        best = { from, to, base, top: base + slope, gained }
      }
    }
  return best
}

function riseLine({ from, to, base, top }: Rise, count: number): number[] {
  return Array.from(
    { length: count },
    (_, k) => base + (top - base) * Math.min(1, Math.max(0, (k - from) / (to - from))),
  )
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
