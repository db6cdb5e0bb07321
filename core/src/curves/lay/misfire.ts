import type { RpmBand } from '../../run/run'
import type { Curve } from './curve'
import { mean } from '../../numbers/mean'
import { median } from '../../numbers/median'
import { binsWithin, type CurveRuler } from './ruler'

/** Signs that a run misfires rather than runs lean, in one band and one cylinder. */
export interface MisfireSuspicion {
  /** from 1 */
  cylinder: number
  leanerPct: number
  /** null when torque is not known */
  torquePct: number | null
  /** scatter of single readings against that of the other runs */
  scatterRatio: number
}

const LEANER = 2
const LESS_TORQUE = -1.5
const MORE_SCATTER = 1.5

/**
 * Whether a run's odd band looks like a misfire: it reads leaner than its repeats, its readings scatter more, and torque
 * is down (where torque is known). Unburnt charge carries its oxygen past the sensor, so it reads lean without being lean.
 *
 * @param others the repeats of the same stop
 * @returns the cylinder in which the signs are strongest, or null
 */
export function misfireSuspicion(
  curve: Curve,
  others: readonly Curve[],
  band: RpmBand,
  ruler: CurveRuler,
): MisfireSuspicion | null {
  const [from, to] = binsWithin(ruler, band.fromRpm, band.toRpm)
  const overBand = (of: (curve: Curve) => Float32Array | null | undefined): { own: number; rest: number } | null => {
    const inBand = (one: Curve): number => mean(of(one) ?? undefined, from, to)
    const own = inBand(curve)
    const rest = median(others.map(inBand).filter((value) => value === value))
    return own === own && rest === rest ? { own, rest } : null
  }
  const torque = overBand((one) => one.torque)
  const torquePct = torque && 100 * (torque.own / torque.rest - 1)
  let best: MisfireSuspicion | null = null
  curve.lambda.forEach((_, c) => {
    const lambda = overBand((one) => one.lambda[c])
    const scatter = overBand((one) => one.scatter[c])
    if (!lambda || !scatter) return
    const leanerPct = 100 * (lambda.own / lambda.rest - 1)
    const scatterRatio = scatter.own / Math.max(1e-4, scatter.rest)
    const signs = leanerPct > LEANER && scatterRatio > MORE_SCATTER && (torquePct === null || torquePct < LESS_TORQUE)
    if (signs && (!best || leanerPct > best.leanerPct)) best = { cylinder: c + 1, leanerPct, torquePct, scatterRatio }
  })
  return best
}
