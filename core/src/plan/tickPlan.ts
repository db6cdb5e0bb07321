import { isSameStop } from '../run/stopOf'
import { grouped } from '../numbers/format'
import type { RunKind } from '../run/runKind'
import type { RunFacts } from '../run/facts'
import type { PlanStep } from './makePlan'

/** A run as far as a plan asks. */
export interface DoneRun {
  id: string
  kind: RunKind
  facts: RunFacts | null
  /** of its column, else of its set */
  gear: number | null
  /** why it tells too little to count; null when it tells enough */
  fault: string | null
}

/** What has been done of one step, told by the runs themselves. */
export interface StepTick {
  key: string
  /** runs that count, at most as many as were asked for */
  runs: string[]
  left: number
  /** runs that were meant for it but do not count, and why */
  almost: { run: string; why: string }[]
}

/** Share of a sweep's span that must have been run. */
const LEAST_COVERED = 0.8
/** rpm off a hold or a roll-on's start that still is that point, share. */
const NEAR_RPM = 0.08

/**
 * Ticks a plan off by what runs are: kind, throttle stop, rpm span, gear. Each run counts for one step only, the one whose
 * stop is nearest. Nothing is ticked by hand.
 *
 * @param runs in the order in which they were made; left-out ones must not be among them
 * @example
 * const ticks = tickPlan(makePlan(choice).steps, doneRuns(runs, sets, set))
 */
export function tickPlan(steps: readonly PlanStep[], runs: readonly DoneRun[]): StepTick[] {
  const ticks = new Map(
    steps.map((step) => [step.key, { key: step.key, runs: [], left: step.repeats, almost: [] } as StepTick]),
  )
  for (const run of runs) {
    const meant = steps
      .filter((step) => step.kind === run.kind && isNearStop(step, run) && isNearPoint(step, run))
      .sort((a, b) => Math.abs(a.stop - run.facts!.stop!) - Math.abs(b.stop - run.facts!.stop!))
    const good = meant.find((step) => shortfall(step, run) === null && ticks.get(step.key)!.left > 0)
    if (good) {
      const tick = ticks.get(good.key)!
      tick.runs.push(run.id)
      tick.left--
      continue
    }
    const why = meant[0] && shortfall(meant[0], run)
    if (why) ticks.get(meant[0]!.key)!.almost.push({ run: run.id, why })
  }
  return [...ticks.values()]
}

function isNearStop(step: PlanStep, { facts }: DoneRun): boolean {
  return facts !== null && facts.stop !== null && isSameStop(facts.stop, step.stop)
}

/** A hold is meant for the point it was held at; a roll-on for the speed it starts from. */
function isNearPoint(step: PlanStep, { facts }: DoneRun): boolean {
  if (step.kind === 'sweep') return true
  const at = step.kind === 'hold' ? (facts!.fromRpm + facts!.toRpm) / 2 : facts!.fromRpm
  return Math.abs(at - step.fromRpm) <= NEAR_RPM * step.fromRpm
}

function shortfall(step: PlanStep, { facts, gear, fault }: DoneRun): string | null {
  if (fault) return fault
  if (step.gear !== null && gear !== null && gear !== step.gear) return `gear ${gear}, planned ${step.gear}`
  if (step.kind !== 'sweep') return null
  // What counts is the speeds at which readings were settled, not those that were run through.
  const [fromRpm, toRpm] = [facts!.settledFromRpm ?? facts!.fromRpm, facts!.settledToRpm ?? facts!.toRpm]
  const covered = (Math.min(toRpm, step.toRpm) - Math.max(fromRpm, step.fromRpm)) / (step.toRpm - step.fromRpm)
  return covered >= LEAST_COVERED
    ? null
    : `settled from ${grouped(fromRpm)} to ${grouped(toRpm)} rpm, ${Math.max(0, Math.round(100 * covered))} % of the ${grouped(step.fromRpm)} to ${grouped(step.toRpm)} asked for`
}
