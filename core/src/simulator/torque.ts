/** Relative torque by mixture: best near lambda 0.88, falling off to both sides; little is left at the lean limit (textbook shape). */
export function mixtureEfficiency(lambda: number): number {
  const lean = lambda > 0.88 ? 1.05 : 0.75
  return Math.max(0, 1 - lean * (lambda - 0.88) ** 2 - (lambda > 1.25 ? 2 * (lambda - 1.25) : 0))
}

/**
 * Torque of the engine, N·m, from the air burnt per cycle: indicated work at a fixed share of the fuel's heat, less
 * friction that grows with speed.
 *
 * @param airMg air per cycle of all cylinders together, mg; @param lambda mean mixture
 */
export function engineTorque(
  airMg: number,
  lambda: number,
  rpm: number,
  displacementCc: number,
  stoichAfr: number,
): number {
  const heat = 43.5e6
  const indicated = 0.36
  const fuelKg = (airMg * 1e-6) / stoichAfr
  const work = fuelKg * heat * indicated * mixtureEfficiency(lambda)
  const frictionKpa = 95 + 0.008 * rpm + 2.2e-6 * rpm * rpm
  // One cycle is two turns: torque = work / 4 pi.
  return (work - frictionKpa * 1000 * displacementCc * 1e-6) / (4 * Math.PI)
}
