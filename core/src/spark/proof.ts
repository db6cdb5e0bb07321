import { welch } from '../numbers/welch'
import type { JudgedBin } from './judge'
import { gainBetween } from './advanceCurve'
import { isSamePlace } from './place'
import type { PresentReading } from './stepBins'

export const PROOF_VERDICTS = [
  'as predicted',
  'less than predicted',
  'more than predicted',
  'one reading, no interval',
] as const

/** What a change of the spark promised at a point, and what came of it. N·m, 90 % intervals. */
export interface SparkProof {
  stop: number
  rpm: number
  /** advance before and now, degrees */
  from: number
  to: number
  predicted: { value: number; low: number; high: number }
  /** interval null with one reading on either side */
  measured: { value: number; low: number | null; high: number | null }
  verdict: (typeof PROOF_VERDICTS)[number]
}

/** Degrees within which a reading was made at an advance. */
const SAME = 0.6
/** Degrees by which the advance must have moved, to be a change at all. */
const MOVED = 0.25
const CONFIDENCE = 0.9

/**
 * Holds what was predicted from runs before a change of the spark against torque measured after it, at the points both have.
 *
 * @param before points as judged then; @param now readings at what is in use now
 */
export function proveSpark(before: readonly JudgedBin[], now: readonly PresentReading[]): SparkProof[] {
  return before.flatMap(({ bin, fit }): SparkProof[] => {
    const { curve } = fit
    const { stop, rpm } = bin
    if (!curve || stop === null || bin.source !== 'steps') return []
    const here = now.filter((one) => isSamePlace(one, { stop, rpm }))
    if (here.length === 0) return []
    const from = bin.present
    const to = here.reduce((sum, one) => sum + one.advance, 0) / here.length
    if (Math.abs(to - from) < MOVED) return []
    const was = bin.points.filter((point) => Math.abs(point.advance - from) <= SAME).map((point) => point.torque)
    if (was.length === 0) return []
    const predicted = gainBetween(curve, from, to)
    const is = here.map((one) => one.torque)
    const { difference: value, low, high } = welch(was, is, CONFIDENCE, fit.spread)
    const verdict: SparkProof['verdict'] =
      low === null || high === null
        ? 'one reading, no interval'
        : high < predicted.low
          ? 'less than predicted'
          : low > predicted.high
            ? 'more than predicted'
            : 'as predicted'
    return [{ stop, rpm, from, to, predicted, measured: { value, low, high }, verdict }]
  })
}
