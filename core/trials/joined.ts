import type { RunColumns } from '../src/run/run'

/** Rides one after the other in one log, as somebody who does not stop the logger makes it. */
export function joined(rides: readonly RunColumns[], id = 'joined'): RunColumns {
  let offset = 0
  const time = rides.map((one) => {
    const shifted = one.time.map((t) => t + offset)
    offset = shifted.at(-1)! + (one.time[1]! - one.time[0]!)
    return shifted
  })
  const all = (columns: readonly Float32Array[]): Float32Array =>
    Float32Array.from(columns.flatMap((column) => [...column]))
  const named = (['throttle', 'torque', 'coolant', 'manifold'] as const).flatMap((channel) =>
    rides.every((one) => one[channel]) ? [[channel, all(rides.map((one) => one[channel]!))] as const] : [],
  )
  return {
    id,
    time: all(time),
    rpm: all(rides.map((one) => one.rpm)),
    lambda: rides[0]!.lambda.map((_, c) => all(rides.map((one) => one.lambda[c]!))),
    ...Object.fromEntries(named),
  }
}
