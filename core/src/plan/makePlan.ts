import type { Service, Pace, PlanChoice, PlannedKind, Purpose } from './choice'
import { reachOf } from './reach'

/** One line of a plan: the same run a number of times. */
export interface PlanStep {
  /** unique in its plan */
  key: string
  kind: PlannedKind
  /** throttle, %; for a roll-on the opening it goes to */
  stop: number
  /** rpm span of a sweep; from equals to for a hold; a roll-on starts at `fromRpm` */
  fromRpm: number
  toRpm: number
  gear: number | null
  repeats: number
  /** running, each; and standing still after it */
  minutesEach: number
  pauseEach: number
  /** all repeats with their pauses */
  minutes: number
}

export interface Plan {
  warmUpMinutes: number
  steps: PlanStep[]
  /** all in all */
  minutes: number
  /** minutes beyond those at hand; null when it fits or nobody asked */
  overBy: number | null
}

/** Stops in %, by purpose and level of service (common practice: 5, 10, 20, 40, 60, 80 % and wide open for the whole of it). */
const STOPS: Record<Purpose, Record<Service, readonly number[]>> = {
  mixture: {
    'base map check': [20, 100],
    'middle tune': [10, 20, 40, 80, 100],
    'full work': [5, 10, 20, 30, 40, 60, 80, 100],
  },
  comparison: { 'base map check': [100], 'middle tune': [40, 100], 'full work': [20, 40, 60, 100] },
  check: { 'base map check': [20, 100], 'middle tune': [20, 60, 100], 'full work': [10, 20, 40, 60, 100] },
}
/** Three for a trend, about six for a comparison (common practice). */
const TREND = 3
const COMPARISON = 6
const HOLDS: Record<Service, { stops: readonly number[]; places: readonly number[] }> = {
  'base map check': { stops: [20], places: [0.4] },
  'middle tune': { stops: [10, 20], places: [0.3, 0.5] },
  'full work': { stops: [10, 20, 40], places: [0.25, 0.4, 0.6] },
}
const ROLL_ONS: Record<Service, { stops: readonly number[]; places: readonly number[] }> = {
  'base map check': { stops: [100], places: [0.35] },
  'middle tune': { stops: [100], places: [0.25, 0.5] },
  'full work': { stops: [40, 100], places: [0.25, 0.4, 0.55] },
}
const ROLL_ON_REPEATS = 2
const LEAST_PAUSE = 0.2

/**
 * Makes the run plan of a choice: warm-up, sweeps, holds, roll-ons. Within each kind, stops follow the order that was chosen.
 *
 * @param middleFirst whether a middle opening is swept before all others, because the mixture is not known yet
 * @returns steps with minutes each and in all; `overBy` is how many minutes it is too long for the time at hand
 *
 * @example
 * makePlan(DEFAULT_PLAN).steps.length // 5
 */
export function makePlan(choice: PlanChoice, middleFirst = false): Plan {
  const inOrder = (stops: readonly number[]): number[] =>
    [...stops].sort((a, b) => (choice.order === 'wide open first' ? b - a : a - b))
  const { purpose, service, kinds } = choice
  const repeats = purpose === 'comparison' && service !== 'base map check' ? COMPARISON : TREND
  const steps: PlanStep[] = []
  if (kinds.includes('sweep'))
    for (const stop of middleFirst
      ? withMiddleFirst(inOrder(STOPS[purpose][service]))
      : inOrder(STOPS[purpose][service]))
      steps.push(step(choice, 'sweep', stop, choice.fromRpm, reachOf(stop, choice), repeats))
  if (kinds.includes('hold'))
    for (const stop of inOrder(HOLDS[service].stops))
      for (const place of HOLDS[service].places) {
        const rpm = rpmAt(choice, place)
        if (rpm <= reachOf(stop, choice)) steps.push(step(choice, 'hold', stop, rpm, rpm, 1))
      }
  if (kinds.includes('roll-on'))
    for (const stop of inOrder(ROLL_ONS[service].stops))
      for (const place of ROLL_ONS[service].places)
        steps.push(step(choice, 'roll-on', stop, rpmAt(choice, place), choice.toRpm, ROLL_ON_REPEATS))
  return planOf(choice, steps)
}

