import { breathAt, depression, type Behind } from './breath'
import { fuelThrough, holeOf, needleValve, oneAfterOther } from './fuelWay'

/** A fixed-venturi carburettor with metering rods, as it is in truth. Lengths in mm. */
export interface RodCarburettor {
  venturi: number
  boost: number
  /** Pa below which the main circuit gives nothing, and how much of its signal the bleed takes at 1 kPa */
  onset: number
  bleed: number
  /** kPa over which the spring lets the rods rise */
  spread: number
  idle: { jet: number; seat: number; pitch: number; cone: number }
}

/** What is in it: jet and rod by diameters, spring by the vacuum that it balances. */
export interface RodParts {
  jetMm: number
  cruiseMm: number
  powerMm: number
  spring: number
  turns: number
}

/** Fuel over air by circuit at a manifold pressure, kPa, up to a scale of each. The idle circuit fades with the vacuum that draws it; the main one comes in with the flow. */
export function rodFuel(
  carb: RodCarburettor,
  engine: Behind,
  parts: RodParts,
  rpm: number,
  manifoldKpa: number,
): { main: number; pilot: number } {
  const breath = breathAt(engine, rpm, 1000 * manifoldKpa)
  const signal = carb.boost * depression(breath, 0.92 * holeOf(carb.venturi))
  const main = signal / (1 + carb.bleed * Math.sqrt(signal / 1000))
  const vacuum = engine.pressure / 1000 - manifoldKpa
  const raised = 0.5 * (1 - Math.tanh((vacuum - parts.spring) / carb.spread))
  const rod = parts.cruiseMm + raised * (parts.powerMm - parts.cruiseMm)
  const ring = 0.74 * (holeOf(parts.jetMm) - holeOf(rod))
  const { jet, seat, pitch, cone } = carb.idle
  const idle = oneAfterOther(0.75 * holeOf(jet), 0.7 * needleValve(seat, pitch, cone, parts.turns))
  return {
    main: fuelThrough(ring, main - carb.onset) / breath.air,
    pilot: fuelThrough(idle, 350 * Math.max(0, vacuum)) / breath.air,
  }
}
