/** A pipe-tuning ripple: the gas column helps or hinders filling around one engine speed. */
interface Ripple {
  /** rpm of its strongest effect, and its width */
  rpm: number
  width: number
  /** share of filling gained (or lost, negative) at wide open throttle */
  gain: number
}

/** What the engine breathes through. Another exhaust or filter moves the ripples and the overall flow. */
export interface Breathing {
  exhaust: Ripple[]
  intake: Ripple[]
  /** overall flow against the stock parts, 1 for stock */
  flow: number
}

/** An engine's own measures. */
export interface EngineBuild {
  cylinders: number
  displacementCc: number
  /** rpm of best filling, and the highest rpm */
  bestRpm: number
  redline: number
  /** filling of each cylinder against the mean, at low and at high rpm */
  spread: { low: number; high: number }[]
}

/** Filling of one cylinder as a share of its swept volume at ambient density: throttle choking, broad rpm curve, ripples. */
export function volumetricEfficiency(
  engine: EngineBuild,
  breathing: Breathing,
  cylinder: number,
  rpm: number,
  plate: number,
): number {
  // The faster the engine draws, the more the same plate chokes it.
  const opening = Math.max(0.2, plate) / 100
  const choke = 1 - Math.exp((-4.2 * opening ** 1.15) / Math.max(0.12, rpm / engine.redline))
  const broad = 0.94 - 0.22 * ((rpm - engine.bestRpm) / engine.redline) ** 2
  const ripple = (ripples: readonly Ripple[]): number =>
    ripples.reduce((sum, one) => sum + one.gain * Math.exp(-(((rpm - one.rpm) / one.width) ** 2)), 0)
  // Waves grow with the flow that excites them.
  const waves = 1 + (0.35 + 0.65 * choke) * (ripple(breathing.exhaust) + ripple(breathing.intake))
  const { low, high } = engine.spread[cylinder]!
  const share = low + (high - low) * Math.min(1, rpm / engine.redline)
  return Math.max(0.03, choke * broad * waves * breathing.flow * share)
}

const GAS_CONSTANT = 287.05

/** Air drawn in by one cylinder in one cycle, mg (ideal gas). */
export function airPerCycle(efficiency: number, cylinderCc: number, pressureKpa: number, temperatureC: number): number {
  const density = (pressureKpa * 1000) / (GAS_CONSTANT * (temperatureC + 273.15))
  return efficiency * cylinderCc * 1e-6 * density * 1e6
}
