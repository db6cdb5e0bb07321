/** Gas and air constants, SI. */
const R_AIR = 287.05
const GAMMA = 1.4
const CHOKED = (2 / (GAMMA + 1)) ** (GAMMA / (GAMMA - 1))

/** The engine behind a carburettor: m³ that one cylinder draws on, what of it fills, and air about it. */
export interface Behind {
  displacement: number
  /** share of the displacement that fills at a speed */
  filling(rpm: number): number
  pressure: number
  kelvin: number
}

/** Air through a throttle and what it leaves behind it. */
export interface Breath {
  /** kg/s, mean of a cycle */
  air: number
  /** Pa in the manifold */
  manifold: number
  density: number
}

/** Speed factor of compressible flow through an orifice at a pressure ratio (Heywood app. C, from memory). */
function flowFactor(ratio: number): number {
  const r = Math.max(ratio, CHOKED)
  return Math.sqrt(((2 * GAMMA) / (GAMMA - 1)) * Math.max(0, r ** (2 / GAMMA) - r ** ((GAMMA + 1) / GAMMA)))
}

/** What an engine of four strokes breathes at a manifold pressure. */
export function breathAt({ displacement, filling, pressure, kelvin }: Behind, rpm: number, manifold: number): Breath {
  const air = (filling(rpm) * displacement * rpm * manifold) / (120 * R_AIR * kelvin)
  return { air, manifold, density: pressure / (R_AIR * kelvin) }
}

/**
 * Air that passes a throttle of a flowing area, by halving the span of manifold pressure until what passes is what is drawn.
 *
 * @param area m², discharge in it; @returns kg/s, Pa and kg/m³
 */
export function breathThrough(engine: Behind, rpm: number, area: number): Breath {
  const { pressure, kelvin } = engine
  let [low, high] = [0.05 * pressure, pressure]
  for (let k = 0; k < 40; k++) {
    const middle = (low + high) / 2
    const passes = (area * pressure * flowFactor(middle / pressure)) / Math.sqrt(R_AIR * kelvin)
    if (passes > breathAt(engine, rpm, middle).air) low = middle
    else high = middle
  }
  return breathAt(engine, rpm, (low + high) / 2)
}

/** Share of its air that stands in a cylinder's way at a time: it draws in one stroke of four. */
const PULSE = 2.2

/** Pa below the air outside that a narrow place sees. @param area m², discharge in it */
export function depression({ air, density }: Breath, area: number): number {
  return (PULSE * air) ** 2 / (2 * density * area * area)
}
