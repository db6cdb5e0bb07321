import { plain, signed } from '../numbers/format'
import {
  gainBetween,
  leastWithin,
  lossOf,
  placeOfBest,
  torqueAt,
  type AdvanceCurve,
  type Between,
} from './advanceCurve'
import { advancePosterior } from './advancePosterior'

/** One setting of the advance, measured once, at one throttle and rpm bin. */
export interface SparkPoint {
  /** degrees before top dead centre */
  advance: number
  /** N·m */
  torque: number
  /** knock was seen */
  knock: boolean
  /** the run it was stepped in; left out where nobody knows */
  run?: string
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
  'wrong sign',
] as const
type SparkVerdict = (typeof SPARK_VERDICTS)[number]

/** Torque over advance in one bin, fitted. Degrees and N·m; null where nothing can be said. */
export interface SparkFit {
  verdict: SparkVerdict
  note: string
  /** advance of best torque, with its 90 % interval; null where it was not seen within what was tried */
  best: { advance: number; low: number; high: number; torque: number } | null
  /** least advance within what may be given away of best torque, less a margin for knock; null for no recommendation */
  recommended: number | null
  /** gain over what is there now at the recommended advance, N·m, with its 90 % interval */
  gain: Between | null
  /** knock begins between the last setting without it (null: none) and the first with it; null where none was met */
  knock: { clean: number | null; from: number } | null
  /** torque over advance, as fitted */
  curve: AdvanceCurve | null
  /** standard deviation of one reading about the curve, N·m */
  spread: number
  /** what heat took or gave from the first setting of a run to its last, share of torque, with its standard deviation; taken out */
  heat: { share: number; sd: number } | null
}

const LEAST_SETTINGS = 3
/** Settings nearer to each other than this are one, degrees. */
const APART = 0.4
/** No engine is run so late on purpose: a sign was mistaken. */
const LATEST = -10
/** Chance with which there must be a gain, to advise it: of many points some gain by chance. */
const GAINS = 0.97

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
function nothingSaid(verdict: SparkVerdict, note: string, knock: SparkFit['knock'] = null): SparkFit {
  return { verdict, note, best: null, recommended: null, gain: null, knock, curve: null, spread: NaN, heat: null }
}

const tenth = (degrees: number): number => Math.round(10 * degrees) / 10
const named = (degrees: number): string => `${plain(degrees, 1)}°`

/**
 * Fits torque over advance by a concave curve, near the best of which torque is flat (Heywood ch. 15, from memory) and which may
 * fall faster on one side; heat over a run is taken out. What limits the advance is told in words.
 *
 * @param points one for each setting of each run, in the order in which they were run
 * @example
 * const { recommended } = fitAdvance(points, { ...DEFAULT_SPARK, present: 24, hasKnockChannel: true })
 */
export function fitAdvance(points: readonly SparkPoint[], options: SparkOptions): SparkFit {
  const known = points.filter(({ advance, torque }) => Number.isFinite(advance) && torque > 0)
  if (known.some(({ advance }) => advance < LATEST))
    return nothingSaid(
      'wrong sign',
      'An advance lies far after top dead centre. Advance is counted before it: check the sign.',
    )
  const settings = settingsOf(known)
  const knock = knockOf(known, settings, options.knockFrom ?? null)
  if (settings.length < LEAST_SETTINGS || known.length < LEAST_SETTINGS + 1)
    return nothingSaid(
      'too few settings',
      knock
        ? `Knock from ${named(knock.from)}: stay below it. Measure at ${LEAST_SETTINGS} settings below it at least, one of them twice.`
        : `Measure at ${LEAST_SETTINGS} settings at least, one of them twice; five, three times each, tell enough.`,
      knock,
    )
  const posterior = advancePosterior(known, settings)
  const told = verdictOf(posterior.curve, settings, knock, options)
  const { curve, spread, heat } = posterior
  return {
    ...told,
    note: [told.note, heatWords(heat)].filter(Boolean).join(' '),
    gain: told.recommended === null ? null : gainBetween(curve, options.present, told.recommended),
    knock,
    curve,
    spread,
    heat,
  }
}

