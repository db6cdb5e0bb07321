/**
 * Rail pressure that gives so many times the fuel: flow through an orifice goes as the root of the pressure across it, so that
 * p2 = p1 x factor^2, each over the manifold.
 *
 * @param kPa rail pressure now, on one scale with the manifold's
 * @example
 * pressureFor(1.05, 300).toFixed(2) // '330.75'
 */
export const pressureFor = (factor: number, kPa: number, manifoldKpa = 0): number =>
  manifoldKpa + (kPa - manifoldKpa) * factor ** 2

/** Factor on the fuel of one rail pressure over another: the inverse of `pressureFor`. */
export const factorOfPressure = (kPa: number, before: number, manifoldKpa = 0): number =>
  Math.sqrt((kPa - manifoldKpa) / (before - manifoldKpa))
