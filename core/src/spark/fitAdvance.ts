import { studentFactor, studentTail } from '../runs/studentT'

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
}

/** Half a percent of torque is not felt and buys margin (method of the trade); the margins are common practice. */
export const DEFAULT_SPARK: Omit<SparkOptions, 'present' | 'hasKnockChannel'> = {
  giveAway: 0.005,
  knockMargin: 2,
  blindMargin: 1,
}

/** What limits the advance, or why nothing is said. */
export type SparkVerdict =
  | 'best torque'
  | 'knock'
  | 'no gain'
  | 'try further'
  | 'try less'
  | 'too few settings'
  | 'no clear shape'
  | 'wrong sign'

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
  /** torque = a + b x + c x², x = advance - centre */
  curve: { centre: number; a: number; b: number; c: number } | null
  /** standard deviation of one run about the curve, N·m */
  spread: number
}

const LEAST_SETTINGS = 3
/** No engine is run so late on purpose: a sign was mistaken. */
const LATEST = -10
const CONFIDENCE = 0.9
/** Chance below which a curve is taken to be bent. */
const BENT = 0.05
/** Confidence with which torque must rise or fall over all settings, to send somebody on to the next. */
const RISES = 0.97
/** Share of torque that a degree squared from best costs, and how sure that is: 10 degrees cost about 5 %, 3.5 to 6.5 (Heywood ch. 15, from memory). */
const USUAL_BEND = { share: 5e-4, spread: 1.5e-4 }
const HUBER = 2
const ROUNDS = 8
/** Runs are never taken to repeat better than this share. */
const LEAST_SPREAD = 0.001

/**
 * Fits torque over advance by a concave parabola, near the best of which torque is flat (Heywood ch. 15, from memory), with
 * Huber weights; interval of its peak by the delta method with Student's t.
 *
 * @param points one for each run at each setting
 */
export function fitAdvance(points: readonly SparkPoint[], options: SparkOptions): SparkFit {
  const none = (verdict: SparkVerdict, note: string): SparkFit => ({
    verdict,
    note,
    best: null,
    recommended: null,
    gain: null,
    curve: null,
    spread: NaN,
  })
  const known = points.filter(({ advance, torque }) => Number.isFinite(advance) && torque > 0)
  if (known.some(({ advance }) => advance < LATEST))
    return none(
      'wrong sign',
      'An advance lies far after top dead centre. Advance is counted before it: check the sign.',
    )
  const settings = [...new Set(known.map((one) => Math.round(10 * one.advance) / 10))].sort((a, b) => a - b)
  if (settings.length < LEAST_SETTINGS || known.length < LEAST_SETTINGS + 1)
    return none(
      'too few settings',
      `Measure at ${LEAST_SETTINGS} settings at least, one of them twice; five, three times each, tell enough.`,
    )
  const plainFit = robustParabola(known, false)
  // Whether it is bent at all is for the readings alone to say; how much, for what is known of engines as well.
  const isBent = plainFit.c < 0 && studentTail(plainFit.c / Math.sqrt(plainFit.covariance[2]![2]!), plainFit.df) < BENT
  const fit = isBent ? robustParabola(known, true) : plainFit
  const { centre, a, b, c, covariance, spread, df } = fit
  const curve = { centre, a, b, c }
  const [low, high] = [settings[0]!, settings.at(-1)!]
  const step = (high - low) / (settings.length - 1)
  const t = studentFactor(CONFIDENCE, df)
  const base = { ...none('no clear shape', ''), curve, spread }

  const span = gainBetween(fit, low, high, studentFactor(RISES, df))
  if (!isBent) {
    if (span.low > 0)
      return {
        ...base,
        verdict: 'try further',
        note: `Torque still rises at ${high.toFixed(1)}°. Try one step more, ${(high + step).toFixed(1)}°, and watch for knock.`,
      }
    if (span.high < 0)
      return {
        ...base,
        verdict: 'try less',
        note: `Torque falls with every step. Try one step less, ${(low - step).toFixed(1)}°.`,
      }
    return { ...base, verdict: 'no gain', note: 'Nothing in it: torque differs by no more than the runs do.' }
  }
  const peak = centre - b / (2 * c)
  const [db, dc] = [-1 / (2 * c), b / (2 * c * c)]
  const error = Math.sqrt(
    db * db * covariance[1]![1]! + 2 * db * dc * covariance[1]![2]! + dc * dc * covariance[2]![2]!,
  )
  const best = { advance: peak, low: peak - t * error, high: peak + t * error, torque: at(fit, peak) }
  const knocked = known.filter((one) => one.knock).map((one) => one.advance)
  const firstKnock = knocked.length ? Math.min(...knocked) : Infinity
  // The least advance that gives away no more than is allowed.
  const cheap = peak - Math.sqrt((options.giveAway * best.torque) / -c)
  // Knock begins somewhere between the last setting without it and the first with it.
  const clean = settings.filter((one) => one < firstKnock - 0.05)
  const limit =
    firstKnock < Infinity
      ? Math.min(firstKnock - options.knockMargin, clean.at(-1) ?? low - step)
      : options.hasKnockChannel
        ? high
        : Math.min(high, Math.max(options.present, high - options.blindMargin))
  const reach = Math.max(low - step, Math.min(cheap, limit))
  const recommended = Math.round(10 * reach) / 10
  const gain = gainBetween(fit, options.present, recommended, t)
  const said = { ...base, best, recommended, gain }
  if (peak > high + step)
    return {
      ...said,
      verdict: 'try further',
      recommended: null,
      gain: null,
      note: `The best lies beyond what was tried. Try ${(high + step).toFixed(1)}° next, and watch for knock.`,
    }
  if (peak < low - step)
    return {
      ...said,
      verdict: 'try less',
      recommended: null,
      gain: null,
      note: `The best lies below what was tried. Try ${(low - step).toFixed(1)}° next.`,
    }
  const isKnockLimited = firstKnock < Infinity && limit < cheap
  // Back from knock is taken whether it gains or not.
  if (isKnockLimited)
    return {
      ...said,
      verdict: 'knock',
      note: `Knock from ${firstKnock.toFixed(1)}°, while torque still rises: ${options.knockMargin}° stay in hand.`,
    }
  if (!(gain.low > 0) && !(firstKnock <= options.present + options.knockMargin))
    return {
      ...said,
      verdict: 'no gain',
      recommended: null,
      gain: null,
      note: 'No gain beyond the spread of the runs: what is there now serves.',
    }
  return {
    ...said,
    verdict: 'best torque',
    note: `The least advance within ${(100 * options.giveAway).toFixed(1)} % of best torque.`,
  }
}

