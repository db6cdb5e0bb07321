import { firstFrom } from '../run/firstFrom'
import { studentFactor } from '../numbers/studentT'
import type { GearSpan } from './gearsOf'

/** Mean mixture while a gear was in, with the ends of a 90 % interval. */
export interface GearMixture {
  lambda: number
  low: number
  high: number
  /** s of readings it rests on */
  seconds: number
}

/** s after a change of gear that are not counted, and over which readings of a probe are one. */
const [SETTLES, ONE] = [0.3, 0.25]

/**
 * Mixture of one gear of a pass, wide open, the way of the gas to the probe taken out.
 *
 * @param lag s by which the probe tells later
 * @param isWide whether a row is ridden wide open
 * @returns null where fewer than two independent readings tell
 */
export function mixtureOfGear(
  time: Float32Array,
  lambda: Float32Array,
  span: GearSpan,
  lag: number,
  isWide: (row: number) => boolean,
): GearMixture | null {
  const blocks = new Map<number, number[]>()
  const start = firstFrom(time, time[span.from]! + SETTLES)
  for (let i = start; i < span.to; i++) {
    if (!isWide(i)) continue
    const value = lambda[firstFrom(time, time[i]! + lag)]
    if (value === undefined || value !== value) continue
    const block = Math.floor(time[i]! / ONE)
    blocks.set(block, [...(blocks.get(block) ?? []), value])
  }
  const means = [...blocks.values()].map((all) => all.reduce((sum, one) => sum + one, 0) / all.length)
  if (means.length < 2) return null
  const mean = means.reduce((sum, one) => sum + one, 0) / means.length
  const variance = means.reduce((sum, one) => sum + (one - mean) ** 2, 0) / (means.length - 1)
  const half = studentFactor(0.9, means.length - 1) * Math.sqrt(variance / means.length)
  return { lambda: mean, low: mean - half, high: mean + half, seconds: means.length * ONE }
}
