import { leastSquares } from '../numbers/leastSquares'

/** How it left: when it began to move, s, and how far it had come by its first reading that moves, m. */
export interface Launch {
  /** row of its first reading that moves */
  row: number
  from: number
  distanceM: number
}

/** s of readings that the start is fitted through, and how far before the first of them it may lie. */
const [FITTED, EARLIEST] = [1.3, 1.2]
const MOST_ROWS = 130
/** s over which a clutch takes up the load, common practice: it moves off that much earlier, and rolls that much further. */
const CLUTCH = 0.3
/** A first reading of less than so much of what is gained between two readings: the sensor shows how slowly it may be. */
const SHOWS = 1.2
/** m/s and less is standing still. */
const STILL = 0.14

/**
 * When a machine began to move. Sensors of speed show nothing below a few km/h, so a curve through the first readings (speed as
 * a straight line and a bend over time) is followed down to where it stands still.
 *
 * @param time s; @param speed m/s, both of one length, every reading there
 * @param moves row of a reading that moves, among the first
 */
export function launchOf(time: ArrayLike<number>, speed: ArrayLike<number>, moves: number): Launch {
  let first = moves
  while (first > 0 && speed[first - 1]! > STILL && speed[first - 1]! < speed[first]!) first--
  const [at, v] = [time[first]!, speed[first]!]
  const rows: [number, number][] = []
  for (let i = first; i < time.length && time[i]! <= at + FITTED && rows.length < MOST_ROWS; i++)
    rows.push([time[i]! - at, speed[i]!])
  const before = first > 0 ? at - time[first - 1]! : EARLIEST
  // Too few readings for a curve: it gained what it had since the reading before.
  const otherwise: Launch = {
    row: first,
    from: at - Math.min(before, EARLIEST),
    distanceM: (v * Math.min(before, EARLIEST)) / 2,
  }
  if (rows.length < 4) return otherwise
  const [level, slope, bend] = leastSquares(
    rows.map(([t]) => [1, t, t * t]),
    rows.map(([, value]) => value),
  ) as unknown as [number, number, number]
  if (!(slope > 0.5)) return otherwise
  // Where the curve bends the wrong way it may never stand still: its slope at the first reading is followed then.
  const inside = slope * slope - 4 * bend * level
  const root = Math.abs(bend) > 1e-6 && inside > 0 ? (-slope + Math.sqrt(inside)) / (2 * bend) : -level / slope
  const back = Math.min(0, Math.max(-EARLIEST, root))
  const distance = -(level * back + (slope * back ** 2) / 2 + (bend * back ** 3) / 3)
  const a = slope + 2 * bend * back
  // Where the sensor shows the slowest speeds it moves after the last reading that stands.
  const least = v < SHOWS * slope * before ? -before : -Infinity
  const early = Math.min(CLUTCH / 2, Math.max(0, back - least))
  return { row: first, from: at + back - early, distanceM: Math.max(0, distance) + (a * (2 * early) ** 2) / 24 }
}
