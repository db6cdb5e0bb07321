/**
 * Mass flow of a liquid through an orifice, kg/s: m = Cd A sqrt(2 rho dp) (Bernoulli; Heywood ch. 7, from memory).
 *
 * @param cd discharge coefficient; @param area m²; @param density kg/m³; @param drop pressure drop, Pa, 0 or more
 */
export function orificeFlow(cd: number, area: number, density: number, drop: number): number {
  return cd * area * Math.sqrt(2 * density * Math.max(0, drop))
}

/** Area of a round hole, in the square of the diameter's unit. */
export function circleArea(diameter: number): number {
  return (Math.PI / 4) * diameter * diameter
}

/** One orifice that flows as two behind each other: 1 / A² add. Zero when either is shut. */
export function inSeries(first: number, second: number): number {
  return first > 0 && second > 0 ? (first * second) / Math.hypot(first, second) : 0
}

/**
 * Ring that a needle leaves open in its jet, mm².
 *
 * @param jet bore of the needle jet, mm; @param needle diameter where it stands in the jet, mm
 */
export function annulusArea(jet: number, needle: number): number {
  return Math.max(0, circleArea(jet) - circleArea(needle))
}
