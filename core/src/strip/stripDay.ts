import { mean } from '../numbers/mean'
import { comparePasses, type ComparedPass, type PassesCompared, type StripDifference } from './comparePasses'
import { meanWith, nextStep, type Jets, type NextStep } from './nextStep'

/** A card, as a day is told from it. */
export interface DayPass extends ComparedPass {
  /** the state of the machine it was made in; null where nobody said */
  set: string | null
  /** % of fuel that its gears want; empty where its mixture was not read */
  wantedPct: readonly number[]
}

/** A state of the machine: its set, and the main jet that was in. */
export interface DayState {
  set: string | null
  name: string
  main: number | null
}

/** What passes of one state did against those of the state before, and what to try next. */
export interface StripDayTold {
  states: (DayState & { passes: number; wantedPct: StripDifference | null })[]
  against: (PassesCompared & { first: string; second: string })[]
  next: NextStep | null
}

/**
 * A day at the strip, state after state.
 *
 * @param passes in any order; @param states in the order in which they were made
 * @param jets at hand; null for a machine without
 */
export function stripDay(passes: readonly DayPass[], states: readonly DayState[], jets: Jets | null): StripDayTold {
  const made = states.flatMap((state) => {
    const own = passes.filter((one) => one.set === state.set)
    return own.length
      ? [{ state, own, wanted: own.flatMap(({ wantedPct }) => (wantedPct.length ? [mean(wantedPct)] : [])) }]
      : []
  })
  return {
    states: made.map(({ state, own, wanted }) => ({ ...state, passes: own.length, wantedPct: meanWith(wanted) })),
    against: made.slice(1).map(({ state, own }, k) => ({
      first: made[k]!.state.name,
      second: state.name,
      ...comparePasses(made[k]!.own, own),
    })),
    next: made.length
      ? nextStep(
          made.map(({ state, own, wanted }) => ({ main: state.main, passes: own, wantedPct: wanted })),
          jets,
        )
      : null,
  }
}
