import { DEFAULT_LIVE, liveRig, rigOf, SIMULATED_MACHINES } from '@yuzumix/core'
import type { Measured } from './measured'

const SECONDS = 600

/** How much faster than the clock the simulated rig runs under load, read at 50 Hz, on one core. */
export async function liveRigSpeed(): Promise<Measured[]> {
  const machine = SIMULATED_MACHINES.find((one) => one.id === 'godwit-712-open-lid')!
  const live = liveRig(rigOf(machine), { ...DEFAULT_LIVE, coolant: 84 })
  Object.assign(live.controls, { ignition: true, fuel: true, gear: 4, throttle: 40 })
  live.controls.brake = { kind: 'hold', rpm: 6000 }
  const start = performance.now()
  for (let k = 0; k < SECONDS * 50; k++) {
    live.step(0.02)
    live.sample()
  }
  const times = SECONDS / ((performance.now() - start) / 1000)
  return [
    {
      what: 'simulated rig, two cylinders under load',
      value: `${times.toFixed(0)} times real time`,
      budget: '200 times at least',
      met: times >= 200,
    },
  ]
}
