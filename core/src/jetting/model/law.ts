import type { CarburettorKind } from '../carburettor'

export const TERMS = [
  'pilot',
  'reach',
  'screw',
  'cutaway',
  'needle',
  'main',
  'lift',
  'rise',
  'spread',
  'shift',
] as const
/** What may depart from the usual in a carburettor. */
export type Term = (typeof TERMS)[number]

/**
 * How a carburettor departs from the usual one, natural logarithms but for `shift` (kPa); all zero before anything is measured.
 * pilot, needle, main: discharge of the circuits; reach: how far up the pilot's part goes; screw: what a turn of the idle screw is
 * worth, or how the low valve opens; cutaway: what a mm of it is worth; lift: how far a piston goes, or how the high valve opens;
 * rise: how the piston follows, or where the main circuit comes in; spread and shift: of the spring under metering rods.
 */
export type Law = Readonly<Record<Term, number>>
export const USUAL: Law = Object.fromEntries(TERMS.map((term) => [term, 0])) as Record<Term, number>

/**
 * How far each may be from the usual before anything is measured, standard deviations: broad enough for carburettors not yet seen
 * (judgement; the proofs of `core/trials` hold them against laws of other forms).
 */
export const DEPARTURES: Record<CarburettorKind, Partial<Record<Term, number>>> = {
  slide: { pilot: 0.7, reach: 0.5, screw: 0.5, cutaway: 0.7, needle: 0.3, main: 0.3 },
  'constant-vacuum': { pilot: 0.7, reach: 0.5, screw: 0.5, needle: 0.3, main: 0.3, lift: 0.25, rise: 0.35 },
  'metering rods': { pilot: 0.8, reach: 0.4, screw: 0.5, main: 0.2, rise: 0.25, spread: 0.5, shift: 2 },
  'two screws': { pilot: 0.6, reach: 0.5, screw: 0.25, lift: 0.25, rise: 0.4 },
}

/**
 * How far the effect of a slot's parts may be from what the law makes of it, share of it, standard deviation: where a part's size is
 * known and one hole meters, little; where a needle's taper or a piston's lift stands between, more (judgement, held by the proofs).
 */
export const EFFECT_SPREAD: Record<CarburettorKind, number> = {
  slide: 0.35,
  'constant-vacuum': 0.4,
  'metering rods': 0.12,
  'two screws': 0.12,
}
