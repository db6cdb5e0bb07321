import { isSameStop } from '../run/stopOf'
/** A throttle stop and an engine speed at which something was held. */
export interface Place {
  /** % of plate */
  stop: number
  rpm: number
}

/** rpm within which points held at one stop are of one place: a brake is no finer. */
const SAME_SPEED = 140
/** rpm to which a place is told; stops are held at round numbers, and told as such when they are read as nearly that. */
const TOLD_RPM = 50
const ROUND = { step: 5, near: 1.5 }

export function isSamePlace(a: Place, b: Place): boolean {
  return isSameStop(a.stop, b.stop) && Math.abs(a.rpm - b.rpm) <= SAME_SPEED
}

/** Points by place, each place told by the mean of its points; in the order in which they were met. */
export function byPlace<Point extends Place>(points: readonly Point[]): { place: Place; points: Point[] }[] {
  const groups: { mean: Place; points: Point[] }[] = []
  for (const point of points) {
    const group = groups.find((one) => isSamePlace(one.mean, point))
    if (!group) {
      groups.push({ mean: { stop: point.stop, rpm: point.rpm }, points: [point] })
      continue
    }
    group.points.push(point)
    const share = 1 / group.points.length
    group.mean.stop += share * (point.stop - group.mean.stop)
    group.mean.rpm += share * (point.rpm - group.mean.rpm)
  }
  return groups.map(({ mean, points: all }) => ({ place: rounded(mean), points: all }))
}

function rounded({ stop, rpm }: Place): Place {
  const round = ROUND.step * Math.round(stop / ROUND.step)
  return {
    stop: Math.abs(stop - round) <= ROUND.near ? round : Math.round(stop),
    rpm: TOLD_RPM * Math.round(rpm / TOLD_RPM),
  }
}
