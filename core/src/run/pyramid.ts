import { firstFrom } from './firstFrom'

/** The least and the most of a channel in even parts of a span of time; NaN where nothing was read. */
export interface Pyramid {
  /** s, middle of each part */
  time: number[]
  min: number[]
  max: number[]
}

/**
 * What a channel does over a span of time, in so many parts that each is hardly wider than a point of a screen: nothing that
 * stands out between two points is lost.
 *
 * @param time s, rising; @param values beside it
 * @param points parts, 1 or more
 * @example
 * pyramidOf(Float32Array.of(0, 1, 2, 3), Float32Array.of(5, 9, 1, 2), { from: 0, to: 4 }, 2).max // [9, 2]
 */
export function pyramidOf(
  time: Float32Array,
  values: Float32Array,
  { from, to }: { from: number; to: number },
  points: number,
): Pyramid {
  const width = (to - from) / points
  const told: Pyramid = {
    time: Array.from({ length: points }, (_, k) => from + (k + 0.5) * width),
    min: new Array<number>(points).fill(NaN),
    max: new Array<number>(points).fill(NaN),
  }
  for (let i = firstFrom(time, from); i < time.length && time[i]! <= to; i++) {
    const value = values[i]!
    if (value !== value) continue
    const k = Math.min(points - 1, Math.floor((time[i]! - from) / width))
    if (!(told.min[k]! <= value)) told.min[k] = value
    if (!(told.max[k]! >= value)) told.max[k] = value
  }
  return told
}
