import type { RunColumns } from '../src/run/run'

/**
 * Roll-ons in a lane, with a truth that is known: the mixture goes lean, or rich, in a pulse of its own shape, seen through a
 * delay and a sensor of two stages. Written for tests only; shares nothing with the estimator, the simulated engine or the
 * other generators.
 */
export interface Lane {
  seed: number
  hz: number
  /** peak of the first pulse, fraction of lambda, leaner above nought; and of what follows it */
  first: number
  second: number
  /** s from the opening until the first peak */
  rise: number
  /** s of transport, and of each of the sensor's two stages */
  delay: number
  stage: number
  noise: number
  openings: number
}

/** Of one opening: when it began, its peaks as shares of lambda, and s until within 2 % for good; until within 1.5 and 2.5 %. */
export interface LaneTruth {
  at: number
  lean: number
  rich: number
  settle: number
  nearlySettled: number
  wellOutside: number
}

/** Uniform numbers by a multiply-with-carry generator (Marsaglia 1994), and normal ones by the sum of three. */
function chance(seed: number): { uniform: () => number; normal: () => number } {
  let [z, w] = [362436069 ^ (seed * 2654435761), 521288629 ^ seed]
  const uniform = (): number => {
    z = (36969 * (z & 65535) + (z >>> 16)) >>> 0
    w = (18000 * (w & 65535) + (w >>> 16)) >>> 0
    return (((z << 16) + w) >>> 0) / 4294967296
  }
  for (let k = 0; k < 20; k++) uniform()
  return { uniform, normal: () => 2 * (uniform() + uniform() + uniform() - 1.5) }
}

/** A log of roll-ons, and the truth of each. */
export function laneRollOns(lane: Lane): {
  run: RunColumns
  truth: LaneTruth[]
} {
  const { uniform, normal } = chance(lane.seed)
  const step = 0.002
  const events = Array.from({ length: lane.openings }, (_, k) => ({
    at: 3 + 7 * k + uniform(),
    open: 38 + 14 * uniform(),
    speed: 0.05 + 0.07 * uniform(),
  }))
  const seconds = 3 + 7 * lane.openings
  const n = Math.round(seconds / step)
  // Each pulse has a shape of its own that begins and ends smoothly: x e^(1 - x).
  const pulse = (t: number, rise: number): number => (t > 0 ? (t / rise) * Math.exp(1 - t / rise) : 0)
  const offAt = (since: number): number =>
    lane.first * pulse(since, lane.rise) + lane.second * pulse(since - 1.6 * lane.rise, 2.2 * lane.rise)
  const truth = events.map(({ at }) => {
    let [lean, rich, settle, nearlySettled, wellOutside] = [0, 0, 0, 0, 0]
    for (let s = 0; s < 3.5; s += step) {
      const off = offAt(s)
      lean = Math.max(lean, off)
      rich = Math.max(rich, -off)
      if (Math.abs(off) > 0.02) settle = s
      if (Math.abs(off) > 0.015) nearlySettled = s
      if (Math.abs(off) > 0.025) wellOutside = s
    }
    return { at, lean, rich, settle, nearlySettled, wellOutside }
  })
  const eventAt = (t: number) => events.findLast((one) => t >= one.at)
  const plateAt = (t: number): number => {
    const event = eventAt(t)
    if (!event || t > event.at + 4.2) return 9
    if (t > event.at + 3.8) return 9 + (event.open - 9) * (1 - (t - event.at - 3.8) / 0.4)
    return event.open - (event.open - 9) * Math.exp(-(t - event.at) / event.speed)
  }
  const burnt = Float64Array.from({ length: n }, (_, i) => {
    const event = eventAt(i * step)
    return 0.93 * (1 + (event ? offAt(i * step - event.at) : 0))
  })
  const late = Math.round(lane.delay / step)
  const shown = new Float64Array(n)
  let [one, two] = [burnt[0]!, burnt[0]!]
  for (let i = 0; i < n; i++) {
    one += (burnt[Math.max(0, i - late)]! - one) * (step / lane.stage)
    two += (one - two) * (step / lane.stage)
    shown[i] = two
  }
  const rows = Math.floor(seconds * lane.hz)
  const column = (of: (t: number, i: number) => number): Float32Array =>
    Float32Array.from({ length: rows }, (_, k) => of(k / lane.hz, Math.min(n - 1, Math.round(k / lane.hz / step))))
  const rpmAt = (t: number): number => {
    const event = eventAt(t)
    return 3900 + (event && t < event.at + 3.8 ? 420 * (t - event.at) : 0)
  }
  return {
    truth,
    run: {
      id: `lane ${lane.seed}`,
      time: column((t) => t),
      rpm: column((t) => rpmAt(t) + 8 * normal()),
      throttle: column((t) => Math.max(0, plateAt(t) + 0.15 * normal())),
      lambda: [column((_, i) => shown[i]! * (1 + lane.noise * normal()))],
    },
  }
}
