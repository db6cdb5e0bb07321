import { mean } from '../../numbers/mean'
import { varianceRatio } from '../../numbers/varianceRatio'
import { valuesAt } from '../torque/quantity'

/** How far the mean of each side's runs is off in each bin, as a share of the level there. */
export interface RepeatErrors {
  /** standard error of the difference of both sides; NaN where none can be told */
  error: Float64Array
  /** degrees of freedom behind it */
  freedom: Float64Array
  /** of the mean difference over all bins */
  whole: { error: number; freedom: number }
  /** what a run as a whole is off by, before these are looked at, and how many runs that is worth */
  usual: { deviation: number; worth: number }
  /** spreads of the two sides lie too far apart to be pooled */
  isUnlike: boolean
}

/** Runs are never taken to repeat better than this share: three readings agree by luck now and then. */
export const LEAST_SPREAD = 0.0015
/** Sides whose spreads lie apart by less chance than this are not pooled. */
const UNLIKE = 0.02

/** What a run as a whole is taken to be off by before any is seen (common practice: a rig repeats to about 1 %, most a little better), and how many runs that is worth. */
export const USUAL_LEVEL = { deviation: 0.008, worth: 1.5 }

/**
 * How well repeats repeat, pooled: three runs say little of their spread in one bin, but all bins of both sides speak of one
 * rig. Each run is off by a level of its own, which no number of bins tells better than the runs do, and by its shape about
 * that level, which they do: each bin's variance is drawn toward the mean over bins, as far as bins do not differ by more
 * than chance (credibility), and bins count for as many as their correlations leave.
 *
 * @param sides shares of the level, by run and bin; NaN where a run says nothing
 * @param besides groups of repeats of the same rig, in any unit: they tell how far a run as a whole is off
 * @see Bühlmann, ASTIN Bulletin 4 (1967) 199, for the credibility; Huynh and Feldt, J. Educ. Stat. 1 (1976) 69, for the count
 * of independent bins; Smyth, Stat. Appl. Genet. Mol. Biol. 3 (2004) 3, for the idea in many small comparisons
 */
export function repeatErrors(sides: readonly [Side, Side], bins: number, besides: readonly Side[] = []): RepeatErrors {
  const usual = usualLevel(besides, bins)
  const apart = sides.map((side) => apartFrom(side, bins))
  const [a, b] = apart.map((one) => variancesOf(one, bins, usual)) as [Variances, Variances]
  const all = variancesOf(apart.flat(), bins, usual)
  const isUnlike =
    a.freedom > 0 && b.freedom > 0 && varianceRatio(a.variance, a.freedom, b.variance, b.freedom) < UNLIKE
  const error = (u: number, v: number, n: number, m: number): number => Math.sqrt(u / n + v / m)
  const [n, m] = sides.map((side) => side.length) as [number, number]
  const out: RepeatErrors = {
    error: new Float64Array(bins).fill(NaN),
    freedom: new Float64Array(bins).fill(NaN),
    whole: isUnlike
      ? { error: error(a.level, b.level, n, m), freedom: Math.min(a.freedom, b.freedom) }
      : { error: error(all.level, all.level, n, m), freedom: all.freedom },
    usual,
    isUnlike,
  }
  for (let bin = 0; bin < bins; bin++) {
    const [n, m] = sides.map((side) => valuesAt(side, bin).length) as [number, number]
    // One run alone could be any run: a side needs two for its own spread.
    if (n < 2 || m < 2) continue
    const [u, v] = isUnlike ? [a.at[bin]!, b.at[bin]!] : [all.at[bin]!, all.at[bin]!]
    out.error[bin] = error(u, v, n, m)
    out.freedom[bin] = isUnlike
      ? (u / n + v / m) ** 2 / ((u / n) ** 2 / a.freedomAt[bin]! + (v / m) ** 2 / b.freedomAt[bin]!)
      : all.freedomAt[bin]!
  }
  return out
}

/**
 * The same of one figure a run, such as its mean over a band: a run as a whole is off by it, and no bins tell it better.
 *
 * @param sides shares of the level, one a run
 * @returns null where a side has one run only
 */
export function errorOfWholes(
  sides: readonly [readonly number[], readonly number[]],
  { usual: { deviation, worth }, isUnlike }: Pick<RepeatErrors, 'usual' | 'isUnlike'>,
): { error: number; df: number } | null {
  if (sides.some((side) => side.length < 2)) return null
  const tell = (groups: readonly (readonly number[])[]): { variance: number; df: number } => {
    const squares = groups.flatMap((side) => side.map((one) => (one - mean(side)) ** 2))
    const df = worth + squares.length - groups.length
    return { variance: (worth * deviation ** 2 + squares.reduce((sum, one) => sum + one, 0)) / df, df }
  }
  const [a, b] = isUnlike ? [tell([sides[0]]), tell([sides[1]])] : [tell(sides), tell(sides)]
  return {
    error: Math.sqrt(a.variance / sides[0].length + b.variance / sides[1].length),
    df: Math.min(a.df, b.df),
  }
}

type Side = readonly Float32Array[]

/** A run against the mean of its side, by bin, and how many values of its side are free to tell, by bin. */
interface Apart {
  off: Float64Array
  level: number
  /** share of a degree of freedom that is its own, by bin */
  free: Float64Array
}

