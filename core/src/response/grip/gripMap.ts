import { grouped, plain } from '../../numbers/format'
import { median } from '../../numbers/median'
import type { RunColumns } from '../../run/run'
import { firstFrom } from '../../run/firstFrom'
import { knotsAt, risingAt, type Readings } from './knotsAt'

/** Plate by grip and engine speed, as a controller with an electronic throttle sets it. Matrices are [grip][rpm]; null where it was not seen. */
export interface GripMap {
  grip: number[]
  rpm: number[]
  /** % of plate */
  plate: (number | null)[][]
  /** half width of its 90 % interval */
  half: (number | null)[][]
  /** plate per grip, % per % */
  gain: (number | null)[][]
  flags: GripFlag[]
  /** s by which the plate follows the hand */
  follows: number
}

/** Something in the map that a rider feels. */
interface GripFlag {
  what: 'steep' | 'ahead of the hand' | 'moves by itself'
  grip: number
  rpm: number
  /** gain, % ahead, or % that the plate moves at a held grip over the speeds seen */
  value: number
  text: string
}

/** Usual nodes of the grip, %: closer where a hand is fine. */
const USUAL_NODES = [0, 2, 4, 7, 10, 14, 18, 23, 28, 35, 42, 50, 60, 70, 80, 90, 100]
const RPM_STEP = 1000
/** % of grip about an opening that was held within which it tells, and between two within which a curve does. */
const REACH = 0.6
const MOST_GAP = 8
/** Gain, % ahead and % moved that are told (common practice). */
const STEEP_GAIN = 1.3
const AHEAD = 5
const MOVES = 5
/** Delays of plate behind hand that are tried, s. */
const FOLLOWS = [0, 0.02, 0.04, 0.07, 0.1, 0.14, 0.2, 0.3]
/** % per second that a hand may move for its place to be told. */
const STILL = 25
const MOVING = 120
const MOST_POINTS = 20_000
const LEAST_POINTS = 30
/** More than there are cells of speed. */
const CELLS = 1000
/** s after which points are a stretch of their own. */
const STRETCH = 0.5

/** Map of plate by grip of some runs; null where none has both. */
export function gripMap(runs: readonly RunColumns[]): GripMap | null {
  const both = runs.filter((run) => run.grip && run.throttle && !run.handRange)
  const follows = followsOf(both)
  const points = pointsOf(both, follows, STILL)
  if (points.value.length < LEAST_POINTS) return null
  const speeds = [...points.rpm].sort((a, b) => a - b)
  const [low, high] = [0.01, 0.99].map((share) => speeds[Math.floor(share * (speeds.length - 1))]!) as [number, number]
  const first = Math.max(1, Math.round(low / RPM_STEP))
  const rpm = Array.from(
    { length: Math.max(2, Math.round(high / RPM_STEP) - first + 1) },
    (_, k) => (first + k) * RPM_STEP,
  )
  const curves = knotsAt(points, rpm, RPM_STEP / 2)
  const nodes = [...USUAL_NODES]
  const at = nodes.map((hand) =>
    curves.map((curve) => {
      if (!curve) return null
      const after = curve.opening.findIndex((one) => one >= hand - REACH)
      if (after < 0) return null
      // Between two openings that lie far apart nothing is known.
      const [low, high] = [curve.opening[Math.max(0, after - 1)]!, curve.opening[after]!]
      const isNear = Math.abs(high - hand) <= REACH || Math.abs(low - hand) <= REACH
      return isNear || (low < hand && high - low <= Math.max(MOST_GAP, 0.3 * hand)) ? risingAt(curve)(hand) : null
    }),
  )
  const plate = at.map((row) => row.map((one) => (one ? Math.min(100, Math.max(0, one.value)) : null)))
  const half = at.map((row) => row.map((one) => one?.half ?? null))
  const gain = gainOf(nodes, plate, rpm.length)
  return { grip: nodes, rpm, plate, half, gain, flags: flagsOf(nodes, rpm, plate, half, gain), follows }
}

function gainOf(nodes: readonly number[], plate: (number | null)[][], columns: number): (number | null)[][] {
  return nodes.map((grip, g) =>
    Array.from({ length: columns }, (_, k) => {
      const [below, above] = [Math.max(0, g - 1), Math.min(nodes.length - 1, g + 1)]
      const [low, high] = [plate[below]![k] ?? plate[g]![k], plate[above]![k] ?? plate[g]![k]]
      const from = plate[below]![k] === null ? grip : nodes[below]!
      const to = plate[above]![k] === null ? grip : nodes[above]!
      return low === null || low === undefined || high === null || high === undefined || to === from
        ? null
        : (high - low) / (to - from)
    }),
  )
}

