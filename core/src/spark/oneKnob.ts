import { signed, plain } from '../numbers/format'
import { studentFactor } from '../numbers/studentT'
import { DEFAULT_SPARK } from './fitAdvance'
import { knockOffset } from './bin'
import type { JudgedBin } from './judge'
import { changeBetween, isBentDown, peakOf, valueAt, type Parabola } from '../numbers/parabola'

/** How much the lower, the middle and the upper third of the range are used. */
export interface RangeUse {
  low: number
  middle: number
  high: number
}

/** Usual shares (common practice): on the road the lower and middle range, on the track the upper. */
export const RANGE_USES: Record<'even' | 'road' | 'track', RangeUse> = {
  even: { low: 1, middle: 1, high: 1 },
  road: { low: 3, middle: 2, high: 1 },
  track: { low: 0.5, middle: 2, high: 3 },
}

/** A setting that serves a range of engine speeds best. Degrees over the setting in use now; shares of torque in %. */
export interface OneKnob {
  verdict: 'best torque' | 'knock' | 'no gain' | 'try further' | 'try less' | 'too few settings'
  note: string
  /** with its 90 % interval; null where no best is seen */
  best: { offset: number; low: number; high: number } | null
  recommended: number | null
  /** torque gained over now, weighed by use, with its 90 % interval */
  gain: { value: number; low: number; high: number } | null
  /** by engine speed: what the one setting gives away against that speed's own best (null where it has none), and gains over now */
  byRpm: { rpm: number; weight: number; givenAway: number | null; gain: number }[]
}

const CONFIDENCE = 0.9
/** Degrees below the first knock at which a setting counts as without it. */
const BEFORE_KNOCK = 0.05

/** A speed's torque over degrees from now, as a share of its torque now. */
interface Part {
  rpm: number
  weight: number
  curve: Parabola
  /** degrees from now of its own best; null where it has none */
  best: number | null
}

/**
 * One setting for all engine speeds, as an ignition plate turned as a whole gives it: the torque of all bins, each as a share of
 * its own level and weighed by use, is one parabola. Advised is, as at a single point, the least advance that gives away no more
 * than is allowed of its best, less the margin to the first knock at any speed, and nothing beyond what was tried.
 *
 * @param bins of one stop
 * @param blindMargin degrees kept from the end of what was tried where no channel was there to see knock
 * @param giveAway torque that may be given away for less advance, share of the best
 * @throws RangeError when weights are negative or all zero
 */
export function oneKnob(
  bins: readonly JudgedBin[],
  use: RangeUse,
  knockMargin: number,
  blindMargin = DEFAULT_SPARK.blindMargin,
  giveAway = DEFAULT_SPARK.giveAway,
): OneKnob {
  const telling = bins.filter(
    ({ fit, stale, settings }) => fit.curve && !stale && settings >= 3 && fit.verdict !== 'drifts',
  )
  const parts = weighed(telling, use)
  const whole = sumOf(parts)
  const byRpm = (at: number): OneKnob['byRpm'] =>
    parts.map(({ rpm, weight, curve, best }) => ({
      rpm,
      weight,
      givenAway: best === null ? null : 100 * (valueAt(curve, best) - valueAt(curve, at)),
      gain: 100 * (valueAt(curve, at) - valueAt(curve, 0)),
    }))
  const none = (verdict: OneKnob['verdict'], note: string, best: OneKnob['best'] = null): OneKnob => ({
    verdict,
    note,
    best,
    recommended: null,
    gain: null,
    byRpm: whole ? byRpm(0) : [],
  })
  if (!whole)
    return none('too few settings', 'Run the range at three settings at least, one of them twice: five tell enough.')
  const t = studentFactor(CONFIDENCE, whole.df)
  const gainTo = (to: number): { value: number; low: number; high: number } => {
    const { value, low, high } = changeBetween(whole, 0, to, t)
    return { value: 100 * value, low: 100 * low, high: 100 * high }
  }
  const outcome = (verdict: OneKnob['verdict'], note: string, at: number, best: OneKnob['best'] = null): OneKnob => {
    const recommended = Math.round(10 * at) / 10
    return { verdict, note, best, recommended, gain: gainTo(recommended), byRpm: byRpm(recommended) }
  }

  const tried = telling.flatMap(({ bin }) => bin.points.map((one) => one.advance - bin.present))
  const [low, high] = [Math.min(...tried), Math.max(...tried)]
  const step = (high - low) / Math.max(1, Math.max(...telling.map((one) => one.settings)) - 1)
  // A speed at which knock cut the stepping short may have too few settings for a curve: its knock counts all the same.
  const knocks = Math.min(...bins.map(({ bin }) => knockOffset(bin)))
  const clean = Math.max(...tried.filter((one) => one < knocks - BEFORE_KNOCK), -Infinity)
  const limit = knocks < Infinity ? Math.min(knocks - knockMargin, clean) : Infinity
  const knockNote = `Knock at one speed or another from ${offset(knocks)}: the whole range pays for it.`
  const further = none(
    'try further',
    `The best lies beyond ${offset(high)}. Try ${offset(high + step)}, and watch for knock.`,
  )
  const less = none('try less', `The best lies below ${offset(low)}. Try ${offset(low - step)}.`)
  if (limit < low - step)
    return none('knock', `Knock at one speed or another from ${offset(knocks)}: go back, and measure from there.`)
  if (!isBentDown(whole)) {
    const rises = changeBetween(whole, low, high, t)
    if (limit < 0) return outcome('knock', knockNote, limit)
    if (rises.low > 0) return limit < high ? outcome('knock', knockNote, limit) : further
    return rises.high < 0 ? less : none('no gain', 'No difference shown: torque differs by no more than the runs do.')
  }
  const { at: peak, error } = peakOf(whole)
  const best = { offset: peak, low: peak - t * error, high: peak + t * error }
  const cheap = peak - Math.sqrt((giveAway * valueAt(whole, peak)) / -whole.c)
  if (limit < cheap) return outcome('knock', knockNote, limit, best)
  if (peak > high + step) return { ...further, best }
  if (peak < low - step) return { ...less, best }
  const isBlind = telling.some(({ bin }) => !bin.hasKnockChannel)
  const end = isBlind ? Math.min(high, Math.max(0, high - blindMargin)) : high
  const at = Math.max(low - step, Math.min(cheap, end))
  if (!(gainTo(Math.round(10 * at) / 10).low > 0))
    return none('no gain', 'No gain over the range beyond the spread of the runs: what is there now serves.', best)
  const note =
    at < cheap
      ? `Best lies at ${offset(peak)}; it stays ${isBlind ? `${blindMargin}° within` : 'within'} what was tried, ${isBlind ? 'because nothing was there to see knock' : 'for beyond it nothing was run'}.`
      : `The least advance within ${plain(100 * giveAway, 1)} % of the most that one setting gives over the range as it is used.`
  return outcome('best torque', knocks < Infinity ? `${note} ${knockNote}` : note, at, best)
}