/** % of plate that is run first while the mixture is not known. It is load enough to read by, and too little to hurt (common practice). */
const MIDDLE = 40

/** The stop nearest to the middle, then the others as they are. */
function withMiddleFirst(stops: readonly number[]): number[] {
  const middle = [...stops].sort((a, b) => Math.abs(a - MIDDLE) - Math.abs(b - MIDDLE))[0]!
  return [middle, ...stops.filter((one) => one !== middle)]
}

function planOf({ pace, minutesAtHand }: PlanChoice, steps: PlanStep[]): Plan {
  const minutes = round(steps.reduce((sum, one) => sum + one.minutes, pace.warmUp))
  const over = minutesAtHand === null ? 0 : round(minutes - minutesAtHand)
  return { warmUpMinutes: pace.warmUp, steps, minutes, overBy: over > 0 ? over : null }
}

const round = (minutes: number): number => Math.round(10 * minutes) / 10

function rpmAt({ fromRpm, toRpm }: PlanChoice, place: number): number {
  return Math.round((fromRpm + place * (toRpm - fromRpm)) / 250) * 250
}

const RUNNING: Record<PlannedKind, keyof Pace> = { sweep: 'sweep', hold: 'hold', 'roll-on': 'rollOn' }

/** Minutes of one run and of the stop to cool after it. */
export function runMinutes(kind: PlannedKind, stop: number, pace: Pace): { run: number; pause: number } {
  return { run: pace[RUNNING[kind]], pause: Math.max(LEAST_PAUSE, (pace.cooling * stop) / 100) }
}

function step(
  choice: PlanChoice,
  kind: PlannedKind,
  stop: number,
  fromRpm: number,
  toRpm: number,
  repeats: number,
): PlanStep {
  const { run, pause } = runMinutes(kind, stop, choice.pace)
  return {
    key: `${kind} ${stop}${kind === 'sweep' ? '' : ` ${fromRpm}`}`,
    kind,
    stop,
    fromRpm,
    toRpm,
    gear: choice.gear,
    repeats,
    minutesEach: run,
    pauseEach: pause,
    minutes: round(repeats * (run + pause)),
  }
}

/** What was taken out of a plan to make it fit. */
export interface Cut {
  plan: Plan
  /** keys of steps that went, and of those that are run less often */
  dropped: string[]
  fewer: string[]
}

/**
 * Cuts a plan to the time at hand. What tells least goes first: roll-ons and holds, then openings, then repeats down to two. The
 * openings that tell most stay longest: wide open, then about 20, 40 and 10 %.
 *
 * @returns the plan as it is when it fits. What is left may still be too long, when even one run is
 */
export function cutToTime(choice: PlanChoice, plan: Plan): Cut {
  const cut: Cut = { plan, dropped: [], fewer: [] }
  while (cut.plan.overBy !== null && cut.plan.steps.length > 0) {
    const { steps } = cut.plan
    const repeated = steps.filter((one) => one.kind === 'sweep' && one.repeats > TREND)
    const least = [...steps].sort((a, b) => worth(a) - worth(b))[0]!
    if (repeated.length) cut.plan = planOf(choice, lessOften(steps, repeated, cut))
    else if (steps.length > 1) {
      cut.dropped.push(least.key)
      cut.plan = planOf(
        choice,
        steps.filter((one) => one !== least),
      )
    } else if (least.repeats > 1) cut.plan = planOf(choice, lessOften(steps, [least], cut))
    else break
  }
  return cut
}

function lessOften(steps: readonly PlanStep[], which: readonly PlanStep[], cut: Cut): PlanStep[] {
  return steps.map((one) => {
    if (!which.includes(one)) return one
    if (!cut.fewer.includes(one.key)) cut.fewer.push(one.key)
    const repeats = one.repeats - 1
    return { ...one, repeats, minutes: round(repeats * (one.minutesEach + one.pauseEach)) }
  })
}

const TELLING = [100, 20, 40, 10, 80, 60, 30, 5]

function worth({ kind, stop }: PlanStep): number {
  const place = TELLING.indexOf(stop)
  const telling = TELLING.length - (place < 0 ? TELLING.length : place)
  return kind === 'sweep' ? 200 + telling : kind === 'hold' ? 100 + telling : telling
}
