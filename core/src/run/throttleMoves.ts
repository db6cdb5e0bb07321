/** Rows in which the throttle moves one way, both ends included. */
export interface ThrottleMove {
  from: number
  to: number
  way: 1 | -1
}

/** Least speed of a movement, % per second: below lies a hand that wanders. */
const LEAST_RATE = 12
/** s to either side over which the throttle's speed is taken; at least one sample. */
const HALF = 0.06
/** s without movement that end one. */
const REST = 0.12
/** Noise of the throttle that is no movement, in standard deviations of its speed. */
const ABOVE_NOISE = 5

/**
 * Movements of a throttle, in order: openings and closings that stand out of its noise.
 *
 * @param time s; @param throttle %
 */
export function throttleMoves(time: Float32Array, throttle: Float32Array): ThrottleMove[] {
  const speed = speedOf(time, throttle)
  return movesOf(time, speed, Math.max(LEAST_RATE, ABOVE_NOISE * noiseOf(speed)))
}

/** Stretches in which the throttle moves one way, rows included. */
function movesOf(time: Float32Array, speed: Float32Array, limit: number): ThrottleMove[] {
  const moves: ThrottleMove[] = []
  for (let i = 0; i < speed.length; i++) {
    const way = speed[i]! > limit ? 1 : speed[i]! < -limit ? -1 : 0
    if (way === 0) continue
    const last = moves.at(-1)
    if (last && last.way === way && time[i]! - time[last.to]! <= REST) last.to = i
    else moves.push({ from: i, to: i, way })
  }
  return moves
}

/** Speed of the throttle at every sample, % per second. */
function speedOf(time: Float32Array, throttle: Float32Array): Float32Array {
  const n = time.length
  const speed = new Float32Array(n)
  let before = 0
  let after = 0
  for (let i = 0; i < n; i++) {
    while (before < i - 1 && time[before + 1]! <= time[i]! - HALF) before++
    after = Math.max(after, Math.min(n - 1, i + 1))
    while (after < n - 1 && time[after]! < time[i]! + HALF) after++
    const span = time[after]! - time[before]!
    const change = throttle[after]! - throttle[before]!
    speed[i] = span > 0 && change === change ? change / span : 0
  }
  return speed
}

/** Standard deviation of a still throttle's speed: from the usual one, since it stands still most of the time. */
function noiseOf(speed: Float32Array): number {
  const stride = Math.max(1, Math.floor(speed.length / 2048))
  const some: number[] = []
  for (let i = 0; i < speed.length; i += stride) some.push(Math.abs(speed[i]!))
  some.sort((a, b) => a - b)
  return some.length ? 1.5 * some[Math.floor(0.4 * some.length)]! : 0
}
