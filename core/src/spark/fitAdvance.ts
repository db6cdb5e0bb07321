import { plain } from '../numbers/format'
import { studentFactor } from '../numbers/studentT'
import { changeBetween, fitParabola, isBentDown, peakOf, valueAt, type Parabola } from '../numbers/parabola'

/** One setting of the advance, measured once, at one throttle and rpm bin. */
export interface SparkPoint {
  /** degrees before top dead centre */
  advance: number
  /** N·m */
  torque: number
  /** knock was seen */
  knock: boolean
}

export interface SparkOptions {
  /** what is in the controller now, degrees */
  present: number
  /** torque that may be given away for less advance, share of the best */
  giveAway: number
  /** degrees kept from the first knock seen */
  knockMargin: number
  /** the same where no knock channel was there to see it */
  blindMargin: number
  hasKnockChannel: boolean
  /** least advance at which knock was met without a torque to go with it, degrees; null for none */
  knockFrom?: number | null
}

/** Half a percent of torque is not felt and buys margin (method of the trade); the margins are common practice. */
export const DEFAULT_SPARK: Omit<SparkOptions, 'present' | 'hasKnockChannel'> = {
  giveAway: 0.005,
  knockMargin: 2,
  blindMargin: 1,
}

/** What limits the advance, or why nothing is said. */
export const SPARK_VERDICTS = [
  'best torque',
  'knock',
  'no gain',
  'try further',
  'try less',
  'too few settings',
  'drifts',
  'wrong sign',
] as const
export type SparkVerdict = (typeof SPARK_VERDICTS)[number]

/** Torque over advance in one bin, fitted. Degrees and N·m; null where nothing can be said. */
export interface SparkFit {
  verdict: SparkVerdict
  note: string
  /** advance of best torque, with its 90 % interval */
  best: { advance: number; low: number; high: number; torque: number } | null
  /** least advance within what may be given away of best torque, less a margin for knock; null for no recommendation */
  recommended: number | null
  /** gain over what is there now at the recommended advance, N·m, with its 90 % interval */
  gain: { value: number; low: number; high: number } | null
  /** torque over advance, as fitted */
  curve: Parabola | null
  /** standard deviation of one run about the curve, N·m */
  spread: number
}

const LEAST_SETTINGS = 3
/** Settings nearer to each other than this are one, degrees. */
const APART = 0.4
/** No engine is run so late on purpose: a sign was mistaken. */
const LATEST = -10
const CONFIDENCE = 0.9
/** Confidence with which torque must rise or fall over all settings, to send somebody on to the next. */
const RISES = 0.97
/** Share of torque that a degree squared from best costs, and how sure that is: 10 degrees cost about 5 %, 3.5 to 6.5 (Heywood ch. 15, from memory). */
const USUAL_BEND = { share: 5e-4, spread: 1.5e-4 }

/** Settings that were tried, rising: what lies close together counts as one. */
export function settingsOf(points: readonly { advance: number }[]): number[] {
  const rising = points.map((one) => one.advance).sort((a, b) => a - b)
  const groups: number[][] = []
  for (const one of rising) {
    const last = groups.at(-1)
    if (last && one - last.at(-1)! < APART) last.push(one)
    else groups.push([one])
  }
  return groups.map((group) => group.reduce((sum, one) => sum + one, 0) / group.length)
}

/** A fit that says nothing but why. */
export function nothingSaid(verdict: SparkVerdict, note: string): SparkFit {
  return { verdict, note, best: null, recommended: null, gain: null, curve: null, spread: NaN }
}

/** Whether a curve that bends as engines do (two spreads from the usual, at the flattest) has its peak in there. */
function peaksWithin(curve: Parabola, from: number, to: number): boolean {
  const { at } = peakOf(curve)
  return -curve.c / curve.a > USUAL_BEND.share - 2 * USUAL_BEND.spread && at >= from && at <= to
}

const tenth = (degrees: number): number => Math.round(10 * degrees) / 10
const named = (degrees: number): string => `${plain(degrees, 1)}°`

/**
 * Fits torque over advance by a concave parabola, near the best of which torque is flat (Heywood ch. 15, from memory), with
 * Huber weights; interval of its peak by the delta method with Student's t.
 *
 * @param points one for each run at each setting
 */
