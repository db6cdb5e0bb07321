import { USUAL_GAUGE_SCALE } from '../../fuel/mixture'
import type { CarburettorKind } from '../carburettor'

/** Wanted lambda over throttle opening, for a carburettor: richer than injected, because it distributes less evenly. */
export interface CircuitTarget {
  id: 'idle' | 'pilot' | 'needle' | 'full'
  name: string
  /** share of full throttle that it covers */
  from: number
  to: number
  lambda: number
  /** how much it counts: full throttle first */
  weight: number
}

const AFR = USUAL_GAUGE_SCALE

/** Usual targets (common practice: 12.0 to 12.5 wide open, where one cylinder may be a point leaner than the mean; 13 to 14 below). */
export const CIRCUIT_TARGETS: readonly CircuitTarget[] = [
  { id: 'idle', name: 'Idle', from: 0, to: 0.04, lambda: 13.2 / AFR, weight: 1 },
  { id: 'pilot', name: 'Pilot range', from: 0.04, to: 0.2, lambda: 13.4 / AFR, weight: 1 },
  { id: 'needle', name: 'Needle range', from: 0.2, to: 0.75, lambda: 13.2 / AFR, weight: 1.5 },
  { id: 'full', name: 'Full throttle', from: 0.75, to: 1.0001, lambda: 12.4 / AFR, weight: 4 },
]
/** The same over manifold pressure in units of 100 kPa, where rods meter by vacuum (common practice: 14.0 to 14.7 at cruise). */
const ROD_TARGETS: readonly CircuitTarget[] = [
  { id: 'idle', name: 'Idle', from: 0, to: 0.35, lambda: 13.6 / AFR, weight: 1 },
  { id: 'pilot', name: 'Cruise', from: 0.35, to: 0.6, lambda: 14.4 / AFR, weight: 1.5 },
  { id: 'needle', name: 'Part load', from: 0.6, to: 0.8, lambda: 14 / AFR, weight: 1.5 },
  { id: 'full', name: 'Power', from: 0.8, to: 1.0501, lambda: 12.3 / AFR, weight: 4 },
]

/** Usual targets of a kind of carburettor. */
export function usualTargets(kind: CarburettorKind): readonly CircuitTarget[] {
  return kind === 'metering rods' ? ROD_TARGETS : CIRCUIT_TARGETS
}

/** Mixture at tip-in, lambda: what is wanted, and from where it counts as lean or as rich. */
export interface TipInTarget {
  wanted: number
  lean: number
  rich: number
}

/** Tip-in is judged apart, by the leanest reading while the throttle opens (common practice, no published source). */
export const USUAL_TIP_IN: TipInTarget = { wanted: 0.79, lean: 0.82, rich: 0.73 }

/** How the leanest reading of a tip-in stands against what is wanted. */
export function judgeTipIn(leanest: number, { lean, rich }: TipInTarget): 'lean' | 'rich' | 'as it should be' {
  return leanest > lean ? 'lean' : leanest < rich ? 'rich' : 'as it should be'
}

/** The zone an opening falls in. */
export function targetAt(targets: readonly CircuitTarget[], opening: number): CircuitTarget {
  return targets.find((one) => opening >= one.from && opening < one.to) ?? targets.at(-1)!
}
