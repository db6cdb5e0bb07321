import { launchOf } from './launchOf'
import { STRIP_MARKS, type StripRules, type StripSplit } from './marks'

/** A pass as its speed tells it. */
export interface TimedPass {
  /** s of the run at which it began to move */
  from: number
  splits: StripSplit[]
  /** s of the run at a distance from where it stood, m; null where it did not come so far */
  secondsAt(distanceM: number): number | null
  /** m from where it stood at a time, s */
  distanceAt(seconds: number): number
}

/**
 * Times and speeds at the marks of a strip, from speed over time. Distances count from where it stood, as between the beams of a
 * strip; the clock starts once it has rolled `rolloutM`. Speed is taken as straight between two readings.
 *
 * @param time s, rising; @param speed m/s, both of one length, every reading there
 * @param moves row of a reading that moves, among the first; @param last row at which looking ends
 * @see Kinematics: distance is the integral of speed; what a strip times, common practice
 * @example
 * stripSplits(time, speed, 120, 400, USUAL_RULES).splits.at(-1)?.timeS
 */
export function stripSplits(
  time: ArrayLike<number>,
  speed: ArrayLike<number>,
  moves: number,
  last: number,
  { rolloutM, trapM, endM }: StripRules,
): TimedPass {
  const launch = launchOf(time, speed, moves)
  const [ts, vs, ds] = [[launch.from], [0], [0]]
  for (let i = launch.row; i <= last; i++) {
    const v = speed[i]!
    const k = ts.length - 1
    const distance = i === launch.row ? launch.distanceM : ds[k]! + ((vs[k]! + v) / 2) * (time[i]! - ts[k]!)
    ts.push(time[i]!)
    vs.push(Math.max(0, v))
    ds.push(distance)
  }
  const segmentAt = (list: readonly number[], value: number): number => {
    let [low, high] = [0, list.length - 2]
    while (low < high) {
      const middle = (low + high + 1) >> 1
      if (list[middle]! <= value) low = middle
      else high = middle - 1
    }
    return low
  }
  const secondsAt = (distance: number): number | null => {
    if (!(ds.at(-1)! >= distance) || ds.length < 2) return null
    const k = segmentAt(ds, distance)
    const [t, v, left, step] = [ts[k]!, vs[k]!, distance - ds[k]!, ts[k + 1]! - ts[k]!]
    // The first of them bends: its distance says how much, not its speeds.
    const slope = k === 0 ? (2 * ds[1]!) / (step * step || 1) : (vs[k + 1]! - v) / step
    const root = Math.sqrt(Math.max(0, v * v + 2 * slope * left))
    return t + (v + root > 0 ? Math.min(step, (2 * left) / (v + root)) : 0)
  }
  const distanceAt = (seconds: number): number => {
    const k = segmentAt(ts, seconds)
    const [into, step] = [Math.max(0, seconds - ts[k]!), (ts[k + 1] ?? ts[k]!) - ts[k]!]
    if (!(step > 0)) return ds[k]!
    const share = Math.min(1, into / step)
    return ds[k]! + (vs[k]! + (share * (vs[k + 1]! - vs[k]!)) / 2) * share * step
  }
  const starts = secondsAt(rolloutM)
  const marks = [...STRIP_MARKS.filter((mark) => mark < endM - 0.5), endM]
  const splits = marks.flatMap((distanceM): StripSplit[] => {
    const at = secondsAt(distanceM)
    if (starts === null || at === null) return []
    const enters = distanceM > trapM ? secondsAt(distanceM - trapM)! : null
    return [{ distanceM, timeS: at - starts, speedKmh: enters === null ? null : (3.6 * trapM) / (at - enters) }]
  })
  return { from: launch.from, splits, secondsAt, distanceAt }
}
