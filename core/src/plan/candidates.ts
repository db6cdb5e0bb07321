import { isSameStop } from '../run/stopOf'
import type { LoadGrid } from '../table/table'
import type { Pace } from './choice'
import type { MadeRun } from './madeRun'
import { runMinutes } from './makePlan'
import { reachLearnt } from './reach'
import type { Wanted } from './wanted'

/** A run that could be made. */
export interface NextRun extends MadeRun {
  minutes: number
}

/** Openings from which an engine is not braked down through its speeds: brake, tyre and engine get too hot (common practice). */
const NO_DOWN_SWEEP = 50
/** rpm that a sweep spans at the least. */
const LEAST_SPAN = 250
/** Rows below this throttle are idle and overrun. */
const IDLE = 3
/** Stops asked for where the table does not name any, %. */
const STOPS = [5, 10, 15, 20, 30, 40, 60, 80, 100]

/** Stops that runs are asked for at: rows of a table by throttle, else the usual ones. */
export function stopsOf(grid: LoadGrid, [from, to]: Wanted['load']): number[] {
  const stops = grid.loadAxis === 'throttle' ? grid.load.filter((one) => one >= from && one <= to) : STOPS
  const above = stops.filter((one) => one >= IDLE)
  return above.length ? above : [to]
}

/** Sweeps up and down at every stop of the range, and holds over it. @param made runs there are: they teach how far an opening reaches */
export function candidates(
  grid: LoadGrid,
  { rpm, load }: Wanted,
  pace: Pace,
  made: readonly MadeRun[] = [],
): NextRun[] {
  const span = { fromRpm: rpm[0], toRpm: rpm[1] }
  const minutes = (kind: 'sweep' | 'hold', stop: number): number => {
    const { run, pause } = runMinutes(kind, stop, pace)
    return run + pause
  }
  return stopsOf(grid, load).flatMap((stop) => {
    const top = Math.max(span.fromRpm + LEAST_SPAN, reachLearnt(stop, span, made))
    const run = (kind: NextRun['kind'], fromRpm: number, toRpm: number): NextRun => ({
      kind,
      load: stop,
      fromRpm: Math.round(fromRpm),
      toRpm: Math.round(toRpm),
      minutes: minutes(kind, stop),
    })
    const holds = [0.03, 0.2, 0.4, 0.6, 0.8, 0.97].map((share) => span.fromRpm + share * (top - span.fromRpm))
    return [
      run('sweep', span.fromRpm, top),
      ...(stop < NO_DOWN_SWEEP ? [run('sweep', top, span.fromRpm)] : []),
      ...holds.map((one) => Math.round(one / 50) * 50).map((one) => run('hold', one, one)),
    ]
  })
}

/** rpm within which holds count as the same. */
const SAME_HOLD = 400

/** How often a run like it was made: one that told less than was hoped is not asked for over and over. */
export function timesMade(made: readonly MadeRun[], run: NextRun): number {
  return made.filter(
    (one) =>
      one.kind === run.kind &&
      isSameStop(one.load, run.load) &&
      // A hold wanders about its speed: it goes no way.
      (run.kind === 'hold'
        ? Math.abs(one.fromRpm - run.fromRpm) <= SAME_HOLD
        : Math.sign(one.toRpm - one.fromRpm) === Math.sign(run.toRpm - run.fromRpm)),
  ).length
}
