import type { RunColumns } from '../run/run'
import { airPerCycle, volumetricEfficiency } from './air'
import { burnCycle, cycleState, settleFilms, type CycleSetting } from './cycle'
import { deliveredFuel } from './delivery'
import { lambdaAtSensor } from './faults'
import { seededRandom } from '../numbers/random'
import { engineTorque } from './torque'
import { widebandTrace, type Wideband } from './wideband'

/** A machine on the simulated rig. */
export interface Rig extends CycleSetting {
  wideband: Wideband
}

/** A sweep at a throttle stop: idle, open to the stop, hold the brake to a rising (or falling) speed, shut. */
export interface SweepScript {
  stop: number
  fromRpm: number
  toRpm: number
  seconds: number
  /** a plug that breaks down in this band: share of its cycles that do not burn */
  misfire?: { fromRpm: number; toRpm: number; share: number }
  /** the exhaust draws or the fuel warms: the whole run reads this much leaner, share */
  drift?: number
  /** °C at the start; a cold engine warms as it runs and pulls less. Warm when left out */
  coolant?: number
  /** record the closed loop's short-term trim */
  trims?: boolean
}

export interface RigRun extends RunColumns {
  throttle: Float32Array
  torque: Float32Array
  coolant: Float32Array
}

const DT = 0.002
const RATE = 50
const LEAD = 1.2
const TAIL = 1.5
const OPENING = 0.09
/** A fast idle before the run, and the plate shut after it, %. */
const IDLE_PLATE = 2.2
const SHUT_PLATE = 0.8

/**
 * Runs one sweep on the rig and records it at 50 Hz.
 *
 * @param seed the same seed gives the same run
 */
export function runSweep(rig: Rig, script: SweepScript, seed: number, id = `sweep ${script.stop}`): RigRun {
  const random = seededRandom(seed)
  const { engine } = rig
  const cylinders = engine.cylinders
  const state = cycleState(cylinders, rig.film)
  const { films, lambda, loop } = state
  const sensors = films.map(() => widebandTrace(rig.wideband, DT))
  const total = LEAD + script.seconds + TAIL
  const count = Math.floor(total * RATE) + 1
  const run: RigRun = {
    id,
    time: new Float32Array(count),
    rpm: new Float32Array(count),
    throttle: new Float32Array(count),
    torque: new Float32Array(count),
    coolant: new Float32Array(count),
    lambda: films.map(() => new Float32Array(count)),
    ...(script.trims && { trimShort: new Float32Array(count) }),
  }
  const warmth = script.coolant ?? 84 + 4 * random.uniform()
  const warming = script.coolant === undefined ? 4 : 14
  settleFilms(rig, state, script.fromRpm, IDLE_PLATE)
  const drift = script.drift ?? 0
  let cycle = 0
  let air = 0
  let recorded = 0
  for (let step = 0; recorded < count; step++) {
    const t = step * DT
    const { rpm, plate } = scripted(script, t)
    cycle += (DT * rpm) / 120
    if (cycle >= 1 || step === 0) {
      cycle -= Math.floor(cycle)
      const { misfire } = script
      const fails = misfire && rpm >= misfire.fromRpm && rpm <= misfire.toRpm ? misfire.share : 0
      air = burnCycle(rig, state, { misfire: fails, drift }, rpm, plate, random).air
    }
    const flow = (air * rpm) / 120
    sensors.forEach((sensor, c) => sensor.step(lambdaAtSensor(lambda[c]!, rig.faults.leak, flow), DT))
    if (t >= recorded / RATE - 1e-9) {
      const mean = lambda.reduce((sum, value) => sum + value, 0) / cylinders
      run.time[recorded] = recorded / RATE
      run.rpm[recorded] = rpm + 6 * random.normal()
      run.throttle[recorded] = Math.min(100, Math.max(0, plate + 0.12 * random.normal()))
      const coolant = warmth + (warming * t) / total
      run.torque[recorded] =
        engineTorque(air, mean, rpm, engine.displacementCc, rig.fuel.stoichAfr) *
        (1 - coldLoss(coolant)) *
        (1 + 0.006 * random.normal())
      run.coolant[recorded] = coolant + 0.1 * random.normal()
      if (run.trimShort) run.trimShort[recorded] = 100 * (loop.trim - 1)
      sensors.forEach((sensor, c) => (run.lambda[c]![recorded] = sensor.read(random) * rig.faults.gauge))
      recorded++
    }
  }
  return run
}

/** Share of torque that stiff oil and cold walls take below 80 °C. */
function coldLoss(coolant: number): number {
  return Math.max(0, 80 - coolant) * 0.0013
}

function scripted(script: SweepScript, t: number): { rpm: number; plate: number } {
  const opened = Math.min(1, Math.max(0, (t - LEAD) / OPENING))
  const shut = Math.min(1, Math.max(0, (t - LEAD - script.seconds) / OPENING))
  const plate =
    shut > 0 ? SHUT_PLATE + (script.stop - SHUT_PLATE) * (1 - shut) : IDLE_PLATE + (script.stop - IDLE_PLATE) * opened
  const share = Math.min(1, Math.max(0, (t - LEAD - 0.2) / (script.seconds - 0.2)))
  const swept = script.fromRpm + (script.toRpm - script.fromRpm) * share
  const rpm = Math.max(
    Math.min(script.fromRpm, script.toRpm, 1500),
    swept - 1600 * Math.max(0, t - LEAD - script.seconds),
  )
  return { rpm, plate }
}

/** What the engine would show at a node in steady open loop, by cylinder: the truth the estimator has to find. */
export function steadyLambda(rig: Rig, cylinder: number, rpm: number, plate: number): number {
  const filling = volumetricEfficiency(rig.engine, rig.breathing, cylinder, rpm, plate)
  const air = airPerCycle(
    filling,
    rig.engine.displacementCc / rig.engine.cylinders,
    rig.weather.pressureKpa,
    rig.weather.temperatureC,
  )
  return air / (deliveredFuel(rig.calibration, rig.faults, rpm, plate)[cylinder]! * rig.fuel.stoichAfr)
}
