import type { NextOfJob, PlannedRollOn, PlanStep, RunScript, SparkPlanStep } from '@yuzumix/core'

/** s that a hold, and a roll-on, last. */
const HOLD = 8
const ROLL_ON = 5
/** % of plate from which a roll-on starts. */
const ROLL_ON_FROM = 12

/** The script that makes a run of a plan's step. */
export function scriptOf(step: PlanStep, gear: number, rate: number): RunScript {
  const at = { gear: step.gear ?? gear, stop: step.stop }
  if (step.kind === 'hold') return { kind: 'hold', rpm: step.fromRpm, seconds: HOLD, ...at }
  if (step.kind === 'roll-on')
    return { kind: 'roll-on', fromRpm: step.fromRpm, fromStop: ROLL_ON_FROM, seconds: ROLL_ON, ...at }
  return { kind: 'sweep', fromRpm: step.fromRpm, toRpm: step.toRpm, rate, ...at }
}

/** The script that makes the run that would take most doubt away. */
export function scriptOfNext(next: NonNullable<NextOfJob['next']>, gear: number, rate: number): RunScript {
  const { kind, load: stop, fromRpm, toRpm } = next
  return kind === 'hold'
    ? { kind, rpm: fromRpm, seconds: HOLD, gear, stop }
    : { kind, fromRpm, toRpm, rate, gear, stop }
}

/** s for which the throttle stays open in a roll-on whose answer is looked at. */
const SEEN = 3

/** The script that makes a roll-on of the response plan. */
export function rollOnScriptOf({ rpm, fromLoad, toLoad }: PlannedRollOn, gear: number): RunScript {
  return { kind: 'roll-on', fromRpm: rpm, fromStop: fromLoad, stop: toLoad, seconds: SEEN, gear }
}

/** The script that makes a run of a spark plan's step. @param seconds at each setting */
export function sparkScriptOf(step: SparkPlanStep, gear: number, rate: number, seconds: number): RunScript {
  const { stop, fromRpm, toRpm, offsets } = step
  return step.kind === 'sweep'
    ? { kind: 'sweep', stop, fromRpm, toRpm, rate, gear, sparkOffset: offsets[0]! }
    : { kind: 'spark step', stop, rpm: fromRpm, offsets, seconds, gear }
}
