import { STEP, type TracedOpening } from './tracedOpening'
import { decaying } from './wallFilm'

/**
 * What is tried for the disturbance of the mixture, as a share of the fuel: `both` a film and an enrichment with decays of
 * their own, `amount` one that is too little or too much and decays as the film does, `decay` one of the right size that
 * decays sooner or later than the film.
 */
export type FilmKind = 'both' | 'amount' | 'decay'

/** A disturbance: shares of the fuel, and logarithms of time constants in s. */
export interface Disturbance {
  kind: FilmKind
  amounts: number[]
  times: number[]
}

/** Share of the fuel that is missing by fine step, and what that would be with a little more of each parameter: amounts first, times behind. */
export interface FuelMissing {
  now: Float64Array
  slopes: Float64Array[]
}

/** Largest share of the fuel that may be missing, so that lambda stays finite. */
export const MOST_MISSING = 0.6
/** Relative step by which a derivative to a time constant is taken. */
const NUDGE = 0.02

/** What a disturbance leaves missing after an opening. */
export function fuelMissing(trace: TracedOpening, { kind, amounts, times }: Disturbance): FuelMissing {
  const film = shareLeft(trace, times[0]!)
  const [amount] = amounts as [number]
  if (kind === 'amount')
    return { now: scaled(film, amount), slopes: [film, slopeOfTime(trace, times[0]!, film, amount)] }
  const extra = shareLeft(trace, times[1]!)
  const more = kind === 'both' ? amounts[1]! : amount
  const now = new Float64Array(film.length)
  const apart = new Float64Array(film.length)
  for (let k = 0; k < now.length; k++) {
    now[k] = amount * film[k]! - more * extra[k]!
    apart[k] = film[k]! - extra[k]!
  }
  return {
    now,
    slopes: [
      ...(kind === 'both' ? [film, scaled(extra, -1)] : [apart]),
      slopeOfTime(trace, times[0]!, film, amount),
      slopeOfTime(trace, times[1]!, extra, -more),
    ],
  }
}

/** lambda over its base, less 1, by fine step. */
export function excessOf({ now }: FuelMissing): Float64Array {
  const out = new Float64Array(now.length)
  for (let k = 0; k < out.length; k++) out[k] = 1 / (1 - Math.min(MOST_MISSING, Math.max(-MOST_MISSING, now[k]!))) - 1
  return out
}

/** Growth of the charge, decaying; it weighs more while little air is drawn in. */
function shareLeft({ progress, filling }: TracedOpening, time: number): Float64Array {
  const left = decaying(progress, Math.exp(time), STEP)
  for (let k = 0; k < left.length; k++) left[k]! /= filling + (1 - filling) * progress[k]!
  return left
}

function slopeOfTime(trace: TracedOpening, time: number, here: Float64Array, amount: number): Float64Array {
  const slope = shareLeft(trace, time + NUDGE)
  for (let k = 0; k < slope.length; k++) slope[k] = (amount * (slope[k]! - here[k]!)) / NUDGE
  return slope
}

function scaled(values: Float64Array, by: number): Float64Array {
  const out = new Float64Array(values.length)
  for (let k = 0; k < out.length; k++) out[k] = by * values[k]!
  return out
}
