import type { RigSample } from '../rig/sample'
import { safetyWatch, type SafetyLimits } from '../rig/safety'
import { scriptDriver } from '../rig/script'
import type { RunScript } from '../rig/runScript'
import type { RunColumns } from '../run/run'
import type { LiveRig } from './liveRig'

/** Longest that a script may take on the rig's clock, s. */
const LONGEST = 180
const RATE = 50

/**
 * Runs a script on a live rig as fast as it goes, recording at 50 Hz.
 *
 * @param limits what ends the run early; nothing does when left out
 */
export function runScript(live: LiveRig, script: RunScript, id: string, limits?: SafetyLimits): RunColumns {
  const driver = scriptDriver(script)
  const watch = limits && safetyWatch(limits)
  const samples: RigSample[] = []
  for (let k = 0; k < LONGEST * RATE; k++) {
    live.step(1 / RATE)
    const sample = live.sample()
    const { controls, state } = driver.next(sample)
    Object.assign(live.controls, controls)
    if (state.recording) samples.push(sample)
    if (state.phase === 'done' || watch?.see(sample)) break
  }
  Object.assign(live.controls, { throttle: 0, brake: { kind: 'off' }, gear: 0 })
  const column = (of: (sample: RigSample) => number): Float32Array => {
    // A plain loop: `from` with a function walks an iterator, which took as long as a third of the engine.
    const values = new Float32Array(samples.length)
    for (let k = 0; k < values.length; k++) values[k] = of(samples[k]!)
    return values
  }
  return {
    id,
    time: column((one) => one.time - samples[0]!.time),
    rpm: column((one) => one.rpm),
    throttle: column((one) => one.throttle),
    torque: column((one) => one.torque),
    coolant: column((one) => one.coolant),
    trimShort: column((one) => one.trimShort),
    spark: column((one) => one.spark),
    knock: column((one) => one.knock),
    ...(samples[0]?.grip !== undefined && {
      grip: column((one) => one.grip!),
      mode: column((one) => (one.mode ?? 0) + 1),
    }),
    ...(samples[0]?.commanded !== undefined && { commanded: column((one) => one.commanded!) }),
    lambda: (samples[0]?.lambda ?? []).map((_, c) => column((one) => one.lambda[c]!)),
  }
}
