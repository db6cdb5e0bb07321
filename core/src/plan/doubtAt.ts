import { selectedInverse } from '../numbers/selectedInverse'
import type { Knowledge } from './rangeField'
import type { Point } from './rangePoints'

/** Variance of a field at points between its nodes, ln of fuel. */
export function doubtAt({ conditioned, deviation }: Knowledge, points: readonly Point[]): number[] {
  const covariance = selectedInverse(conditioned.factor)
  const at = (k: number, other: number): number => {
    const [high, low] = [Math.max(k, other), Math.min(k, other)]
    return covariance.data[high * (covariance.width + 1) + covariance.width - (high - low)]!
  }
  return points.map(({ nodes, shares }) => {
    // What readings share, such as a lag, is doubted beyond what hangs together by the field alone.
    const shared = nodes.reduce((sum, k, j) => sum + shares[j]! * (deviation[k]! ** 2 - at(k, k)), 0)
    const own = nodes.reduce(
      (sum, k, j) => sum + nodes.reduce((part, n, m) => part + shares[j]! * shares[m]! * at(k, n), 0),
      0,
    )
    return own + Math.max(0, shared)
  })
}
