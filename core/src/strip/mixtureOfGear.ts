import { firstFrom } from '../run/firstFrom'
import { mean } from '../numbers/mean'
import { meanInterval } from '../numbers/meanInterval'
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
  const means = [...blocks.values()].map((all) => mean(all))
  const told = meanInterval(means)
  if (!told || told.low === null) return null
  return { lambda: told.mean, low: told.low, high: told.high!, seconds: means.length * ONE }
}
