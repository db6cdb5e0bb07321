import { median } from '../../numbers/median'

/** Readings that are looked at, and how many it takes to tell. */
const MOST = 4000
const LEAST = 200
/** Lambda closer than this is one figure: what is left of it is rounding. */
const SAME = 1e-4

/**
 * The step in which a gauge or logger writes lambda: the usual gap between one figure and the next larger one that occurs.
 * Next to nothing where figures are fine; 0 where readings are too few to tell.
 *
 * @example
 * readingStep(Float32Array.from({ length: 500 }, (_, i) => 0.9 + 0.01 * (i % 7))) // 0.01
 */
export function readingStep(lambda: ArrayLike<number>): number {
  const stride = Math.max(1, Math.floor(lambda.length / MOST))
  const all = Float64Array.from({ length: Math.ceil(lambda.length / stride) }, (_, k) => lambda[k * stride]!)
  const some = all.filter((value) => value > 0).sort()
  if (some.length < LEAST) return 0
  const gaps: number[] = []
  let last = some[0]!
  for (const value of some) {
    if (value - last <= SAME) continue
    gaps.push(value - last)
    last = value
  }
  return gaps.length ? median(gaps) : 0
}

/**
 * What writing in steps may shift the mean of readings by, one deviation: readings that scatter over several steps average
 * out, those that hardly scatter all show the same figure.
 *
 * @param scatter of a reading as written, in the unit of the step
 * @see Sripad and Snyder (1977) for the characteristic function of what is left by rounding
 */
export function stepDoubt(step: number, scatter: number): number {
  if (!(step > 0)) return 0
  const own = Math.max(0, scatter ** 2 - step ** 2 / 12)
  return (step / Math.PI / Math.SQRT2) * Math.exp((-2 * Math.PI ** 2 * own) / step ** 2)
}
