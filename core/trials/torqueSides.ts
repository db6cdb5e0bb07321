import { DEFAULT_COMPARE } from '../src/curves/compare/compare'
import type { SidesChoice } from '../src/curves/compare/compareSides'
import { DEFAULT_CURVE } from '../src/curves/lay/curve'
import type { Side } from '../src/curves/compare/side'
import { DEFAULT_TARGET } from '../src/field/target'
import type { RunColumns } from '../src/run/run'

/** One side of a comparison of torque: runs of one machine on one rig, read without a lag. */
export function torqueSide(name: string, runs: RunColumns[], over: Partial<Side> = {}): Side {
  return {
    name,
    machine: 'mine',
    setFacts: { rig: 'Shed drum', gear: 4, sensorPlace: null, weather: null },
    runs,
    besides: [],
    facts: runs.map(() => null),
    curve: { ...DEFAULT_CURVE, lag: 0 },
    figures: null,
    ...over,
  }
}

/** A comparison of torque at a throttle stop, % of plate, as it is asked for usually. */
export function torqueChoice(stop = 100): SidesChoice {
  return {
    quantity: 'torque',
    correction: 'none',
    bands: [],
    at: [],
    accepted: [],
    options: DEFAULT_COMPARE,
    stop,
    load: stop,
    loadAxis: 'throttle',
    target: DEFAULT_TARGET,
  }
}
