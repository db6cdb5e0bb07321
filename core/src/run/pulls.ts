import { firstFrom } from './firstFrom'
import type { Stretch } from './stretches'

/** Rows of a log: `from` to before `to`. */
export interface Rows {
  from: number
  to: number
}

/** A sweep of a ride that counts as one of its own: rpm it spans, share of its lower end, s. What is shorter tells no curve. */
const PULL = { rpm: 2500, share: 1.5, seconds: 2 }

/** Rows of a stretch. */
export const rowsOf = (time: Float32Array, { from, to }: Pick<Stretch, 'from' | 'to'>): Rows => ({
  from: firstFrom(time, from - 5e-4),
  to: Math.min(time.length, firstFrom(time, to) + 1),
})

/** Whether a sweep among others of a ride is one that a curve can be told from. */
export function isPull(time: Float32Array, rpm: Float32Array, { from, to }: Rows): boolean {
  const [low, high] = [rpm[from]!, rpm[to - 1]!]
  return high - low >= PULL.rpm && high >= PULL.share * low && time[to - 1]! - time[from]! >= PULL.seconds
}
