import { isSameStop } from '../run/stopOf'
import type { RunFacts } from '../run/facts'
import type { SparkPlanChoice } from './choice'
import type { Recheck } from './coupling'
import { advanceOf, type SettingRun } from './setting'

/** One run of a spark plan. */
export interface SparkPlanStep {
  key: string
  kind: 'spark step' | 'sweep'
  /** % of plate */
  stop: number
  /** held speed for both, or the span of a sweep */
  fromRpm: number
  toRpm: number
  /** degrees over the present advance, in the order in which they are run; one of them for a sweep */
  offsets: number[]
  repeats: number
  /** asked for because the mixture moved: only runs made since then count; null for a step of the plan */
  since: string | null
}

export interface SparkPlan {
  steps: SparkPlanStep[]
  runs: number
  /** on the rig, pauses for cooling counted */
  minutes: number
}

/** What stops the stepping at a point, whoever turns the knob (common practice). */
export const STOP_RULES: readonly string[] = [
  'Knock: at the first sign go back, and try nothing further at that stop and speed or at more throttle.',
  'Torque falling with more advance: best is behind; nothing further at that point.',
  'Temperature over its limit, or torque of the first setting not found again: let it cool, measure again.',
  'Never two steps at once, and never further than one step beyond what was run without knock.',
]

/**
 * Settings in their safe order, degrees from the present one: the present one, then from the least advance upward, and the present
 * one again at the end.
 *
 * @example
 * safeOffsets({ step: 2, below: 1, above: 2 }) // [0, -2, 2, 4, 0]
 */
export function safeOffsets({ step, below, above }: Pick<SparkPlanChoice, 'step' | 'below' | 'above'>): number[] {
  const all = Array.from({ length: below + above + 1 }, (_, k) => (k - below) * step)
  return [0, ...all.filter((offset) => offset !== 0), 0]
}

/** min to come to a point and settle, and to cool after it wide open. */
const SETTLES = 0.3
const COOLS = 1.5
const SWEEP = 0.5

/**
 * The plan of spark steps in its safe order: least throttle first, then rising speed, so that knock is met where it is
 * mildest. What has to be checked again because the mixture moved comes first.
 *
 * @param mostRpm that may be asked for
 */
export function sparkPlan(asked: SparkPlanChoice, again: readonly Recheck[] = [], mostRpm = Infinity): SparkPlan {
  const choice = { ...asked, rpm: asked.rpm.filter((rpm) => rpm <= mostRpm) }
  const stops = [...new Set(choice.stops)].sort((a, b) => a - b)
  const speeds = [...new Set(choice.rpm)].sort((a, b) => a - b)
  const offsets = safeOffsets(choice)
  const recheck = again
    .filter((one) => one.what === 'spark')
    .map(({ stop, fromRpm, since }): SparkPlanStep => ({
      key: `again ${stop} ${fromRpm}`,
      kind: 'spark step',
      stop,
      fromRpm,
      toRpm: fromRpm,
      offsets: safeOffsets({ step: choice.step, below: 1, above: 1 }),
      repeats: 2,
      since,
    }))
  const planned = stops.flatMap((stop): SparkPlanStep[] =>
    choice.way === 'steps'
      ? speeds.map((rpm) => ({
          key: `steps ${stop} ${rpm}`,
          kind: 'spark step',
          stop,
          fromRpm: rpm,
          toRpm: rpm,
          offsets,
          repeats: choice.repeats,
          since: null,
        }))
      : // The present setting is swept first and last; one entry tells how often in all.
        [...new Set(offsets)].map((offset) => ({
          key: `sweep ${stop} ${offset}`,
          kind: 'sweep',
          stop,
          fromRpm: speeds[0]!,
          toRpm: speeds.at(-1)!,
          offsets: [offset],
          repeats: choice.repeats + (offset === 0 ? 1 : 0),
          since: null,
        })),
  )
  const steps = [...recheck, ...planned]
  const minutesOf = ({ kind, stop, offsets: settings }: SparkPlanStep): number =>
    (kind === 'sweep' ? SWEEP : SETTLES + (settings.length * choice.seconds) / 60) + COOLS * (stop / 100)
  return {
    steps,
    runs: steps.reduce((sum, one) => sum + one.repeats, 0),
    minutes: Math.round(steps.reduce((sum, one) => sum + one.repeats * minutesOf(one), 0)),
  }
}

/** rpm and degrees within which a run was made at a planned place. */
const SAME = { rpm: 300, advance: 0.6 }

/** How often each step was run. @param present advance (of sweeps) or setting that is in use now; null for the first run's */
export function tickSparkPlan(
  steps: readonly SparkPlanStep[],
  runs: readonly Omit<SettingRun, 'id'>[],
  present: number | null,
): Map<string, number> {
  const sweeps = runs.filter((run) => run.kind === 'sweep' && advanceOf(run) !== null)
  return new Map(
    steps.map((step) => {
      const near = (facts: RunFacts | null): boolean =>
        facts !== null && facts.stop !== null && isSameStop(facts.stop, step.stop)
      const here = sweeps.filter((run) => near(run.facts))
      const base = present ?? (here[0] ? advanceOf(here[0]) : null)
      const done =
        step.kind === 'sweep'
          ? here.filter((run) => base !== null && Math.abs(advanceOf(run)! - base - step.offsets[0]!) <= SAME.advance)
          : runs.filter(
              (run) =>
                run.kind === 'spark step' &&
                !(step.since !== null && run.createdAt < step.since) &&
                near(run.facts) &&
                Math.abs(run.facts!.fromRpm - step.fromRpm) <= SAME.rpm,
            )
      return [step.key, done.length]
    }),
  )
}
