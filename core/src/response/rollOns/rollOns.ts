import type { RunColumns } from '../../run/run'
import { excursionOf, SETTLED, type Estimate, type Excursion } from './excursion'
import type { ThrottleOpening } from './openingsOf'
import { sensorTrace } from '../film/sensorTrace'
import type { SensorKnown } from '../film/sensorOf'
import { hesitationOf, torqueDelay, type Hesitation } from './torqueAfter'
import { STEP, type TracedOpening } from '../film/tracedOpening'
import { NINETY } from '../../numbers/ninety'

/** One opening of the throttle, and what mixture and torque did after it. */
export interface RollOn {
  run: string
  /** s of the run */
  atS: number
  rpm: number
  fromLoad: number
  toLoad: number
  ratePctS: number
  /** percent of lambda, leaner and richer than where it settles, each 0 or above, in the cylinder */
  leanPct: number
  richPct: number
  /** the sensor or the log is slower than what happened: the peaks are at least these */
  bounded: boolean
  /** percent times seconds, leaner above zero */
  areaPctS: number
  /** s from the first movement of the throttle until within 2 % for good; null where the log ends before */
  settleS: number | null
  /** the earliest and the latest of it that the readings allow (90 %); null with it */
  settleBetweenS: [earliest: number, latest: number] | null
  /** s from there to 90 % of the torque gained; null without torque or gain */
  torqueDelayS: number | null
  hesitation: Hesitation | null
}

/** An opening with its readings, what is made of them, and the excursion behind. */
export interface JudgedRollOn {
  rollOn: RollOn
  trace: TracedOpening
  excursion: Excursion
}

/** Share of a peak that the reading itself must show; below, most of it would be worked out. */
const LEAST_SHOWN = 0.5
/** Half width of a peak's interval, percent of lambda, beyond which it is a bound. */
const MOST_HALF = 1.7
/** s between readings beyond which an event fits between two. */
const MOST_INTERVAL = 0.15
/** s that must be seen after an opening. */
const LEAST_SEEN = 0.8

/**
 * What one opening did.
 *
 * @param starts where its fit begins, told by others like it
 */
export function judgeRollOn(
  run: RunColumns,
  trace: TracedOpening,
  sensor: SensorKnown,
  starts?: Parameters<typeof excursionOf>[2],
): JudgedRollOn {
  const { opening } = trace
  const excursion = excursionOf([trace], sensor, starts)
  const { lean, rich } = excursion
  const shown = shownPeaks(excursion, sensor)
  const doubt = 100 * NINETY * trace.doubt
  const seen = Math.min(opening.until, run.time[run.time.length - 1]!) - opening.opened
  const main = lean[0] >= rich[0] ? { peak: lean, shown: shown.lean } : { peak: rich, shown: shown.rich }
  const stirred = main.peak[0] > 100 * SETTLED
  const bounded =
    trace.pinned ||
    trace.interval > MOST_INTERVAL ||
    seen < LEAST_SEEN ||
    isInferred(main.peak, main.shown) ||
    (stirred && (main.peak[2] - main.peak[1]) / 2 > MOST_HALF)
  const [settle, earliest, latest] = excursion.settle
  const isSeen = !bounded || seen >= Math.max(LEAST_SEEN, settle)
  return {
    trace,
    excursion,
    rollOn: {
      ...placeOf(opening),
      leanPct: bounded ? Math.max(shown.lean - doubt, lean[1]) : lean[0],
      richPct: bounded ? Math.max(shown.rich - doubt, rich[1]) : rich[0],
      bounded,
      areaPctS: excursion.area,
      settleS: isSeen ? settle : null,
      settleBetweenS: isSeen ? [earliest, latest] : null,
      torqueDelayS: torqueDelay(run, opening),
      hesitation: hesitationOf(run, opening),
    },
  }
}

/** An opening of whose mixture nothing is said: out of an overrun fuel has to come back first, or none was logged. */
export function bareRollOn(run: RunColumns, opening: ThrottleOpening): RollOn {
  return {
    ...placeOf(opening),
    leanPct: 0,
    richPct: 0,
    bounded: true,
    areaPctS: 0,
    settleS: null,
    settleBetweenS: null,
    torqueDelayS: torqueDelay(run, opening),
    hesitation: null,
  }
}

function placeOf({ run, at, rpm, fromLoad, toLoad, rate }: ThrottleOpening) {
  return { run, atS: at, rpm, fromLoad, toLoad, ratePctS: rate }
}

/** Whether a peak is mostly worked out: quicker than the sensor, which itself shows less than half of it. */
export function isInferred(peak: Estimate, shown: number): boolean {
  return peak[0] > 100 * SETTLED && shown < LEAST_SHOWN * peak[0]
}

/** Peaks as the sensor itself follows them, percent: what is there at the least. */
export function shownPeaks({ curve }: Excursion, { likely }: SensorKnown): { lean: number; rich: number } {
  const tau = likely.reduce((sum, one) => sum + one.weight * one.tau, 0)
  const shown = sensorTrace(curve, tau, STEP)
  let [lean, rich] = [0, 0]
  for (const value of shown) {
    lean = Math.max(lean, value)
    rich = Math.max(rich, -value)
  }
  return { lean: 100 * lean, rich: 100 * rich }
}
