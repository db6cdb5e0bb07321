import { meanAcross } from '../../numbers/meanAcross'
import type { Curve } from '../lay/curve'
import { powerKw } from './powerUnits'
import { binRpm, type CurveRuler } from '../lay/ruler'

export const QUANTITIES = ['torque', 'power', 'lambda'] as const
/** What curves are drawn and compared of: torque in N·m, power in kW, lambda (mean of the cylinders). */
export type Quantity = (typeof QUANTITIES)[number]

/**
 * One quantity of a run by bin, corrected to standard air.
 *
 * @param factor of the correction; mixture is not corrected
 */
export function quantityOf(curve: Curve, quantity: Quantity, ruler: CurveRuler, factor: number): Float32Array {
  if (quantity === 'lambda') return meanMixture(curve, ruler)
  const { torque } = curve
  if (!torque) return new Float32Array(ruler.count).fill(NaN)
  return torque.map((value, bin) => factor * (quantity === 'torque' ? value : powerKw(value, binRpm(ruler, bin))))
}

function meanMixture({ lambda }: Curve, ruler: CurveRuler): Float32Array {
  if (lambda.length === 1) return lambda[0]!
  return Float32Array.from({ length: ruler.count }, (_, bin) => meanAcross(lambda, bin))
}

/** Mean, median, lowest and highest of several runs by bin; NaN (and 0 runs) where none says anything. */
export interface Spread {
  mean: Float32Array
  median: Float32Array
  low: Float32Array
  high: Float32Array
  runs: Uint16Array
}

/** What several runs agree on, and how far apart they lie. */
export function spreadOf(values: readonly Float32Array[], ruler: CurveRuler): Spread {
  const blank = (): Float32Array => new Float32Array(ruler.count).fill(NaN)
  const out: Spread = {
    mean: blank(),
    median: blank(),
    low: blank(),
    high: blank(),
    runs: new Uint16Array(ruler.count),
  }
  for (let bin = 0; bin < ruler.count; bin++) {
    const here = valuesAt(values, bin).sort((a, b) => a - b)
    const n = here.length
    if (n === 0) continue
    out.runs[bin] = n
    out.mean[bin] = here.reduce((sum, value) => sum + value, 0) / n
    out.median[bin] = (here[(n - 1) >> 1]! + here[n >> 1]!) / 2
    out.low[bin] = here[0]!
    out.high[bin] = here[n - 1]!
  }
  return out
}

/** Values of the runs that say something in a bin. */
export function valuesAt(values: readonly Float32Array[], bin: number): number[] {
  return values.map((one) => one[bin]!).filter((value) => value === value)
}
