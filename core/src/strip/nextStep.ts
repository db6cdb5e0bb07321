import { mean } from '../numbers/mean'
import { meanInterval } from '../numbers/meanInterval'
import { comparedMarks, comparePasses, type ComparedPass, type StripDifference } from './comparePasses'

/** A state of the machine at the strip, with its passes. */
export interface StripState {
  /** main jet that was fitted, mean of the carburettors; null where there is none */
  main: number | null
  passes: readonly ComparedPass[]
  /** % of fuel that the mixture wants, one figure a pass, positive lean; empty where no pass was read */
  wantedPct: readonly number[]
}

/** Jets at hand, and what flows through one. */
export interface Jets {
  at: readonly number[]
  area(number: number): number
}

/** What to try next, with what speaks for it. */
export type NextStep =
  | { kind: 'fuel'; pct: StripDifference; jet: { from: number; to: number } | null }
  | { kind: 'jet'; from: number; to: number; powerPct: StripDifference }
  | { kind: 'back'; to: number | null; powerPct: StripDifference }
  | { kind: 'read'; powerPct: StripDifference }
  | { kind: 'keep'; why: 'mixture' | 'speed' }
  | { kind: 'again'; passes: number; scatterKmh: number }

/** % of fuel below which nothing is worth a change: about half a jet. Common practice. */
const WORTH = 1.5
/** km/h of end speed that passes of one state scatter by where too few were made to tell; common practice. */
const USUAL_SCATTER = 1
/** % of power that a comparison is to tell, and passes that it is made of at the most. */
const [TELLS, MOST] = [2, 8]

/**
 * What to try next at the strip: by the mixture where it was read, else by what the last change did to end speed; more passes
 * where they tell nothing yet.
 *
 * @param states in the order in which they were made, each with a pass at least
 * @throws RangeError without a state
 */
export function nextStep(states: readonly StripState[], jets: Jets | null): NextStep {
  const last = states.at(-1)
  if (!last) throw new RangeError('There is no pass yet.')
  const pct = meanWith(last.wantedPct)
  if (pct) {
    const isTold = pct.low === null ? Math.abs(pct.difference) >= 2 * WORTH : pct.low * pct.high! > 0
    if (isTold && Math.abs(pct.difference) >= WORTH)
      return { kind: 'fuel', pct, jet: jets && last.main !== null ? jetFor(last.main, pct.difference, jets) : null }
    if (pct.low !== null && Math.max(Math.abs(pct.low), Math.abs(pct.high!)) < 2 * WORTH)
      return { kind: 'keep', why: 'mixture' }
  }
  const before = states.at(-2)
  if (!before) return again(states)
  const { powerPct } = comparePasses(before.passes, last.passes)
  if (!powerPct || powerPct.low === null || powerPct.low * powerPct.high! <= 0) return again(states)
  if (powerPct.difference < 0) return { kind: 'back', to: before.main, powerPct }
  const [from, to] = [before.main, last.main]
  const further = from === null || to === null || !jets ? null : nextOf(to, Math.sign(to - from), jets.at)
  if (further === null || further === to) return { kind: 'keep', why: 'speed' }
  // Wide open nothing is leaned by speed alone: what holes a piston is quick until then.
  if (further < to! && !pct) return { kind: 'read', powerPct }
  return { kind: 'jet', from: to!, to: further, powerPct }
}

/** Mean with its interval, as a difference from nought; null without a value. */
export function meanWith(values: readonly number[]): StripDifference | null {
  const told = meanInterval(values)
  return told && { difference: told.mean, low: told.low, high: told.high }
}

/** The jet at hand whose area is nearest to what is wanted; never one that is leaner than that. */
function jetFor(from: number, pct: number, { at, area }: Jets): { from: number; to: number } | null {
  const wanted = area(from) * (1 + pct / 100)
  const others = at.filter((one) => one !== from && (pct > 0 ? one > from : one < from && area(one) >= wanted))
  const nearest = [from, ...others].sort((a, b) => Math.abs(area(a) - wanted) - Math.abs(area(b) - wanted))[0]!
  return nearest === from ? null : { from, to: nearest }
}

function nextOf(from: number, way: number, at: readonly number[]): number | null {
  const further = at
    .filter((one) => Math.sign(one - from) === way)
    .sort((a, b) => Math.abs(a - from) - Math.abs(b - from))
  return way === 0 ? null : (further[0] ?? null)
}

/** How many passes more, in the last state, would tell a few percent of power by the cube of end speed. */
function again(states: readonly StripState[]): NextStep {
  const speeds = states.map(({ passes }) => passes.flatMap((pass) => comparedMarks(pass).at(-1)?.speedKmh ?? []))
  let [squares, freedom, sum, count] = [0, 0, 0, 0]
  for (const own of speeds) {
    const middle = mean(own)
    for (const one of own) [squares, sum, count] = [squares + (one - middle) ** 2, sum + one, count + 1]
    freedom += Math.max(0, own.length - 1)
  }
  const scatter = freedom > 0 ? Math.sqrt(squares / freedom) : USUAL_SCATTER
  const tells = ((count ? sum / count : 150) * TELLS) / 300
  const wanted = Math.ceil(2 * ((1.9 * Math.max(0.2, scatter)) / tells) ** 2)
  const made = speeds.at(-1)!.length
  return { kind: 'again', passes: Math.min(MOST, Math.max(1, Math.max(2, wanted) - made)), scatterKmh: scatter }
}
