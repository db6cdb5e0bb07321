import { interpolate } from '../table/lookup'
import type { Matrix, Table } from '../table/table'

/** Where a controller corrects in closed loop by its own narrowband sensor. */
export interface LoopZone {
  fromRpm: number
  toRpm: number
  /** plate opening up to which it applies, % */
  mostPlate: number
}

/** What is stored in the engine controller. */
export interface Calibration {
  /** fuel base table, mg per cycle and cylinder */
  base: Table
  /** percent trim on top of it, by cylinder; one table serves all when there is only one */
  trims: Table[]
  /** spark base table, degrees before top dead centre */
  spark: Table
  loop: LoopZone[]
  /** plate opening and rpm of the fuel cut on the overrun */
  cut: { plate: number; rpm: number }
}

/** Fuel asked for by the tables, mg per cycle, before closed loop. */
export function tableFuel(calibration: Calibration, cylinder: number, rpm: number, plate: number): number {
  const base = interpolate(calibration.base, calibration.base.values, rpm, plate)
  const trim = calibration.trims[Math.min(cylinder, calibration.trims.length - 1)]
  return trim ? base * (1 + interpolate(trim, trim.values, rpm, plate) / 100) : base
}

/** Advance asked for by the table, degrees before top dead centre. */
export function tableSpark({ spark }: Calibration, rpm: number, plate: number): number {
  return interpolate(spark, spark.values, rpm, plate)
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