/** Where knock begins: between the last setting that never showed it and the first that did. */
function knockOf(
  known: readonly SparkPoint[],
  settings: readonly number[],
  knockFrom: number | null,
): SparkFit['knock'] {
  const from = Math.min(knockFrom ?? Infinity, ...known.filter((one) => one.knock).map((one) => one.advance))
  return from < Infinity ? { clean: settings.filter((one) => one < from - 0.05).at(-1) ?? null, from } : null
}

/** Heat that shows: beyond its own doubt, and more than half a percent. */
export const isHeatSeen = ({ share, sd }: { share: number; sd: number }): boolean =>
  Math.abs(share) > 0.005 && Math.abs(share) > 1.3 * sd

function heatWords(heat: SparkFit['heat']): string {
  return heat && isHeatSeen(heat)
    ? `Torque moved by ${signed(100 * heat.share)} % from the first setting of a run to its last: heat. It is taken out.`
    : ''
}

/** Whether torque is gained from one advance to another, beyond chance. */
export function isGained(curve: AdvanceCurve, from: number, to: number): boolean {
  const gains = curve.draws.filter((one) => lossOf(one, from) > lossOf(one, to))
  return gains.length >= GAINS * curve.draws.length
}

/** What limits the advance, and what is advised. */
function verdictOf(
  curve: AdvanceCurve,
  settings: readonly number[],
  knock: SparkFit['knock'],
  { present, giveAway, knockMargin, blindMargin, hasKnockChannel }: SparkOptions,
): Pick<SparkFit, 'verdict' | 'note' | 'best' | 'recommended'> {
  const [low, high] = [settings[0]!, settings.at(-1)!]
  const step = (high - low) / (settings.length - 1)
  const { isBeyond, isBelow, best: span } = placeOfBest(curve, low, high, step)
  const best = span && { advance: span.value, low: span.low, high: span.high, torque: torqueAt(curve, span.value) }
  const outcome = (
    verdict: SparkVerdict,
    note: string,
    recommended: number | null = null,
    shown = best,
  ): Pick<SparkFit, 'verdict' | 'note' | 'best' | 'recommended'> => ({ verdict, note, best: shown, recommended })

  const knocks = knock ? `Knock from ${named(knock.from)}` : ''
  if (knock && knock.clean === null)
    return outcome('knock', `${knocks}, at every setting tried. Go back and measure from there.`)
  const limit = knock
    ? Math.min(knock.from - knockMargin, knock.clean!)
    : hasKnockChannel
      ? high
      : Math.min(high, Math.max(present, high - blindMargin))
  const cheap = leastWithin(curve, giveAway, low, high + step)
  // Nothing is advised below what was tried, but for what knock asks for.
  const recommended = tenth(Math.min(Math.max(low, cheap), limit))
  if (knock && knock.from <= present)
    return outcome(
      'knock',
      `Knocks at the present setting: ${knocks}. Go back to ${named(recommended)} first of all.`,
      recommended,
    )
  if (knock && limit < cheap)
    return outcome('knock', `${knocks}, while torque still rises: ${knockMargin}° stay in hand.`, recommended)
  if (isBeyond && !knock)
    return outcome(
      'try further',
      `Torque still rises at ${named(high)}: the best lies beyond what was tried. Try one step more, ${named(high + step)}, and watch for knock.`,
    )
  if (isBelow)
    return outcome(
      'try less',
      `Torque falls with every step: the best lies below what was tried. Try one step less, ${named(low - step)}.${knocks && ` ${knocks}.`}`,
    )
  const isNearKnock = knock !== null && knock.from <= present + knockMargin
  if (!isGained(curve, present, recommended)) {
    // Back from knock is taken whether it gains or not.
    if (isNearKnock && limit < present)
      return outcome(
        'knock',
        `${knocks}, and nothing gained by it: go back.`,
        tenth(Math.min(limit, Math.max(low, cheap))),
      )
    return outcome(
      'no gain',
      `No gain beyond the spread of the runs: what is there now serves.${knocks && ` ${knocks}.`}`,
    )
  }
  return outcome(
    'best torque',
    `The least advance within ${plain(100 * giveAway, 1)} % of best torque.${knocks && ` ${knocks}.`}`,
    recommended,
  )
}