interface Parabola {
  centre: number
  a: number
  b: number
  c: number
  covariance: number[][]
  spread: number
  df: number
}

function at({ centre, a, b, c }: Parabola, advance: number): number {
  const x = advance - centre
  return a + b * x + c * x * x
}

/** Torque gained from one advance to another, with its interval: the constant drops out. */
function gainBetween(fit: Parabola, from: number, to: number, t: number): { value: number; low: number; high: number } {
  const [x, y] = [from - fit.centre, to - fit.centre]
  const [db, dc] = [y - x, y * y - x * x]
  const value = fit.b * db + fit.c * dc
  const { covariance: v } = fit
  const half = t * Math.sqrt(Math.max(0, db * db * v[1]![1]! + 2 * db * dc * v[1]![2]! + dc * dc * v[2]![2]!))
  return { value, low: value - half, high: value + half }
}

/** @param usual whether the usual bend counts as one more reading */
function robustParabola(points: readonly SparkPoint[], usual: boolean): Parabola {
  const centre = points.reduce((sum, one) => sum + one.advance, 0) / points.length
  const rows = points.map(({ advance, torque }) => ({ x: [1, advance - centre, (advance - centre) ** 2], y: torque }))
  let weights = rows.map(() => 1)
  let beta = [0, 0, 0]
  let inverse: number[][] = []
  const df = Math.max(1, rows.length - 3)
  let spread = 0
  for (let round = 0; round < ROUNDS; round++) {
    const normal = [0, 1, 2].map((i) =>
      [0, 1, 2].map((j) => rows.reduce((sum, row, k) => sum + weights[k]! * row.x[i]! * row.x[j]!, 0)),
    )
    const right = [0, 1, 2].map((i) => rows.reduce((sum, row, k) => sum + weights[k]! * row.x[i]! * row.y, 0))
    if (usual && spread > 0) {
      const weight = (spread / (USUAL_BEND.spread * beta[0]!)) ** 2
      normal[2]![2]! += weight
      right[2]! -= weight * USUAL_BEND.share * beta[0]!
    }
    inverse = inverse3(normal)
    beta = inverse.map((line) => line.reduce((sum, value, j) => sum + value * right[j]!, 0))
    const residuals = rows.map((row) => row.y - row.x.reduce((sum, value, i) => sum + value * beta[i]!, 0))
    const least = LEAST_SPREAD * Math.abs(beta[0]!)
    spread = Math.max(least, Math.sqrt(residuals.reduce((sum, one, k) => sum + weights[k]! * one * one, 0) / df))
    weights = residuals.map((one) => (Math.abs(one) > HUBER * spread ? (HUBER * spread) / Math.abs(one) : 1))
  }
  const [a, b, c] = beta as [number, number, number]
  return {
    centre,
    a,
    b,
    c,
    covariance: inverse.map((line) => line.map((value) => value * spread * spread)),
    spread,
    df,
  }
}

/** Inverse of a symmetric 3 x 3 matrix by its cofactors. */
function inverse3(m: number[][]): number[][] {
  const cofactor = (i: number, j: number): number => {
    const [r0, r1] = [0, 1, 2].filter((k) => k !== i) as [number, number]
    const [c0, c1] = [0, 1, 2].filter((k) => k !== j) as [number, number]
    return (-1) ** (i + j) * (m[r0]![c0]! * m[r1]![c1]! - m[r0]![c1]! * m[r1]![c0]!)
  }
  const determinant = [0, 1, 2].reduce((sum, j) => sum + m[0]![j]! * cofactor(0, j), 0)
  return [0, 1, 2].map((i) => [0, 1, 2].map((j) => cofactor(j, i) / determinant))
}
