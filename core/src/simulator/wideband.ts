import type { Random } from '../numbers/random'

/** A wideband sensor at the end of a length of pipe. */
export interface Wideband {
  /** s from port to sensor at full flow, and the part that falls with flow */
  transport: number
  /** s, first-order response */
  response: number
  /** standard deviation of a reading, share */
  noise: number
  /** end stops, lambda */
  least: number
  most: number
}

/** Follows one sensor through time. */
export interface WidebandTrace {
  step(lambda: number, dt: number): void
  read(random: Random): number
}

/** A sensor's state: gas in the pipe, then a first-order response. Readings are clipped at the end stops. */
export function widebandTrace(sensor: Wideband, dt: number): WidebandTrace {
  const length = Math.max(1, Math.round(sensor.transport / dt))
  const pipe = new Float64Array(length).fill(1)
  let at = 0
  let value = 1
  return {
    step(lambda, stepSeconds) {
      const arriving = pipe[at]!
      pipe[at] = Math.min(lambda, 4)
      at = (at + 1) % length
      value += (arriving - value) * (1 - Math.exp(-stepSeconds / sensor.response))
    },
    read: (random) => Math.min(sensor.most, Math.max(sensor.least, value * (1 + sensor.noise * random.normal()))),
  }
}
