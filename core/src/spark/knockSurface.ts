import { cholesky, solveFactored } from '../numbers/banded'
import { NINETY } from '../numbers/ninety'
import { densityOverIntegral } from '../numbers/normalTail'
import { likeness, likenessMatrix, type Place2 } from '../numbers/smoothSurface'
import { REACH } from './bestSurface'

/** A setting that was tried at a place: degrees from what is there now, and whether it knocked. */
export interface KnockReading {
  at: Place2
  offset: number
  knock: boolean
}

/** Degrees over which knock comes and goes from run to run. */
const BLUR = 0.7
/** Degrees over what is there at which knock is usual before anything is heard, how sure that is, and how places differ. */
const PRIOR = { mean: 12, level: 10, spread: 3, reach: REACH }
const ROUNDS = 25

/** Slope and bend by which a setting pulls the line that lies so many blurs above it. */
function pull(z: number): { slope: number; bend: number } {
  const slope = densityOverIntegral(z)
  return { slope, bend: slope * (z + slope) }
}

/**
 * The knock line as a smooth surface over speed and load, told from both sides: by settings that knocked and by those that did not
 * (probit, Laplace's approximation).
 *
 * @param readings with a knock among them; without one nothing bounds it from above, and nothing is said
 * @returns at a place degrees from what is there now: where knock is expected, and where it begins at the earliest by 95 of 100; null
 * without any knock
 * @see Rasmussen and Williams, Gaussian Processes, algorithm 3.1, from memory
 */
export function knockSurface(
  readings: readonly KnockReading[],
): ((place: Place2) => { mean: number; earliest: number }) | null {
  if (!readings.some((one) => one.knock)) return null
  const keys = [...new Set(readings.map(({ at }) => at.join(' ')))]
  const places = keys.map((key) => readings.find(({ at }) => at.join(' ') === key)!.at)
  const by = readings.map(({ at, ...one }) => ({ ...one, place: keys.indexOf(at.join(' ')) }))
  const n = places.length
  let line = new Float64Array(n)
  let bends = new Float64Array(n)
  for (let round = 0; round < ROUNDS; round++) {
    const slopes = new Float64Array(n)
    bends = new Float64Array(n).fill(1e-6)
    for (const { place, offset, knock } of by) {
      const sign = knock ? -1 : 1
      const { slope, bend } = pull((sign * (line[place]! + PRIOR.mean - offset)) / BLUR)
      slopes[place]! += (sign * slope) / BLUR
      bends[place]! += bend / (BLUR * BLUR)
    }
    // Newton: (K^-1 + W) f = W f + slope, as K (K + W^-1)^-1 (f + W^-1 slope).
    const target = line.map((one, k) => one + slopes[k]! / bends[k]!)
    const factor = cholesky(
      likenessMatrix(
        PRIOR,
        places,
        [...bends].map((one) => 1 / one),
      ),
    )
    const weights = solveFactored(factor, target)
    line = Float64Array.from(places, (a) => places.reduce((sum, b, k) => sum + likeness(PRIOR, a, b) * weights[k]!, 0))
  }
  const factor = cholesky(
    likenessMatrix(
      PRIOR,
      places,
      [...bends].map((one) => 1 / one),
    ),
  )
  const plain = cholesky(
    likenessMatrix(
      PRIOR,
      places,
      places.map(() => 1e-6),
    ),
  )
  const weights = solveFactored(plain, line)
  return (place) => {
    const like = Float64Array.from(places, (one) => likeness(PRIOR, one, place))
    const dot = (a: Float64Array, b: Float64Array): number => a.reduce((sum, one, k) => sum + one * b[k]!, 0)
    const variance = Math.max(0, likeness(PRIOR, place, place) - dot(like, solveFactored(factor, like)))
    const mean = PRIOR.mean + dot(like, weights)
    return { mean, earliest: mean - NINETY * Math.sqrt(variance) }
  }
}
