import { breathThrough, depression, type Behind } from './breath'
import { fuelThrough, holeOf, needleValve, oneAfterOther } from './fuelWay'
import { behindPlate, butterflyArea } from './plate'

/** A small butterfly carburettor with a high and a low needle valve, as it is in truth. Lengths in mm. */
export interface ScrewCarburettor {
  bore: number
  venturi: number
  high: { seat: number; pitch: number; cone: number; jet: number; opensAt: number }
  low: { seat: number; pitch: number; cone: number }
  /** holes of the low circuit from the engine's side on: place in front of the shut edge, and size */
  holes: readonly { place: number; size: number }[]
}

/**
 * Fuel over air by circuit at an opening of the plate, up to a scale of each. The low circuit sees the manifold through the holes behind the plate's edge and breathes
 * through those before it; the high one opens its check valve at a pressure.
 */
export function screwFuel(
  carb: ScrewCarburettor,
  engine: Behind,
  set: { high: number; low: number },
  rpm: number,
  opening: number,
): { main: number; pilot: number } {
  const breath = breathThrough(engine, rpm, 0.82 * butterflyArea(carb.bore, opening))
  const throat = depression(breath, 0.9 * holeOf(carb.venturi))
  const { seat, pitch, cone, jet, opensAt } = carb.high
  const high = oneAfterOther(0.75 * needleValve(seat, pitch, cone, set.high), 0.8 * holeOf(jet))
  // The check valve's leaf lifts over a span of pressure.
  const lifted = throat / (1 + Math.exp(-(throat - opensAt) / (0.35 * opensAt)))
  const behind = engine.pressure - breath.manifold
  const seen = carb.holes.map(({ place, size }) => ({
    area: holeOf(size),
    share: behindPlate(carb.bore, opening, place, size),
  }))
  const open = seen.reduce((sum, { area, share }) => sum + area * share, 0)
  const all = seen.reduce((sum, { area }) => sum + area, 0)
  // Holes before the edge let air into the pocket: its depression falls with the square of their share.
  const pocket = behind * (open / all) ** 2 + 0.25 * throat
  const low = 0.7 * needleValve(carb.low.seat, carb.low.pitch, carb.low.cone, set.low)
  const wet = oneAfterOther(low, 0.8 * Math.max(1e-9, open))
  return { main: fuelThrough(high, lifted) / breath.air, pilot: fuelThrough(wet, pocket, 4) / breath.air }
}
