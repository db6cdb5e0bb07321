import { mean } from '../../numbers/mean'
import type { Samples } from '../readings/samples'

/** rpm of a bin, bins of each side that a line is laid through, and bins at the step itself that belong to neither. */
export const BIN = 100
export const SIDE = 5
export const GAP = 1
/** How near the missing torque must come to whole cylinders, as a share of all of it. */
const WITHIN = 0.03

/** One run by bin of rpm, from bin 0 at 0 rpm: ln torque, and ln lambda by cylinder; NaN where it was not. */
export interface BinnedRun {
  torque: number[]
  lambda: number[][]
}

export function binnedRuns(samples: Samples, torque: Float32Array, runs: number): BinnedRun[] {
  const bins = Math.ceil(samples.rpm.reduce((high, value) => Math.max(high, value), 0) / BIN) + 1
  const counts = new Float64Array(runs * bins)
  const sums = [torque, ...samples.lambda].map((column) => {
    const sum = new Float64Array(runs * bins)
    for (let i = 0; i < samples.count; i++) {
      if (!(torque[i]! > 0)) continue
      const at = samples.run[i]! * bins + Math.floor(samples.rpm[i]! / BIN)
      sum[at]! += column[i]!
      if (column === torque) counts[at]!++
    }
    return sum
  })
  const meanOf = (sum: Float64Array, run: number): number[] =>
    Array.from({ length: bins }, (_, bin) => sum[run * bins + bin]! / counts[run * bins + bin]!)
  return Array.from({ length: runs }, (_, run) => ({
    torque: meanOf(sums[0]!, run).map(Math.log),
    lambda: sums.slice(1).map((sum) => meanOf(sum, run).map(Math.log)),
  }))
}

/** Straight line through the known values of some bins, read off at another; NaN with fewer than three. */
function lineAt(values: readonly number[], from: number, to: number, at: number): number {
  let [count, sumX, sumY] = [0, 0, 0]
  for (let bin = from; bin < to; bin++) {
    const value = values[bin]
    if (value === undefined || !Number.isFinite(value)) continue
    count++
    sumX += bin
    sumY += value
  }
  if (count < 3) return NaN
  const [x, y] = [sumX / count, sumY / count]
  let [xx, xy] = [0, 0]
  for (let bin = from; bin < to; bin++) {
    const value = values[bin]
    if (value === undefined || !Number.isFinite(value)) continue
    xx += (bin - x) ** 2
    xy += (bin - x) * (value - y)
  }
  return y + (xy / xx) * (at - x)
}

/** By how much values step up at the lower edge of a bin, between lines laid through both sides. */
export function stepAt(values: readonly number[], edge: number): number {
  const at = edge - 0.5
  return (
    lineAt(values, edge + GAP, edge + GAP + SIDE, at) -
    lineAt(values, Math.max(0, edge - GAP - SIDE), Math.max(0, edge - GAP), at)
  )
}

interface TorqueStep {
  edge: number
  /** ln of torque, positive up with rpm */
  size: number
}

/** Steps of torque by whole cylinders that all runs show, in order of rpm. */
export function torqueSteps(curves: readonly BinnedRun[], cylinders: readonly number[]): TorqueStep[] {
  const length = Math.max(...curves.map((one) => one.torque.length))
  const steps = Array.from({ length }, (_, edge) => mean(curves.map((one) => stepAt(one.torque, edge))))
  return steps.flatMap((size, edge) => {
    const isTop = steps
      .slice(Math.max(0, edge - SIDE), edge + SIDE + 1)
      .every((other) => !(Math.abs(other) > Math.abs(size)))
    if (!isTop || !wholeCylinders(size, cylinders)) return []
    const inAll = curves.every((one) => {
      const own = Math.max(...[-1, 0, 1].map((shift) => Math.sign(size) * stepAt(one.torque, edge + shift) || 0))
      return own > 0.5 * Math.abs(size)
    })
    return inAll ? [{ edge, size }] : []
  })
}

/** How many cylinders' torque a step is; null for none. */
export function wholeCylinders(size: number, counts: readonly number[]): { silent: number; of: number } | null {
  const missing = 1 - Math.exp(-Math.abs(size))
  for (const of of counts) {
    const silent = Math.round(missing * of)
    if (silent >= 1 && silent < of && Math.abs(missing - silent / of) <= WITHIN) return { silent, of }
  }
  return null
}
