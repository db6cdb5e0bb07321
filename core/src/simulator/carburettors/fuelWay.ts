const RHO_FUEL = 742
const GRAVITY = 9.81

/** kg/s through m² (discharge in it) at Pa, after what it costs to lift fuel by mm. */
export function fuelThrough(area: number, drop: number, liftMm = 0): number {
  return area * Math.sqrt(2 * RHO_FUEL * Math.max(0, drop - RHO_FUEL * GRAVITY * liftMm * 1e-3))
}

/** m² of a round hole of mm. */
export const holeOf = (mm: number): number => (Math.PI / 4) * (mm * 1e-3) ** 2

/**
 * m² that a cone leaves open in its seat (a frustum's mantle): more than in proportion to its turns at first, less at the end.
 *
 * @param seat mm; @param pitch mm a turn; @param cone whole angle, degrees
 */
export function needleValve(seat: number, pitch: number, cone: number, turns: number): number {
  const half = (cone / 2) * (Math.PI / 180)
  const raised = Math.max(0, turns) * pitch * Math.sin(half)
  return Math.min(holeOf(seat), Math.PI * raised * (seat - raised * Math.cos(half)) * 1e-6)
}

/** One hole after the other, m². */
export const oneAfterOther = (a: number, b: number): number => 1 / Math.sqrt(1 / (a * a) + 1 / (b * b))
