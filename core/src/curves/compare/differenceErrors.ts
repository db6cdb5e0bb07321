import { mean } from '../../numbers/mean'
import { studentFactor } from '../../numbers/studentT'
import { spreadOf } from '../torque/quantity'
import { errorOfWholes, repeatErrors, type RepeatErrors } from '../lay/repeatErrors'
import type { CurveRuler } from '../lay/ruler'

/** How far a difference of two sets may be off, wherever it is told: in a bin, between two, or over a band. */
export interface DifferenceErrors {
  /** what errors are shares of, by bin: the level of both sides */
  scale: Float32Array
  repeats: RepeatErrors
  /** a doubt that repeats do not tell (standard error as a share of the level), by bin */
  doubt: Float64Array | null
}

/** A standard error and the degrees of freedom behind it. */
export interface ErrorOf {
  error: number
  df: number
}

/** What is known beside the runs that are compared. */
export interface Besides {
  doubt?: Float64Array | undefined
  /** repeats of the same rig that tell its spread */
  besides?: readonly Float32Array[][]
}

/**
 * Errors of the difference of two sets: one judgement for the curve and for every figure that is read off it.
 *
 * @param first, second values of one quantity, by run and bin
 */
export function differenceErrors(
  first: readonly Float32Array[],
  second: readonly Float32Array[],
  ruler: CurveRuler,
  { doubt, besides = [] }: Besides = {},
): DifferenceErrors {
  const scale = scaleOf(spreadOf(first, ruler).mean, spreadOf(second, ruler).mean)
  const share = (values: readonly Float32Array[]): Float32Array[] =>
    values.map((run) => run.map((value, bin) => value / scale[bin]!))
  return { scale, repeats: repeatErrors([share(first), share(second)], ruler.count, besides), doubt: doubt ?? null }
}

/** Where a curve is a smaller share of its highest value, errors are no longer told as shares of it. */
const LEAST_SHARE = 0.1

function scaleOf(first: Float32Array, second: Float32Array): Float32Array {
  const middle = first.map((value, bin) => Math.abs(value + second[bin]!) / 2)
  const highest = middle.reduce((most, value) => Math.max(most, value || 0), 0)
  return middle.map((value) => Math.max(value, LEAST_SHARE * highest))
}

/** Of the difference in one bin; null where runs are too few to tell. */
export function errorAt({ scale, repeats, doubt }: DifferenceErrors, bin: number): ErrorOf | null {
  const error = withDoubt({ error: repeats.error[bin]!, df: repeats.freedom[bin]! }, doubt?.[bin] ?? 0)
  return error && { ...error, error: error.error * scale[bin]! }
}

/** Of the difference between one bin of the first set and another of the second: of two peaks, say. */
export function errorBetween(errors: DifferenceErrors, first: number, second: number): ErrorOf | null {
  const [a, b] = [errorAt(errors, first), errorAt(errors, second)]
  // Each bin's error is that of both sides: about half of either's variance is one side's own.
  return a && b && { error: Math.sqrt((a.error ** 2 + b.error ** 2) / 2), df: Math.min(a.df, b.df) }
}

/**
 * Of the difference of what each run comes to over some bins.
 *
 * @param sides one figure a run
 */
export function errorOver(
  { repeats, doubt }: DifferenceErrors,
  sides: readonly [readonly number[], readonly number[]],
  from: number,
  to: number,
): ErrorOf | null {
  const level = Math.abs(mean(sides.map((side) => mean(side))))
  if (!(level > 0)) return null
  const [first, second] = sides.map((side) => side.map((one) => one / level)) as [number[], number[]]
  const error = withDoubt(errorOfWholes([first, second], repeats), doubt ? mean(doubt, from, to) : 0)
  return error && { ...error, error: error.error * level }
}

/** Of the mean difference over all bins, as a share of the level. */
export function errorOfAll({ repeats, doubt }: DifferenceErrors): ErrorOf | null {
  return withDoubt({ error: repeats.whole.error, df: repeats.whole.freedom }, doubt ? mean(doubt) : 0)
}

function withDoubt(told: ErrorOf | null, doubt: number): ErrorOf | null {
  if (!told || !(told.error > 0)) return null
  const variance = told.error ** 2 + doubt ** 2
  return { error: Math.sqrt(variance), df: told.df * (variance / told.error ** 2) ** 2 }
}

/** The interval about a difference. */
export function intervalAbout(difference: number, { error, df }: ErrorOf, confidence: number): [number, number] {
  const half = studentFactor(confidence, df) * error
  return [difference - half, difference + half]
}