export function fitAdvance(points: readonly SparkPoint[], options: SparkOptions): SparkFit {
  const known = points.filter(({ advance, torque }) => Number.isFinite(advance) && torque > 0)
  if (known.some(({ advance }) => advance < LATEST))
    return nothingSaid(
      'wrong sign',
      'An advance lies far after top dead centre. Advance is counted before it: check the sign.',
    )
  const settings = settingsOf(known)
  const firstKnock = Math.min(
    options.knockFrom ?? Infinity,
    ...known.filter((one) => one.knock).map((one) => one.advance),
  )
  const isKnocking = firstKnock < Infinity
  if (settings.length < LEAST_SETTINGS || known.length < LEAST_SETTINGS + 1)
    return nothingSaid(
      'too few settings',
      isKnocking
        ? `Knock from ${named(firstKnock)}: stay below it. Measure at ${LEAST_SETTINGS} settings below it at least, one of them twice.`
        : `Measure at ${LEAST_SETTINGS} settings at least, one of them twice; five, three times each, tell enough.`,
    )
  const readings = known.map(({ advance, torque }) => ({ x: advance, y: torque }))
  const [low, high] = [settings[0]!, settings.at(-1)!]
  const step = (high - low) / (settings.length - 1)
  // Whether a peak is seen at all is for the readings to say, by their own bend or by lying about it; how sharp it is, for
  // what is known of engines as well.
  const free = fitParabola(readings)
  const usual = fitParabola(readings, USUAL_BEND)
  const isSeen = isBentDown(free) || peaksWithin(usual, low - step, high + step)
  const fit = isSeen ? usual : free
  const { c, spread, df } = fit
  const t = studentFactor(CONFIDENCE, df)
  const { at: peak, error } = isSeen ? peakOf(fit) : { at: NaN, error: NaN }
  const best = isSeen
    ? { advance: peak, low: peak - t * error, high: peak + t * error, torque: valueAt(fit, peak) }
    : null
  const outcome = (verdict: SparkVerdict, note: string, recommended: number | null = null): SparkFit => ({
    verdict,
    note,
    best,
    recommended,
    gain: recommended === null ? null : changeBetween(fit, options.present, recommended, t),
    curve: fit,
    spread,
  })

  // Knock begins somewhere between the last setting without it and the first with it.
  const clean = settings.filter((one) => one < firstKnock - 0.05).at(-1)
  if (isKnocking && clean === undefined)
    return outcome('knock', `Knock at every setting tried, from ${named(firstKnock)}. Go back and measure from there.`)
  const limit = isKnocking
    ? Math.min(firstKnock - options.knockMargin, clean!)
    : options.hasKnockChannel
      ? high
      : Math.min(high, Math.max(options.present, high - options.blindMargin))
  // The least advance that gives away no more than is allowed; a rising line wants all it can get.
  const rises = changeBetween(fit, low, high, studentFactor(RISES, df))
  const cheap = best ? peak - Math.sqrt((options.giveAway * best.torque) / -c) : rises.low > 0 ? Infinity : -Infinity
  const recommended = tenth(Math.max(low - step, Math.min(cheap, limit)))
  if (isKnocking && limit < cheap)
    return outcome(
      'knock',
      `Knock from ${named(firstKnock)}, while torque still rises: ${options.knockMargin}° stay in hand.`,
      recommended,
    )
  if (!best) {
    if (rises.low > 0)
      return outcome(
        'try further',
        `Torque still rises at ${named(high)}. Try one step more, ${named(high + step)}, and watch for knock.`,
      )
    if (rises.high < 0)
      return outcome('try less', `Torque falls with every step. Try one step less, ${named(low - step)}.`)
    // Back from knock is taken whether it gains or not.
    return isKnocking && limit < options.present
      ? outcome('knock', `Knock from ${named(firstKnock)}, and nothing gained by it: go back.`, tenth(limit))
      : outcome('no gain', 'No difference shown: torque differs by no more than the runs do.')
  }
  if (peak > high + step && !isKnocking)
    return outcome(
      'try further',
      `The best lies beyond what was tried. Try ${named(high + step)} next, and watch for knock.`,
    )
  if (peak < low - step)
    return outcome('try less', `The best lies below what was tried. Try ${named(low - step)} next.`)
  const gains = changeBetween(fit, options.present, recommended, t)
  if (!(gains.low > 0) && !(firstKnock <= options.present + options.knockMargin))
    return outcome('no gain', 'No gain beyond the spread of the runs: what is there now serves.')
  return outcome(
    'best torque',
    `The least advance within ${plain(100 * options.giveAway, 1)} % of best torque.`,
    recommended,
  )
}
