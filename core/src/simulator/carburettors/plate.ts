/** Angle of a shut plate, and of one that is open all the way, degrees. */
const SHUT = 8
const OPEN = 86

const radians = (degrees: number): number => (degrees * Math.PI) / 180
const angleOf = (opening: number): number => radians(SHUT + (OPEN - SHUT) * Math.min(1, Math.max(0, opening)))

/**
 * Free area of a butterfly, m²: the bore less the plate's shadow, and what leaks by it when it is shut (Heywood ch. 7 without
 * the shaft, from memory).
 *
 * @param bore mm; @param opening share of its way
 */
export function butterflyArea(bore: number, opening: number): number {
  const whole = (Math.PI / 4) * (bore * 1e-3) ** 2
  return whole * (1 - Math.cos(angleOf(opening)) / Math.cos(radians(SHUT)) + 0.006)
}

/**
 * Share of a hole in the bore's wall that lies behind the plate's edge, 0 to 1: the edge sweeps away from the engine as it opens.
 *
 * @param place mm in front of the shut edge; @param size mm of the hole
 */
export function behindPlate(bore: number, opening: number, place: number, size: number): number {
  const swept = (bore / 2) * (Math.sin(angleOf(opening)) - Math.sin(radians(SHUT)))
  return 1 / (1 + Math.exp(-(swept - place) / (0.3 * size)))
}
