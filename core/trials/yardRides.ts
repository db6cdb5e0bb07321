import type { RunColumns } from '../src/run/run'

/**
 * Rides in a yard on a borrowed brake, with a truth that is known: speed goes up in treads that are held for a moment, as a
 * hand on a brake does it; two cylinders differ; days differ. Written for tests only; shares nothing with the estimator, the
 * simulated rig or the other generators.
 */
export interface Yard {
  seed: number
  hz: number
  stops: readonly number[]
  repeats: number
  /** all stops once, then again; else a stop after another */
  inRounds: boolean
  cylinders: 1 | 2
  fromRpm: number
  toRpm: number
  /** s that a sweep takes */
  seconds: number
  /** a file begins with some seconds at idle and ends shut */
  withIdle: boolean
  /** how far repeats lie apart (fraction) */
  between: number
  /** N·m wide open at the best speed */
  most: number
  /** °C */
  coolant: (ride: number, seconds: number) => number
  lambda: (rpm: number, plate: number, cylinder: number) => number
}

export const YARD: Yard = {
  seed: 1,
  hz: 23,
  stops: [12, 25, 45, 70, 100],
  repeats: 3,
  inRounds: false,
  cylinders: 2,
  fromRpm: 2100,
  toRpm: 9300,
  seconds: 11,
  withIdle: true,
  between: 0.004,
  most: 44,
  coolant: (ride, seconds) => 84 + 5 * Math.sin(ride + seconds / 9),
  lambda: (rpm, plate, cylinder) =>
    (plate > 60 ? 0.89 : 0.94) +
    0.035 * Math.sin(rpm / 1250 + plate / 33) +
    (cylinder - 1.5) * (0.03 + 0.02 * Math.cos(rpm / 1900)),
}

/** Xorshift (Marsaglia 2003), and a normal number by the polar method. */
function chance(seed: number): () => number {
  let state = (seed * 2654435761 + 1) >>> 0 || 1
  const uniform = (): number => {
    state ^= state << 13
    state >>>= 0
    state ^= state >>> 17
    state ^= state << 5
    state >>>= 0
    return state / 4294967296
  }
  for (let k = 0; k < 9; k++) uniform()
  return () => {
    for (;;) {
      const [u, v] = [2 * uniform() - 1, 2 * uniform() - 1]
      const s = u * u + v * v
      if (s > 0 && s < 1) return u * Math.sqrt((-2 * Math.log(s)) / s)
    }
  }
}

/** One ride. */
function yardRide(yard: Yard, stop: number, ride: number): RunColumns {
  const next = chance(yard.seed * 1009 + ride * 31 + Math.round(stop))
  const day = 1 + yard.between * next()
  const pace = 1 + 0.04 * next()
  const lead = yard.withIdle ? 4 + Math.abs(next()) : 0
  const tail = yard.withIdle ? 2.5 : 0
  const whole = lead + yard.seconds * pace + tail
  const n = Math.floor(whole * yard.hz)
  const make = (): Float32Array => new Float32Array(n)
  const columns = { time: make(), rpm: make(), throttle: make(), torque: make(), power: make(), coolant: make() }
  const lambda = Array.from({ length: yard.cylinders }, make)
  const shown = Array.from({ length: yard.cylinders }, () => 1)
  for (let i = 0; i < n; i++) {
    const t = i / yard.hz
    const at = (t - lead) / (yard.seconds * pace)
    const isSwept = at >= 0 && at < 1
    // Treads: a rise, then a rest.
    const treads = 24
    const tread = Math.floor(at * treads)
    const part = at * treads - tread
    const along = (tread + Math.min(1, 1.6 * part)) / treads
    const idle = 1320 + 30 * Math.sin(2.3 * t)
    const rpm = isSwept
      ? yard.fromRpm + (yard.toRpm - yard.fromRpm) * along
      : at < 0
        ? idle + (yard.fromRpm - idle) * Math.max(0, 1 - (lead - t) / 1.2)
        : yard.toRpm * Math.exp(-(t - lead - yard.seconds * pace) / 3)
    const plate = isSwept ? stop : at < 0 ? Math.max(0.4, stop * Math.max(0, 1 - (lead - t) / 0.5)) : 0.4
    const pull =
      yard.most * (1 - Math.exp((-plate / 14) * (4200 / Math.max(rpm, 900)))) * (1 - ((rpm - 6500) / 9000) ** 2)
    const nm = at >= 1 ? -3 : pull * (1 + 0.006 * next()) * (1 + 0.5 * (day - 1))
    columns.time[i] = t
    columns.rpm[i] = rpm + 7 * next()
    columns.throttle[i] = plate + 0.12 * next()
    columns.torque[i] = nm
    columns.power[i] = (nm * rpm) / 9549.3
    columns.coolant[i] = yard.coolant(ride, t)
    lambda.forEach((column, c) => {
      const burnt = at >= 1 ? 1.7 : yard.lambda(rpm, plate, c + 1) * day
      shown[c]! += (burnt - shown[c]!) * (1 - Math.exp(-1 / yard.hz / 0.11))
      column[i] = shown[c]! * (1 + 0.008 * next())
    })
  }
  return { id: `yard ${ride}, ${stop} %`, ...columns, lambda }
}

/** All rides, in the order in which they are made. */
export function yardRides(yard: Yard): RunColumns[] {
  const order = yard.inRounds
    ? Array.from({ length: yard.repeats }, () => yard.stops).flat()
    : yard.stops.flatMap((stop) => Array.from({ length: yard.repeats }, () => stop))
  return order.map((stop, ride) => yardRide(yard, stop, ride))
}
