import type { RunFacts } from '../run/facts'

export const PURPOSES = ['mixture', 'comparison', 'check'] as const
/** What the runs are for: setting the mixture, comparing before and after, or asking whether a retune is needed at all. */
export type Purpose = (typeof PURPOSES)[number]

export const ORDERS = ['wide open first', 'small openings first'] as const
/** In which order the stops are run; practitioners disagree, both are common. */
type Order = (typeof ORDERS)[number]

export const SERVICES = ['base map check', 'middle tune', 'full work'] as const
/** How far the work goes that was agreed on: the level of service. */
export type Service = (typeof SERVICES)[number]

export const PLANNED_KINDS = ['sweep', 'hold', 'roll-on'] as const
export type PlannedKind = (typeof PLANNED_KINDS)[number]

/** Minutes that things take on this rig. */
export interface Pace {
  warmUp: number
  sweep: number
  hold: number
  rollOn: number
  /** after a run wide open; smaller openings heat less and need less */
  cooling: number
}

/** What a run plan is made from. */
export interface PlanChoice {
  purpose: Purpose
  order: Order
  kinds: PlannedKind[]
  service: Service
  fromRpm: number
  toRpm: number
  gear: number | null
  /** minutes; null when nobody is waiting */
  minutesAtHand: number | null
  pace: Pace
}

/** Usual figures (common practice: warm to temperature, half a minute a sweep, a stop to cool after it). */
export const DEFAULT_PACE: Pace = { warmUp: 8, sweep: 0.5, hold: 0.5, rollOn: 0.4, cooling: 1.5 }

export const DEFAULT_PLAN: PlanChoice = {
  purpose: 'mixture',
  order: 'small openings first',
  kinds: ['sweep'],
  service: 'middle tune',
  fromRpm: 2000,
  toRpm: 9000,
  gear: null,
  minutesAtHand: null,
  pace: DEFAULT_PACE,
}

/** A choice that goes no further than the rev ceiling of the machine. */
export function underCeiling(choice: PlanChoice, ceiling: number | null | undefined): PlanChoice {
  if (ceiling == null || choice.toRpm <= ceiling) return choice
  return { ...choice, toRpm: ceiling, fromRpm: Math.min(choice.fromRpm, Math.max(300, ceiling - LEAST_SPAN)) }
}
/** rpm between the ends of a plan, at the least. */
const LEAST_SPAN = 500

/** What of a run's facts, or of a sweep's, tells its span. */
type SweepSpan = Pick<RunFacts, 'stop' | 'fromRpm' | 'toRpm'>

/** A choice whose rpm span is that of the runs there are; as it is when there are none. */
export function planFor(
  choice: PlanChoice,
  runs: readonly { facts: (SweepSpan & Pick<RunFacts, 'sweeps'>) | null }[],
): PlanChoice {
  const spans = runs
    .flatMap(({ facts }): SweepSpan[] => (facts?.sweeps?.length ? facts.sweeps : facts ? [facts] : []))
    .filter((one) => one.stop !== null)
  if (spans.length === 0) return choice
  const hundreds = (rpm: number, round: (x: number) => number): number => round(rpm / 100) * 100
  const fromRpm = hundreds(Math.min(...spans.map((one) => one.fromRpm)), Math.ceil)
  const toRpm = hundreds(Math.max(...spans.map((one) => one.toRpm)), Math.floor)
  return toRpm >= fromRpm + 500 ? { ...choice, fromRpm, toRpm } : choice
}
