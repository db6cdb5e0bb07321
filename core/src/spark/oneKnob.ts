import { plain, signed } from '../numbers/format'
import { gainBetween, leastWithin, placeOfBest, type AdvanceCurve, type Between } from './advanceCurve'
import { advancePosterior } from './advancePosterior'
import { knockOffset } from './bin'
import { DEFAULT_SPARK, isGained, settingsOf } from './fitAdvance'
import type { JudgedBin } from './judge'

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

/** Degrees below the first knock at which a setting counts as without it. */
const BEFORE_KNOCK = 0.05

/** A speed's torque over degrees from now, as a share of its best. */
interface Part {
  rpm: number
  weight: number
  curve: AdvanceCurve
  /** degrees from now of its own best; null where it has none */
  best: number | null
}

/**
 * One setting for all engine speeds, as an ignition plate turned as a whole gives it: the torque of each run over all bins, each as a
 * share of its own level and weighed by use, is one reading, so that a plate that was set by half a degree otherwise than was said
 * shows in the spread and in the interval. Advised is, as at a single point, the least advance that gives away no more than is allowed
 * of its best, less the margin to the first knock at any speed, and nothing beyond what was tried.
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
  const telling = bins.filter(({ fit, stale, settings }) => fit.curve && !stale && settings >= 3)
  const parts = weighed(telling, use)
  const readings = rangeReadings(telling, parts)
  const settings = settingsOf(readings)
  const byRpm = (at: number): OneKnob['byRpm'] =>
    parts.map(({ rpm, weight, curve, best }) => ({
      rpm,
      weight,
      givenAway: best === null ? null : 100 * gainBetween(curve, at, best).value,
      gain: 100 * gainBetween(curve, 0, at).value,
    }))
  const none = (verdict: OneKnob['verdict'], note: string, best: OneKnob['best'] = null): OneKnob => ({
    verdict,
    note,
    best,
    recommended: null,
    gain: null,
    byRpm: parts.length ? byRpm(0) : [],
  })
  if (settings.length < 3 || readings.length < 4)
    return none('too few settings', 'Run the range at three settings at least, one of them twice: five tell enough.')
  const { curve } = advancePosterior(readings, settings)
  const whole: AdvanceCurve = { ...curve, level: 1 }
  const gainTo = (to: number): Between => {
    const { value, low, high } = gainBetween(whole, 0, to)
    return { value: 100 * value, low: 100 * low, high: 100 * high }
  }
  const outcome = (verdict: OneKnob['verdict'], note: string, at: number, best: OneKnob['best'] = null): OneKnob => {
    const recommended = Math.round(10 * at) / 10
    return { verdict, note, best, recommended, gain: gainTo(recommended), byRpm: byRpm(recommended) }
  }

  const [low, high] = [settings[0]!, settings.at(-1)!]
  const step = (high - low) / (settings.length - 1)
  // A speed at which knock cut the stepping short may have too few settings for a curve: its knock counts all the same.
  const knocks = Math.min(...bins.map(({ bin }) => knockOffset(bin)))
  const clean = Math.max(...settings.filter((one) => one < knocks - BEFORE_KNOCK), -Infinity)
  const limit = knocks < Infinity ? Math.min(knocks - knockMargin, clean) : Infinity
  const knockNote = `Knock at one speed or another from ${offset(knocks)}: the whole range pays for it.`
  if (limit < low)
    return none('knock', `Knock at one speed or another from ${offset(knocks)}: go back, and measure from there.`)
  const { isBeyond, isBelow, best: span } = placeOfBest(whole, low, high, step)
  const best = span && { offset: span.value, low: span.low, high: span.high }
  const cheap = leastWithin(whole, giveAway, low, high + step)
  if (limit < cheap) return outcome('knock', knockNote, limit, best)
  if (isBeyond && knocks === Infinity)
    return none('try further', `The best lies beyond ${offset(high)}. Try ${offset(high + step)}, and watch for knock.`)
  if (isBelow) return none('try less', `The best lies below ${offset(low)}. Try ${offset(low - step)}.`)
  const isBlind = telling.some(({ bin }) => !bin.hasKnockChannel)
  const end = Math.min(limit, isBlind ? Math.min(high, Math.max(0, high - blindMargin)) : high)
  const at = Math.max(low, Math.min(cheap, end))
  if (limit < 0 && at <= limit) return outcome('knock', knockNote, at, best)
  if (!isGained(whole, 0, Math.round(10 * at) / 10))
    return none('no gain', 'No gain over the range beyond the spread of the runs: what is there now serves.', best)
  const note =
    at < cheap
      ? `${span ? `Best lies at ${offset(span.value)}; it` : 'It'} stays ${isBlind ? `${blindMargin}° within` : 'within'} what was tried, ${isBlind ? 'because nothing was there to see knock' : 'for beyond it nothing was run'}.`
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
  return bins.map(({ bin, fit }) => ({
    rpm: bin.rpm,
    weight: weightOf(bin.rpm) / total,
    curve: {
      level: 1,
      draws: fit.curve!.draws.map((one) => ({ ...one, best: one.best - bin.present })),
    },
    best: fit.best && fit.best.advance - bin.present,
  }))
}

/**
 * Each run over the whole range as one reading: the weighed mean, over the bins that it has, of torque as a share of the bin's best;
 * what the bins it lacks would have is left out on both sides.
 */
function rangeReadings(
  bins: readonly JudgedBin[],
  parts: readonly Part[],
): { advance: number; torque: number; knock: boolean }[] {
  const runs = new Map<string, { advance: number; sum: number; weight: number }>()
  bins.forEach(({ bin, fit }, k) => {
    const seen = new Map<string, number>()
    for (const { run, advance, torque } of bin.points) {
      // A setting that a run comes back to is another reading.
      const nth = seen.get(`${run} ${advance}`) ?? 0
      seen.set(`${run} ${advance}`, nth + 1)
      const key = `${run} ${Math.round(10 * (advance - bin.present))} ${nth}`
      const so = runs.get(key) ?? { advance: 0, sum: 0, weight: 0 }
      const { weight } = parts[k]!
      runs.set(key, {
        advance: so.advance + weight * (advance - bin.present),
        sum: so.sum + (weight * torque) / fit.curve!.level,
        weight: so.weight + weight,
      })
    }
  })
  const most = Math.max(0, ...[...runs.values()].map((one) => one.weight))
  // A run that lacks speeds tells of another range.
  return [...runs.values()]
    .filter(({ weight }) => weight > 0.8 * most)
    .map(({ advance, sum, weight }) => ({ advance: advance / weight, torque: sum / weight, knock: false }))
}
