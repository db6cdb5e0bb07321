import { plain } from '../../numbers/format'
import { annulusArea } from './orifice'

/**
 * A tapered needle: its diameter along its length, from what stands in the jet at idle with the clip in the top groove. One
 * without places is not known: what is usual stands for it, and nothing is proposed of it or of its clip.
 */
export interface Needle {
  name: string
  /** mm along the needle, rising, from 0; and mm of diameter there, never growing */
  points: { at: number; diameter: number }[]
}

export const isKnownNeedle = ({ points }: Needle): boolean => points.length > 0

/** What is wrong with a needle, in words; null when it is sound, or not known at all. */
export function needleFault({ name, points }: Needle): string | null {
  if (points.length === 0) return null
  if (points.length < 2)
    return `Needle "${name}" needs its diameter at two places at least, or none where it is not known.`
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

/**
 * A needle that chokes its jet at full lift, in words: there the main jet rules in every carburettor (common practice), so its
 * places are not counted from where it stands in the jet at idle, most often from the shank.
 *
 * @param bore, needleJet mm; @param jet smallest main jet at hand, mm²; null without any
 */
export function chokingNeedle(
  needle: Needle,
  { bore, needleJet }: { bore: number; needleJet: number },
  jet: number | null,
): string | null {
  if (!isKnownNeedle(needle) || jet === null) return null
  const ring = annulusArea(needleJet, diameterAt(needle, bore))
  if (ring >= jet) return null
  return `Needle "${needle.name}" leaves ${plain(ring, 2)} mm² of its jet open at full lift, less than the main jet's ${plain(jet, 2)}: it would rule full throttle. Its places are most likely counted from the shank. Count them from what stands in the jet at idle, or say how far down that is: "${needle.name} from 20: …". If they are right, bore or needle jet is not.`
}

/** A needle whose places were counted from further up, counted from where it stands in the jet at idle. @param by mm */
export function countedFrom(needle: Needle, by: number): Needle {
  if (!isKnownNeedle(needle)) return needle
  const below = needle.points.filter((one) => one.at > by).map((one) => ({ ...one, at: one.at - by }))
  return { ...needle, points: [{ at: 0, diameter: diameterAt(needle, by) }, ...below] }
}

/** Shape of a needle that nobody measured: places in bores, diameters in needle jets (common practice: straight, then a taper). */
const USUAL = [
  [0, 0.984],
  [0.2, 0.98],
  [0.4, 0.945],
  [0.8, 0.83],
  [1.3, 0.52],
] as const

/** What is usual for a needle that nobody measured. @param body mm */
export const usualNeedle = (name: string, { bore, needleJet }: { bore: number; needleJet: number }): Needle => ({
  name,
  points: USUAL.map(([at, diameter]) => ({ at: at * bore, diameter: diameter * needleJet })),
})

/** Diameter at a place along the needle, mm; straight between places, as at the ends beyond them. */
export function diameterAt({ points }: Needle, at: number): number {
  const next = points.findIndex((point) => point.at >= at)
  if (next <= 0) return points[next < 0 ? points.length - 1 : 0]!.diameter
  const [low, high] = [points[next - 1]!, points[next]!]
  return low.diameter + ((high.diameter - low.diameter) * (at - low.at)) / (high.at - low.at)
}
