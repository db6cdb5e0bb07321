import type { GripMap } from './gripMap'
import type { PlateValues } from './plateTable'

/**
 * A measured map without holes: between what was seen by straight lines, beyond it by the nearest.
 *
 * @returns % of plate, `[grip][rpm]`
 */
export function wholeMap({ grip, rpm, plate }: GripMap): PlateValues {
  const values = grip.map(() => rpm.map(() => 0))
  rpm.forEach((_, k) => {
    const own = nearestKnown(plate, k, rpm.length)
    const known = grip.map((_, g) => g).filter((g) => plate[g]![own] !== null)
    grip.forEach((hand, g) => {
      const after = known.find((one) => one >= g) ?? known.at(-1)!
      const before = known.findLast((one) => one <= g) ?? known[0]!
      const [low, high] = [plate[before]![own]!, plate[after]![own]!]
      const span = grip[after]! - grip[before]!
      values[g]![k] = span > 0 ? low + ((hand - grip[before]!) / span) * (high - low) : low
    })
  })
  return { grip, rpm, values }
}

function nearestKnown(plate: GripMap['plate'], column: number, columns: number): number {
  const has = (k: number): boolean => plate.some((row) => row[k] != null)
  return Array.from({ length: columns }, (_, k) => k)
    .filter(has)
    .reduce((best, k) => (Math.abs(k - column) < Math.abs(best - column) ? k : best))
}
