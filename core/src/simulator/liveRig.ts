import { burnCycle, cycleState, type Burnt } from './cycle'
import { commandedLambda, plateAsked, tableSpark } from './controller'
import { RESTING, type RigControls } from '../rig/controls'
import type { RigSample } from '../rig/sample'
import { stepDrive, type Drive, type DriveState } from './drive'
import { lambdaAtSensor, misfireShare } from './faults'
import { seededRandom } from '../numbers/random'
import type { Rig } from './rig'
import { advanceEfficiency, bestAdvance, knockAdvance } from './spark'
import { stepThermal } from './thermal'
import { engineTorque } from './torque'
import { widebandTrace } from './wideband'

export interface LiveOptions {
  drive: Drive
  /** °C at the start */
  coolant: number
}

/** The workshop's drum with a small motorcycle on it. */
export const DRUM_DRIVE: Drive = {
  engineInertia: 0.024,
  drumInertia: 3.4,
  ratios: [5.6, 4.1, 3.1, 2.5, 2.1, 1.8],
  mostBrake: 420,
}

export const DEFAULT_LIVE: LiveOptions = { drive: DRUM_DRIVE, coolant: 24 }

/** A simulated rig that runs on by itself. */
export interface LiveRig {
  controls: RigControls
  /** goes on by a time step, s; small steps are taken inside */
  step(seconds: number): void
  sample(): RigSample
}

const DT = 0.002
/** % per second that the plate's motor moves it. */
const PLATE_SPEED = 600
const CRANKING = 1100
const IDLE = 1500
/** Plate that idle control may add, %. */
const MOST_IDLE = 4.5
const LIMITER = 250
/** rpm below which nothing is pumped, and lambda as air reads. */
const AT_REST = 50
const AIR = 4
/** Heat of petrol, J/kg. */
const HEAT = 43.5e6
/** Fastest the air warms behind a hot engine, °C per °C of coolant above 60. */
const HEAT_SOAK = 0.12

/**
 * A mean-value engine on a drum in real time or faster, by fixed small steps: the same seed and the same controls at the
 * same steps give the same readings.
 * @example
 * const live = liveRig(rigOf(machine)); live.step(0.02); live.sample()
 */
export function liveRig(rig: Rig, options: LiveOptions = DEFAULT_LIVE, seed = 1): LiveRig {
  const random = seededRandom(seed)
  const { engine } = rig
  const state = cycleState(engine.cylinders, rig.film)
  const sensors = state.films.map(() => widebandTrace(rig.wideband, DT))
  const drive: DriveState = { rpm: 0, gear: 0, brake: { kind: 'off' }, setpoint: 0, integral: 0 }
  const thermal = { coolantC: options.coolant }
  let time = 0
  let hand = 0
  let plate = 0
  let idle = 0
  let cycle = 0
  let burnt: Burnt = { air: 0, fuel: 0, filling: 0 }
  let torque = 0
  let knock = 0
  let spark = 0
  let left = 0

  function oneStep(controls: RigControls): void {
    const wasRunning = drive.rpm > 450
    const canRun = controls.ignition && controls.fuel
    // The starter turns it until it runs by itself.
    if (canRun && !wasRunning) drive.rpm = Math.max(drive.rpm, Math.min(CRANKING, drive.rpm + 3000 * DT))
    hand = Math.min(100, Math.max(0, controls.throttle))
    const wanted = plateAsked(rig.calibration, controls.mode, drive.rpm, hand)
    plate += Math.min(PLATE_SPEED * DT, Math.max(-PLATE_SPEED * DT, wanted - plate))
    idle = Math.min(MOST_IDLE, Math.max(0, idle + (IDLE - drive.rpm) * 0.004 * DT))
    const breathed = Math.max(plate, idle)
    const limited = drive.rpm > engine.redline + LIMITER
    cycle += (DT * drive.rpm) / 120
    if (cycle >= 1) {
      cycle -= Math.floor(cycle)
      const fuelled = canRun && !limited
      const misfire = misfireShare(rig.faults.misfire, drive.rpm, breathed)
      const fuel = fuelled ? 1 + controls.fuelOffset / 100 : 0
      burnt = burnCycle(rig, state, { misfire, drift: 0 }, drive.rpm, breathed, random, fuel)
      fire(controls, breathed, fuelled)
    } else if (drive.rpm < AT_REST) {
      torque = 0
      // Nothing is pumped any more: what stands in the pipe is air.
      state.lambda.fill(AIR)
    }
    drive.gear = controls.gear
    drive.brake = controls.brake
    stepDrive(options.drive, drive, torque, DT)
    stepThermal(thermal, (burnt.fuel * 1e-6 * HEAT * drive.rpm) / 120, rig.weather.temperatureC, controls.fan, DT)
    const flow = (burnt.air * drive.rpm) / 120
    for (let c = 0; c < sensors.length; c++)
      sensors[c]!.step(lambdaAtSensor(state.lambda[c]!, rig.faults.leak, flow), DT)
    time += DT
  }

  /** Torque and knock of the charge just burnt. */
  function fire(controls: RigControls, breathed: number, fuelled: boolean): void {
    const lambda = state.lambda.reduce((sum, value) => sum + value, 0) / state.lambda.length
    const { rpm } = drive
    const best = bestAdvance(rpm, burnt.filling, lambda)
    spark = tableSpark(rig.calibration, rpm, breathed) + controls.sparkOffset
    const burns = fuelled && burnt.fuel > 0
    const whole = engineTorque(burns ? burnt.air : 0, lambda, rpm, engine.displacementCc, rig.fuel.stoichAfr)
    const friction = engineTorque(0, 1, rpm, engine.displacementCc, rig.fuel.stoichAfr)
    torque = friction + (whole - friction) * advanceEfficiency(spark - best)
    const begins = knockAdvance({
      rpm,
      filling: burnt.filling,
      lambda,
      coolantC: thermal.coolantC,
      intakeC: intakeC(),
      ron: rig.fuel.ron,
    })
    knock = burns ? Math.max(0, spark - begins) : 0
  }
  const intakeC = (): number => rig.weather.temperatureC + HEAT_SOAK * Math.max(0, thermal.coolantC - 60)

  const live: LiveRig = {
    controls: { ...RESTING },
    step(seconds) {
      left += seconds
      for (; left >= DT; left -= DT) oneStep(live.controls)
    },
    sample() {
      const { rpm } = drive
      const ratio = options.drive.ratios[drive.gear - 1]
      return {
        time,
        rpm: Math.max(0, rpm + (rpm > 0 ? 6 * random.normal() : 0)),
        throttle: Math.min(100, Math.max(0, plate + 0.12 * random.normal())),
        ...(rig.calibration.plates?.length && { grip: hand, mode: live.controls.mode }),
        ...(rig.calibration.filling && { commanded: commandedLambda(rig.calibration.filling, rpm, plate) }),
        lambda: sensors.map((sensor) => sensor.read(random) * rig.faults.gauge),
        torque: torque * (1 + 0.006 * random.normal()),
        drum: ratio ? rpm / ratio : 0,
        coolant: thermal.coolantC + 0.1 * random.normal(),
        intake: intakeC() + 0.1 * random.normal(),
        battery: 13.8 - (rpm < 500 ? 1.3 : 0) + 0.02 * random.normal(),
        knock: knock + 0.05 * Math.abs(random.normal()),
        trimShort: 100 * (state.loop.trim - 1),
        spark,
      }
    },
  }
  return live
}