function apartFrom(side: Side, bins: number): Apart[] {
  const means = Array.from({ length: bins }, (_, bin) => valuesAt(side, bin))
  return side.map((run) => {
    const off = new Float64Array(bins).fill(NaN)
    const free = new Float64Array(bins)
    means.forEach((here, bin) => {
      if (here.length < 2 || run[bin]! !== run[bin]!) return
      off[bin] = run[bin]! - here.reduce((sum, value) => sum + value, 0) / here.length
      free[bin] = 1 - 1 / here.length
    })
    const seen = off.filter((value) => value === value)
    return { off, free, level: seen.length ? seen.reduce((sum, value) => sum + value, 0) / seen.length : 0 }
  })
}

interface Variances {
  /** typical over bins, and the degrees of freedom behind it */
  variance: number
  /** of a run as a whole */
  level: number
  freedom: number
  at: Float64Array
  freedomAt: Float64Array
}

/** What is usual of a run's level on this rig, from repeats beside the ones compared. */
function usualLevel(besides: readonly Side[], bins: number): typeof USUAL_LEVEL {
  let { worth } = USUAL_LEVEL
  let squares = worth * USUAL_LEVEL.deviation ** 2
  for (const group of besides) {
    const shares = group.map((run) =>
      run.map((value, bin) => value / (sumAt(group, bin) / valuesAt(group, bin).length)),
    )
    const levels = apartFrom(shares, bins).map((one) => one.level)
    if (levels.length < 2) continue
    squares += levels.reduce((sum, one) => sum + one ** 2, 0)
    worth += levels.length - 1
  }
  return { worth, deviation: Math.sqrt(squares / worth) }
}

const sumAt = (group: Side, bin: number): number => valuesAt(group, bin).reduce((sum, one) => sum + one, 0)

/** Variance of one run by bin: that of levels, and that of shapes about them. */
function variancesOf(runs: readonly Apart[], bins: number, { deviation, worth }: typeof USUAL_LEVEL): Variances {
  const free = Float64Array.from({ length: bins }, (_, bin) => runs.reduce((sum, run) => sum + run.free[bin]!, 0))
  const told = [...free.keys()].filter((bin) => free[bin]! > 0)
  const blank = (): Float64Array => new Float64Array(bins).fill(NaN)
  if (told.length === 0) return { variance: NaN, level: NaN, freedom: 0, at: blank(), freedomAt: blank() }
  const freedom = told.reduce((sum, bin) => sum + free[bin]!, 0) / told.length
  const level = (worth * deviation ** 2 + runs.reduce((sum, run) => sum + run.level ** 2, 0)) / (worth + freedom)
  const shapes = runs.map((run) => run.off.map((value) => value - run.level))
  const ownShape = free.map((one, bin) => shapes.reduce((sum, run) => sum + (run[bin]! ** 2 || 0), 0) / one)
  const shape = told.reduce((sum, bin) => sum + ownShape[bin]!, 0) / told.length
  const count = independentBins(shapes, freedom, told)
  // How much the true variances of bins differ, beyond what so few runs show by chance.
  const spread = shape > 0 ? told.reduce((sum, bin) => sum + (ownShape[bin]! / shape - 1) ** 2, 0) / told.length : 0
  const chance = 2 / freedom
  const differ = Math.max(0, (spread - chance * (1 - 1 / count)) / (1 + chance))
  const out = { variance: level + shape, level, freedom: worth + freedom, at: blank(), freedomAt: blank() }
  for (const bin of told) {
    const share = differ / (differ + (2 / free[bin]!) * (1 + differ)) || 0
    const own = share * ownShape[bin]! + (1 - share) * shape
    const ownFreedom = free[bin]! / (share ** 2 + (1 - share ** 2) / count)
    out.at[bin] = Math.max(LEAST_SPREAD ** 2, level + own)
    // Satterthwaite, Biometrics Bulletin 2 (1946) 110.
    out.freedomAt[bin] = (level + own) ** 2 / (level ** 2 / (worth + freedom) + own ** 2 / ownFreedom)
  }
  return out
}

/** How many bins err apart from each other: neighbours that lie off together count as one. */
function independentBins(shapes: readonly Float64Array[], freedom: number, told: readonly number[]): number {
  if (freedom < 2) return 1
  const products = shapes.flatMap((a) =>
    shapes.map((b) => told.reduce((sum, bin) => sum + (a[bin]! * b[bin]! || 0), 0)),
  )
  const trace = shapes.reduce((sum, _, k) => sum + products[k * shapes.length + k]!, 0) / freedom
  const square = products.reduce((sum, one) => sum + one ** 2, 0) / freedom ** 2
  // Both without the bias that few runs give them.
  const traceSquared = (freedom * (freedom + 1) * trace ** 2 - 2 * freedom * square) / ((freedom - 1) * (freedom + 2))
  const squareTrace = (freedom ** 2 * (square - trace ** 2 / freedom)) / ((freedom - 1) * (freedom + 2))
  const count = squareTrace > 0 ? traceSquared / squareTrace : told.length
  return Math.min(told.length, Math.max(1, count))
}
