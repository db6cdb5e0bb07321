import { isRunning, isShut } from '../../run/engineState'
import { leastSquares } from '../../numbers/leastSquares'
import { runningMean } from '../../numbers/runningMean'
import { DEFAULT_FILTERS, type RunColumns } from '../../run/run'
import { settlingMarks } from '../../run/settling'
import { knotsAt, risingAt, type Readings, type Rising } from './knotsAt'

/** Torque over plate by engine speed, where it was measured. */
export interface TorqueMap {
  rpm: number[]
  /** N·m over % of plate, by speed */
  curves: Rising[]
}

const RPM_STEP = 250
const MOST_POINTS = 30_000
const LEAST_POINTS = 30
/** Openings that make a curve; rpm beyond the measured speeds within which the nearest still holds. */
const LEAST_KNOTS = 3
const BEYOND = 500
/** s after the throttle came to rest before torque counts, and % per second at which it moves. */
const FILTERS = { ...DEFAULT_FILTERS, settle: 0.5 }
/** s after which points are a stretch of their own. */
const STRETCH = 0.5

/** Torque by plate and speed from settled readings of some runs; null where none has torque and throttle. */
export function torqueMap(runs: readonly RunColumns[]): TorqueMap | null {
  const points: Readings = { rpm: [], opening: [], value: [], stretch: [] }
  let stretch = 0
  const told = runs.filter((run) => run.throttle && run.torque && !run.handRange)
  const all = told.reduce((sum, run) => sum + run.time.length, 0)
  const stride = Math.max(1, Math.ceil(all / MOST_POINTS))
  for (const { time, rpm, throttle, torque } of told) {
    // With the throttle shut, too: what an engine holds back is where its torque begins.
    const moving = settlingMarks(time, runningMean(time, throttle!), FILTERS)
    let last = -Infinity
    for (let i = 0; i < time.length; i += stride) {
      if (moving[i] || torque![i] !== torque![i] || !(throttle![i]! > -5) || !isRunning(rpm[i]!)) continue
      if (time[i]! - last > STRETCH) stretch++
      last = time[i]!
      points.rpm.push(rpm[i]!)
      points.opening.push(Math.max(0, throttle![i]!))
      points.value.push(torque![i]!)
      points.stretch.push(stretch)
    }
    stretch++
  }
  if (points.value.length < LEAST_POINTS) return null
  const seen = [...points.rpm].sort((a, b) => a - b)
  const [low, high] = [0.01, 0.99].map((share) => seen[Math.floor(share * (seen.length - 1))]!) as [number, number]
  const first = Math.max(1, Math.ceil(low / RPM_STEP))
  const count = Math.floor(high / RPM_STEP) - first + 1
  if (count < 1) return null
  const speeds = Array.from({ length: count }, (_, k) => (first + k) * RPM_STEP)
  const curves = withShut(speeds, knotsAt(points, speeds, RPM_STEP))
  const known = speeds.map((_, k) => k).filter((k) => curves[k] && curves[k].opening.length >= LEAST_KNOTS)
  return known.length ? { rpm: known.map((k) => speeds[k]!), curves: known.map((k) => curves[k]!) } : null
}

/** Lowest opening from which a curve may be led down to the shut plate. */
const LED_FROM = 20

/**
 * Curves led down to the shut plate, where a machine was not held: by what other speeds show there (a line over speed), else
 * along their own lowest piece.
 */
function withShut(speeds: readonly number[], curves: readonly (Rising | null)[]): (Rising | null)[] {
  const shut = curves.flatMap((curve, k) =>
    curve && isShut(curve.opening[0]!)
      ? [{ rpm: speeds[k]!, opening: curve.opening[0]!, torque: curve.value[0]! }]
      : [],
  )
  const line =
    shut.length > 1
      ? leastSquares(
          shut.map((one) => [1, one.rpm / 1000]),
          shut.map((one) => one.torque),
        )
      : null
  const opening = shut.length ? shut.reduce((sum, one) => sum + one.opening, 0) / shut.length : 0
  return curves.map((curve, k) => {
    if (!curve || isShut(curve.opening[0]!) || curve.opening[0]! > LED_FROM) return curve
    const [low, next] = [curve.value[0]!, curve.value[1]!]
    const slope = (next - low) / (curve.opening[1]! - curve.opening[0]!)
    const led = low - slope * (curve.opening[0]! - opening)
    const torque = Math.min(low, line ? line[0]! + (line[1]! * speeds[k]!) / 1000 : led)
    return {
      opening: [opening, ...curve.opening],
      value: [torque, ...curve.value],
      half: [Math.max(curve.half[0]!, (low - torque) / 4), ...curve.half],
    }
  })
}

/**
 * Torque (N·m) over plate (%) at a speed, between the curves of the map beside it; null beyond them.
 *
 * @param speed rpm
 */
export function torqueCurve({ rpm, curves }: TorqueMap, speed: number): Rising | null {
  if (speed < rpm[0]! - BEYOND || speed > rpm.at(-1)! + BEYOND) return null
  const above = rpm.findIndex((one) => one >= speed)
  const right = above < 0 ? rpm.length - 1 : above
  const left = Math.max(0, rpm[right]! <= speed ? right : right - 1)
  const span = rpm[right]! - rpm[left]!
  const share = span > 0 ? Math.min(1, Math.max(0, (speed - rpm[left]!) / span)) : 0
  const [a, b] = [curves[left]!, curves[right]!]
  if (share === 0 || left === right) return a
  if (share === 1) return b
  // Over what both know; the knots of both.
  const [low, high] = [Math.max(a.opening[0]!, b.opening[0]!), Math.min(a.opening.at(-1)!, b.opening.at(-1)!)]
  const opening = [...new Set([...a.opening, ...b.opening, low, high])]
    .filter((one) => one >= low && one <= high)
    .sort((x, y) => x - y)
  const [first, second] = [risingAt(a), risingAt(b)]
  const mixed = opening.map((one) => {
    const [x, y] = [first(one), second(one)]
    return { value: x.value + share * (y.value - x.value), half: x.half + share * (y.half - x.half) }
  })
  return opening.length < 2
    ? null
    : { opening, value: mixed.map((one) => one.value), half: mixed.map((one) => one.half) }
}

/**
 * Value of a rising curve at a place, and the other way about; beyond its ends it stays.
 *
 * @example
 * valueOn([0, 10], [0, 5], 4) // 2
 */
export function valueOn(xs: readonly number[], ys: readonly number[], x: number): number {
  if (x <= xs[0]!) return ys[0]!
  for (let k = 1; k < xs.length; k++) {
    if (x > xs[k]!) continue
    const span = xs[k]! - xs[k - 1]!
    return span > 0 ? ys[k - 1]! + ((x - xs[k - 1]!) / span) * (ys[k]! - ys[k - 1]!) : ys[k]!
  }
  return ys.at(-1)!
}