const offset = (degrees: number): string => `${signed(degrees)}°`

function weighed(bins: readonly JudgedBin[], use: RangeUse): Part[] {
  const speeds = bins.map(({ bin }) => bin.rpm)
  const [from, to] = [Math.min(...speeds), Math.max(...speeds)]
  const weightOf = (rpm: number): number => {
    const place = (rpm - from) / Math.max(1, to - from)
    return place < 1 / 3 ? use.low : place < 2 / 3 ? use.middle : use.high
  }
  const total = bins.reduce((sum, { bin }) => sum + weightOf(bin.rpm), 0)
  if (Math.min(use.low, use.middle, use.high) < 0 || (bins.length > 0 && !(total > 0)))
    throw new RangeError('Say how much each part of the range is used: zero or more, not all zero.')
  return bins.map(({ bin, fit }) => {
    const curve = recentred(fit.curve!, bin.present)
    return {
      rpm: bin.rpm,
      weight: weightOf(bin.rpm) / total,
      curve: scaled({ ...curve, centre: 0 }, curve.a),
      best: fit.best && fit.best.advance - bin.present,
    }
  })
}

/** The weighed sum of parabolas about now, which is one; null of none. */
function sumOf(parts: readonly Part[]): Parabola | null {
  if (parts.length === 0) return null
  const sum = (of: (part: Part) => number): number => parts.reduce((total, part) => total + of(part), 0)
  return {
    centre: 0,
    a: sum(({ weight, curve }) => weight * curve.a),
    b: sum(({ weight, curve }) => weight * curve.b),
    c: sum(({ weight, curve }) => weight * curve.c),
    // Bins are taken to be independent: each has runs of its own, or its own stretch of them.
    covariance: [0, 1, 2].map((i) =>
      [0, 1, 2].map((j) => sum(({ weight, curve }) => weight * weight * curve.covariance[i]![j]!)),
    ),
    spread: NaN,
    df: sum(({ curve }) => curve.df),
  }
}

/** The same parabola about another centre; its covariance goes with it. */
function recentred({ centre, a, b, c, covariance: v, ...rest }: Parabola, to: number): Parabola {
  const d = to - centre
  // [a b c] about the new centre is a linear map of the old.
  const map = [
    [1, d, d * d],
    [0, 1, 2 * d],
    [0, 0, 1],
  ]
  const times = (m: number[][], n: number[][]): number[][] =>
    m.map((row) => n[0]!.map((_, j) => row.reduce((sum, value, k) => sum + value * n[k]![j]!, 0)))
  const transposed = map[0]!.map((_, j) => map.map((row) => row[j]!))
  return {
    ...rest,
    centre: to,
    a: a + b * d + c * d * d,
    b: b + 2 * c * d,
    c,
    covariance: times(times(map, v), transposed),
  }
}

function scaled({ a, b, c, covariance, spread, ...rest }: Parabola, level: number): Parabola {
  return {
    ...rest,
    a: a / level,
    b: b / level,
    c: c / level,
    covariance: covariance.map((row) => row.map((value) => value / (level * level))),
    spread: spread / level,
  }
}
