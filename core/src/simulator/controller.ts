import { interpolate } from '../table/lookup'
import type { Matrix, Table } from '../table/table'
import { askedByWays, type ControllerWays, type Rail } from './controllerWays'

/** Where a controller corrects in closed loop by its own narrowband sensor. */
export interface LoopZone {
  fromRpm: number
  toRpm: number
  /** plate opening up to which it applies, % */
  mostPlate: number
}

/** What is stored in the engine controller. */
export interface Calibration {
  /** fuel base table, mg per cycle and cylinder; or pulses in ms, or filling in %, see below */
  base: Table
  /** percent trim on top of it, by cylinder; one table serves all when there is only one */
  trims: Table[]
  /** spark base table, degrees before top dead centre */
  spark: Table
  loop: LoopZone[]
  /** plate opening and rpm of the fuel cut on the overrun, and s that fuel takes to come back; at once when left out */
  cut: { plate: number; rpm: number; backS?: number }
  /** fuel added as the plate opens; none when left out */
  acceleration?: Acceleration
  /** plate by grip and rpm, by riding mode, where a motor moves the plate; a cable when left out */
  plates?: Table[]
  /** settings beside the tables, and the rail they act on; none where left out */
  ways?: ControllerWays
  rail?: Rail
  /** the injectors, where the base table counts in ms instead of mg: mg/ms, and ms before they open */
  injectors?: Injectors
  /** where the base table holds the filling in %: mg that a full cylinder takes at lambda 1, and the lambda that is commanded */
  filling?: { fullMg: number; commanded: Table }
}

/** What a set of injectors meters: mg/ms, and ms before they open. */
export interface Injectors {
  flow: number
  deadMs: number
}

/** Fuel added as the plate opens. */
export interface Acceleration {
  /** percent of the fuel, by rpm and by % of plate per second (the table's load) */
  amount: Table
  /** s in which it decays */
  decay: number
}

/** Fuel asked for by the tables and the settings beside them, mg per cycle, before closed loop. */
export function tableFuel(calibration: Calibration, cylinder: number, rpm: number, plate: number): number {
  const { ways } = calibration
  const base = baseFuel(calibration, interpolate(calibration.base, calibration.base.values, rpm, plate), rpm, plate)
  const trim = calibration.trims[Math.min(cylinder, calibration.trims.length - 1)]
  const trimmed = trim ? base * (1 + interpolate(trim, trim.values, rpm, plate) / 100) : base
  return ways ? trimmed * askedByWays(ways, rpm, plate) : trimmed
}

/** mg that a cell of the base table stands for. */
function baseFuel({ injectors, filling }: Calibration, cell: number, rpm: number, plate: number): number {
  if (filling) return ((cell / 100) * filling.fullMg) / commandedLambda(filling, rpm, plate)
  return injectors ? Math.max(0, cell - injectors.deadMs) * injectors.flow : cell
}

/** Lambda that a controller with a table of filling aims at. */
export function commandedLambda(
  { commanded }: NonNullable<Calibration['filling']>,
  rpm: number,
  plate: number,
): number {
  return interpolate(commanded, commanded.values, rpm, plate)
}

/** Advance asked for by the table, degrees before top dead centre. */
export function tableSpark({ spark }: Calibration, rpm: number, plate: number): number {
  return interpolate(spark, spark.values, rpm, plate)
}

/** Percent of fuel asked for while the plate opens at a speed, % per second. */
export function accelerationAsked({ acceleration }: Calibration, rpm: number, rate: number): number {
  if (!acceleration || rate <= 0) return 0
  const { amount } = acceleration
  // Below the first speed of the table it fades to nothing.
  const share = Math.min(1, rate / amount.load[0]!)
  return share * interpolate(amount, amount.values, rpm, rate)
}

/** Where the controller puts the plate for a hand, %. */
export function plateAsked({ plates }: Calibration, mode: number, rpm: number, grip: number): number {
  if (!plates?.length) return grip
  const table = plates[Math.min(plates.length - 1, Math.max(0, mode))]!
  return interpolate(table, table.values, rpm, grip)
}

/** The zone that applies, or undefined in open loop. */
export function loopZoneAt(calibration: Calibration, rpm: number, plate: number): LoopZone | undefined {
  return calibration.loop.find((zone) => rpm >= zone.fromRpm && rpm <= zone.toRpm && plate <= zone.mostPlate)
}

/** Whether fuel is cut on the overrun. */
export function fuelIsCut(calibration: Calibration, rpm: number, plate: number): boolean {
  return plate < calibration.cut.plate && rpm > calibration.cut.rpm
}

/** A table by evaluating what an engine needs (fuel, or advance) at every node. */
export function calibrate(
  grid: { rpm: number[]; load: number[] },
  need: (rpm: number, plate: number) => number,
): Matrix {
  return grid.load.map((plate) => grid.rpm.map((rpm) => need(rpm, plate)))
}
