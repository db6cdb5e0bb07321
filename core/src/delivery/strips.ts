import { factorFromPercent, percentFromFactor } from '../fuel/mixture'
import { locate } from '../table/lookup'
import { leastCost } from './leastCost'
import type { Given } from './left'
import { pointsOf } from './points'
import { withoutGaps, type Wanted } from './wanted'

/** Two lists by speed: one below a throttle threshold, one from it up. */
export interface Strips {
  threshold: number
  rpm: number[]
  /** % of fuel, by speed */
  low: number[]
  high: number[]
}

/** Factor that strips give: straight between their speeds, flat beyond. */
export function givenByStrips({ threshold, rpm, low, high }: Strips): Given {
  return (speed, load) => {
    const values = load < threshold ? low : high
    const [at, share] = locate(rpm, speed)
    return factorFromPercent(values[at]! * (1 - share) + values[at + 1]! * share)
  }
}

/**
 * Values of two strips that leave the least cost. Where the field rests on trims of a closed loop, below the threshold, what is
 * wanted is what takes those trims back to nothing.
 *
 * @param rpm speeds of both lists, rising
 * @throws RangeError when nothing is wanted
 */
export function fitStrips(wanted: Wanted, threshold: number, rpm: readonly number[]): Strips {
  const points = pointsOf(withoutGaps(wanted))
  const across = Array.from(points.rpm, (speed) => locate(rpm, speed))
  const isHigh = Array.from(points.load, (load) => load >= threshold)
  const count = points.factor.length
  const index = new Int32Array(2 * count)
  const share = new Float64Array(2 * count)
  for (let k = 0; k < count; k++) {
    const [at, right] = across[points.column[k]!]!
    const from = at + (isHigh[points.row[k]!] ? rpm.length : 0)
    index[2 * k] = from
    index[2 * k + 1] = from + 1
    share[2 * k] = 1 - right
    share[2 * k + 1] = right
  }
  const size = 2 * rpm.length
  const { settings } = leastCost(
    points,
    { size, width: rpm.length, wide: rpm.length, each: 2, index, share },
    new Float64Array(size).fill(1),
  )
  const values = Array.from(settings, percentFromFactor)
  return { threshold, rpm: [...rpm], low: values.slice(0, rpm.length), high: values.slice(rpm.length) }
}
