/** A tapered needle: its diameter along its length, from what stands in the jet at idle with the clip in the top groove. */
export interface Needle {
  name: string
  /** mm along the needle, rising, from 0; and mm of diameter there, never growing */
  points: { at: number; diameter: number }[]
}

/** What is wrong with a needle, in words; null when it is sound. */
export function needleFault({ name, points }: Needle): string | null {
  if (points.length < 2) return `Needle "${name}" needs its diameter at two places at least.`
  for (let k = 0; k < points.length; k++) {
    const { at, diameter } = points[k]!
    const before = points[k - 1]
    if (!(diameter > 0) || !(at >= 0)) return `Needle "${name}" has no sound figures at place ${k + 1}.`
    if (before && !(at > before.at))
      return `Needle "${name}": place ${k + 1} must lie further down than the one before.`
    if (before && diameter > before.diameter)
      return `Needle "${name}" grows from ${before.diameter} mm to ${diameter} mm at ${at} mm. A needle tapers toward its tip: count places from the clip down.`
  }
  return null
}

/** Diameter at a place along the needle, mm; straight between places, as at the ends beyond them. */
export function diameterAt({ points }: Needle, at: number): number {
  const next = points.findIndex((point) => point.at >= at)
  if (next <= 0) return points[next < 0 ? points.length - 1 : 0]!.diameter
  const [low, high] = [points[next - 1]!, points[next]!]
  return low.diameter + ((high.diameter - low.diameter) * (at - low.at)) / (high.at - low.at)
}
