import { median } from '../../numbers/median'
import { runningMean } from '../../numbers/runningMean'
import { legsIn } from '../../run/sweepSpans'
import type { RunColumns } from '../../run/run'

/** Share of the usual rise of a sweep below which speed stands still: idle before it. */
const RISING = 0.3
/** Share of the torque of what follows from which the throttle has come to its stop, and rpm over which that is looked at. */
const PULLS = 0.85
const AHEAD = 1200
/** s to either side over which a rise is told. */
const AROUND = 0.25
/** s that it must have pulled so. */
const ARRIVING = 0.3

/**
 * Where an engine pulls though no throttle was logged: the widest rise of speed, from where it is no longer idling and, as far
 * as torque or power tell, from where the throttle has come to its stop: running up and rolling out belong to no curve.
 *
 * @returns null where speed never rises, so that nothing is told apart
 */
export function pullWithoutThrottle({ time, rpm, torque, power }: RunColumns): Uint8Array | null {
  const legs = legsIn(time, rpm).filter((leg) => rpm[leg.to]! > rpm[leg.from]!)
  const width = (leg: (typeof legs)[number]): number => rpm[leg.to]! - rpm[leg.from]!
  const widest = legs.reduce<(typeof legs)[number] | null>((a, b) => (a && width(a) >= width(b) ? a : b), null)
  if (!widest) return null
  const marks = new Uint8Array(time.length)
  const speed = runningMean(time, rpm)
  const rises = (i: number): number => {
    let [a, b] = [i, i]
    while (a > widest.from && time[i]! - time[a]! < AROUND) a--
    while (b < widest.to && time[b]! - time[i]! < AROUND) b++
    return b > a ? (speed[b]! - speed[a]!) / (time[b]! - time[a]!) : 0
  }
  const rows = Array.from({ length: widest.to - widest.from + 1 }, (_, k) => widest.from + k)
  const usual = median(rows.map(rises).filter((one) => one > 0))
  // The last standstill before the sweep, not the first rise: an idle wanders.
  const idle = rows.findLast((i) => rpm[i]! < (rpm[widest.from]! + rpm[widest.to]!) / 2 && rises(i) < RISING * usual)
  let begin = idle === undefined ? widest.from : idle + 1
  const made = torque ?? (power && power.map((kw, i) => (rpm[i]! > 0 ? kw / rpm[i]! : NaN)))
  if (made) {
    const smooth = runningMean(time, made)
    const isPulling = (i: number): boolean => {
      const next = rows.filter((k) => k > i && speed[k]! <= speed[i]! + AHEAD).map((k) => smooth[k]!)
      return next.length < 3 || smooth[i]! >= PULLS * median(next)
    }
    const arrived = rows.find((i) => i >= begin && isPulling(i))
    if (arrived !== undefined && arrived > begin)
      begin = rows.find((i) => time[i]! >= time[arrived]! + ARRIVING) ?? arrived
  }
  for (let i = begin; i <= widest.to; i++) if (rpm[i]! > 0) marks[i] = 1
  return marks
}
