/**
 * Torque at a mixture, share of the most: best a little rich, falling off slowly to the rich side and faster to the lean one.
 * Common practice for petrol; the figures are from memory of engine textbooks' mixture loops (about 3 % less at lambda 1,
 * about 10 % less at lambda 1.1), not measured on this engine.
 *
 * @example
 * torqueAtMixture(0.87) // 1
 */
export function torqueAtMixture(lambda: number): number {
  const off = lambda - BEST
  return Math.max(0, 1 - (off > 0 ? LEAN : RICH) * off * off)
}

const BEST = 0.87
const LEAN = 1.9
const RICH = 1.5

/** Percent of torque that a step from one mixture to another makes; negative loses. */
export function torqueStep(from: number, to: number): number {
  return 100 * (torqueAtMixture(to) / torqueAtMixture(from) - 1)
}
