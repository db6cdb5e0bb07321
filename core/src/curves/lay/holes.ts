import type { RpmBand } from '../../run/run'
import { binRpm, type CurveRuler } from './ruler'

/** A dip of torque against its own smooth trend. */
export interface Hole extends RpmBand {
  /** deepest point below the trend, % of it */
  depthPct: number
  deepestRpm: number
  /** mean mixture error in the dip, % of fuel needed; null when the mixture is not known there */
  mixturePct: number | null
  /** what the mixture says to it */
  verdict: 'lean' | 'rich' | 'mixture on target' | 'mixture not known'
}

/** rpm to either side over which the trend looks. */
const REACH = 1800
/** % below the trend that makes a dip, and that ends it. */
const LEAST_DEPTH = 2
const EDGE_DEPTH = 0.7
const WIDTH = { least: 300, most: 3000 }
/** % of fuel from which a mixture error can be what causes it. */
const MIXTURE_ERROR = 3
const ROUNDS = 4

/**
 * Finds holes in torque and says whether the mixture is off where they are.
 *
 * @param torque by bin (mean of the runs); NaN where unknown
 * @param lambda by bin, and the target there; same length
 */
export function findHoles(
  torque: ArrayLike<number>,
  lambda: ArrayLike<number>,
  target: ArrayLike<number>,
  ruler: CurveRuler,
): Hole[] {
  const trend = trendOf(torque, ruler)
  const depth = Array.from(trend, (level, bin) => (100 * (level - torque[bin]!)) / Math.abs(level))
  const holes: Hole[] = []
  for (let bin = 0; bin < ruler.count; bin++) {
    if (!(depth[bin]! > LEAST_DEPTH)) continue
    let from = bin
    let to = bin
    while (from > 0 && depth[from - 1]! > EDGE_DEPTH) from--
    while (to < ruler.count - 1 && depth[to + 1]! > EDGE_DEPTH) to++
    bin = to
    const band = { fromRpm: binRpm(ruler, from), toRpm: binRpm(ruler, to) }
    const width = band.toRpm - band.fromRpm
    // Where the data end, a curve that bends away from its trend is no dip.
    const closed = depth[from - 1]! <= EDGE_DEPTH && depth[to + 1]! <= EDGE_DEPTH
    if (!closed || width < WIDTH.least || width > WIDTH.most) continue
    const inside = Array.from({ length: to - from + 1 }, (_, k) => from + k)
    const deepest = inside.reduce((best, one) => (depth[one]! > depth[best]! ? one : best), from)
    const errors = inside.map((one) => 100 * (lambda[one]! / target[one]! - 1)).filter((value) => value === value)
    const mixturePct = errors.length ? errors.reduce((sum, value) => sum + value, 0) / errors.length : null
    holes.push({
      ...band,
      depthPct: depth[deepest]!,
      deepestRpm: binRpm(ruler, deepest),
      mixturePct,
      verdict: verdictOn(mixturePct),
    })
  }
  return holes
}

function verdictOn(mixturePct: number | null): Hole['verdict'] {
  if (mixturePct === null) return 'mixture not known'
  if (mixturePct > MIXTURE_ERROR) return 'lean'
  return mixturePct < -MIXTURE_ERROR ? 'rich' : 'mixture on target'
}

/** A wide local parabola through the curve; what lies well below it counts less and less, so a dip does not pull it down. */
function trendOf(torque: ArrayLike<number>, ruler: CurveRuler): Float64Array {
  const weight = Float64Array.from(torque, (value) => (value === value ? 1 : 0))
  let trend = new Float64Array(ruler.count)
  for (let round = 0; round < ROUNDS; round++) {
    trend = Float64Array.from({ length: ruler.count }, (_, bin) => localParabola(torque, weight, ruler, bin))
    for (let bin = 0; bin < ruler.count; bin++) {
      const below = (100 * (trend[bin]! - torque[bin]!)) / Math.abs(trend[bin]!)
      weight[bin] = below === below ? Math.max(0.02, 1 - Math.max(0, below - 0.3) / 1.2) : 0
    }
  }
  return trend
}

function localParabola(values: ArrayLike<number>, weight: Float64Array, ruler: CurveRuler, at: number): number {
  const reach = Math.ceil(REACH / ruler.step)
  const s = [0, 0, 0, 0, 0]
  const t = [0, 0, 0]
  for (let bin = Math.max(0, at - reach); bin <= Math.min(ruler.count - 1, at + reach); bin++) {
    const w0 = weight[bin]!
    if (w0 === 0) continue
    const d = (bin - at) / reach
    const bell = 1 - Math.abs(d) * d * d
    let w = w0 * bell * bell * bell
    for (let k = 0; k < 5; k++, w *= d) {
      s[k]! += w
      if (k < 3) t[k]! += w * values[bin]!
    }
  }
  // Cramer's rule for the constant of the weighted parabola.
  const det = (a: number[], b: number[], c: number[]): number =>
    a[0]! * (b[1]! * c[2]! - b[2]! * c[1]!) -
    a[1]! * (b[0]! * c[2]! - b[2]! * c[0]!) +
    a[2]! * (b[0]! * c[1]! - b[1]! * c[0]!)
  const whole = det([s[0]!, s[1]!, s[2]!], [s[1]!, s[2]!, s[3]!], [s[2]!, s[3]!, s[4]!])
  if (Math.abs(whole) < 1e-9 * s[0]! ** 3) return s[0]! > 0 ? t[0]! / s[0]! : NaN
  return det([t[0]!, s[1]!, s[2]!], [t[1]!, s[2]!, s[3]!], [t[2]!, s[3]!, s[4]!]) / whole
}
