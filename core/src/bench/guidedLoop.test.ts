import { suggestChange } from '../change/suggest'
import { estimateField } from '../field/estimate'
import { DEFAULT_FIELD_OPTIONS, type Field } from '../field/field'
import { DEFAULT_TARGET, targetOn } from '../field/target'
import { DEFAULT_LIVE, liveRig, type LiveRig, type RigSample } from '../engine/liveRig'
import { rigOf, SIMULATED_MACHINES } from '../engine/machinesById'
import { steadyLambda, type Rig } from '../engine/rig'
import type { RunColumns } from '../log/run'
import { scriptDriver, type RunScript } from './script'

const STOPS = [20, 40, 60, 80, 100]

/** Runs a script on the live rig at 50 Hz, as the bench does. */
function record(live: LiveRig, script: RunScript, id: string): RunColumns {
  const driver = scriptDriver(script)
  const samples: RigSample[] = []
  for (let k = 0; k < 120 * 50; k++) {
    live.step(0.02)
    const sample = live.sample()
    const { controls, state } = driver.next(sample)
    Object.assign(live.controls, controls)
    if (state.recording) samples.push(sample)
    if (state.phase === 'done') break
  }
  const column = (of: (sample: RigSample) => number): Float32Array => Float32Array.from(samples, of)
  return {
    id,
    time: column((one) => one.time - samples[0]!.time),
    rpm: column((one) => one.rpm),
    throttle: column((one) => one.throttle),
    coolant: column((one) => one.coolant),
    lambda: samples[0]!.lambda.map((_, c) => column((one) => one.lambda[c]!)),
  }
}

/** Departure from target in steady running, %, over what evidence covers outside held zones. */
function off(rig: Rig, field: Field, cylinder: number): { rms: number; worst: number } {
  const { evidence, held, target } = field.cylinders[cylinder]!
  const errors = field.grid.load.flatMap((plate, row) =>
    field.grid.rpm.flatMap((rpm, column) =>
      evidence[row]![column] === 'solid' && !held[row]![column]
        ? [100 * (steadyLambda(rig, cylinder, rpm, plate) / target[row]![column]! - 1)]
        : [],
    ),
  )
  return {
    rms: Math.sqrt(errors.reduce((sum, one) => sum + one * one, 0) / errors.length),
    worst: Math.max(...errors.map(Math.abs)),
  }
}

describe('measure, correct and measure again on the live rig', () => {
  it.each([1, 2, 3, 4, 5, 6])('a twin whose cylinders differ is flat in three passes, seed %i', (seed) => {
    const machine = SIMULATED_MACHINES.find((one) => one.id === 'godwit-690-open-lid')!
    const rig = rigOf(machine)
    const live = liveRig(rig, { ...DEFAULT_LIVE, coolant: 84 }, seed)
    const { base } = rig.calibration
    const options = {
      ...DEFAULT_FIELD_OPTIONS,
      grid: { loadAxis: base.loadAxis, rpm: base.rpm, load: base.load },
      target: targetOn(base, 'throttle', DEFAULT_TARGET),
    }
    let field!: Field
    for (let pass = 0; pass < 3; pass++) {
      const runs = STOPS.flatMap((stop) =>
        [1, 2].map((repeat) =>
          record(
            live,
            { kind: 'sweep', stop, fromRpm: 2500, toRpm: 9000, rate: 700, gear: 4 },
            `${pass} ${stop} ${repeat}`,
          ),
        ),
      )
      field = estimateField(runs, options)
      rig.calibration.trims = rig.calibration.trims.map((trim, c) => ({
        ...trim,
        values: suggestChange(trim, field, undefined, c + 1).values,
      }))
    }
    for (const cylinder of [0, 1]) {
      const { rms, worst } = off(rig, field, cylinder)
      expect(rms).toBeLessThan(1)
      expect(worst).toBeLessThan(2.5)
    }
  })
})