function flagsOf(
  nodes: readonly number[],
  rpm: readonly number[],
  plate: (number | null)[][],
  half: (number | null)[][],
  gain: (number | null)[][],
): GripFlag[] {
  const flags: GripFlag[] = []
  const tenth = (value: number): string => plain(value, 1)
  const worst = (
    what: GripFlag['what'],
    least: number,
    of: (g: number, k: number) => number | null,
    text: (value: number, grip: number, speed: number) => string,
  ): void =>
    rpm.forEach((speed, k) => {
      let best: { g: number; value: number } | null = null
      nodes.forEach((_, g) => {
        const value = of(g, k)
        if (value !== null && value > least && (!best || value > best.value)) best = { g, value }
      })
      if (!best) return
      const { g, value } = best as { g: number; value: number }
      flags.push({ what, grip: nodes[g]!, rpm: speed, value, text: text(value, nodes[g]!, speed) })
    })
  worst(
    'steep',
    STEEP_GAIN,
    (g, k) => gain[g]![k] ?? null,
    (value, grip, speed) =>
      `At ${grouped(speed)} rpm the plate opens ${tenth(value)} % for each 1 % of grip about ${grip} %.`,
  )
  worst(
    'ahead of the hand',
    AHEAD,
    (g, k) => (plate[g]![k] === null ? null : plate[g]![k]! - nodes[g]! - (half[g]![k] ?? 0)),
    (value, grip, speed) =>
      `At ${grouped(speed)} rpm the plate is ${tenth(value)} % ahead of the hand at ${grip} % of grip.`,
  )
  nodes.forEach((grip, g) => {
    const known = rpm.map((_, k) => k).filter((k) => plate[g]![k] !== null)
    if (known.length < 2) return
    const values = known.map((k) => plate[g]![k]!)
    const moved = Math.max(...values) - Math.min(...values) - 2 * Math.max(...known.map((k) => half[g]![k]!))
    if (moved > MOVES)
      flags.push({
        what: 'moves by itself',
        grip,
        rpm: rpm[known[values.indexOf(Math.max(...values))]!]!,
        value: moved,
        text: `With the hand still at ${grip} % the plate moves by ${tenth(moved)} % as speed changes.`,
      })
  })
  return flags
}

/** s by which the plate follows: the delay that leaves least scatter about a curve through moving points. */
function followsOf(runs: readonly RunColumns[]): number {
  let best = { follows: 0, scatter: Infinity }
  for (const follows of FOLLOWS) {
    const { rpm: x, opening: y, value } = pointsOf(runs, follows, MOVING)
    if (value.length < LEAST_POINTS) return 0
    const cells = new Map<number, number[]>()
    y.forEach((grip, i) => {
      const key = CELLS * Math.round(grip / 4) + Math.round(x[i]! / RPM_STEP)
      const own = cells.get(key)
      if (own) own.push(value[i]! - grip)
      else cells.set(key, [value[i]! - grip])
    })
    let scatter = 0
    for (const own of cells.values()) {
      const middle = median(own)
      scatter += own.reduce((sum, one) => sum + Math.abs(one - middle), 0)
    }
    if (scatter / value.length < best.scatter) best = { follows, scatter: scatter / value.length }
  }
  return best.follows
}

/** Plate over grip and speed where the hand moves slowly enough. */
function pointsOf(runs: readonly RunColumns[], follows: number, fastest: number): Readings {
  const points: Readings = { rpm: [], opening: [], value: [], stretch: [] }
  const all = runs.reduce((sum, run) => sum + run.time.length, 0)
  const stride = Math.max(1, Math.ceil(all / MOST_POINTS))
  let stretch = 0
  for (const { time, rpm, throttle, grip } of runs) {
    let last = -Infinity
    for (let i = 0; i < time.length; i += stride) {
      const at = time[i]! - follows
      const [before, after] = [firstFrom(time, at - 0.15), Math.min(time.length - 1, firstFrom(time, at + 0.05))]
      const span = time[after]! - time[before]!
      const row = Math.min(time.length - 1, firstFrom(time, at))
      const hand = grip![row]!
      const speed = span > 0 ? Math.abs(grip![after]! - grip![before]!) / span : Infinity
      if (!(speed < fastest) || !(hand >= -2) || !(throttle![i]! >= -2) || !(rpm[i]! > 500)) continue
      if (time[i]! - last > STRETCH) stretch++
      last = time[i]!
      points.rpm.push(rpm[i]!)
      points.opening.push(hand)
      points.value.push(throttle![i]!)
      points.stretch.push(stretch)
    }
    stretch++
  }
  return points
}
