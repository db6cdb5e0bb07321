import { roundsAt } from './byRound'
import type { RunColumns } from './run'
import { isWithout } from './leftOutByTime'
import { madeSpans } from './madeSpans'
import { pullsOf, type Rows } from './pulls'
import { isSameStop, stopOf } from './stopOf'
import { sweepSpans, type SweepSpan } from './sweepSpans'

/** One sweep of a log, and the stop it was made at. */
interface Part {
  run: RunColumns
  stop: number | null
}

/** By run, whose columns never change. */
const cut = new WeakMap<RunColumns, Part[]>()

function partsOf(run: RunColumns): Part[] {
  const known = cut.get(run)
  if (known) return known
  const spans = run.handRange ? [] : spansOf(run)
  const parts = spans.length
    ? spans.map((span, k) => ({ run: part(run, k + 1, span), stop: span.stop }))
    : [{ run, stop: null }]
  cut.set(run, parts)
  return parts
}

/** Sweeps of a log: those that somebody made of it, else those that its columns show; none of them left out by time. */
function spansOf({ time, rpm, throttle, stretches, without }: RunColumns): SweepSpan[] {
  const found = stretches ? madeSpans(time, rpm, stretches, throttle) : sweepSpans(time, rpm, throttle)
  if (!without?.length) return found
  const middle = ({ from, to }: SweepSpan): number => (time[from]! + time[to - 1]!) / 2
  return found.filter((span) => !isWithout(without, middle(span)))
}

/** By run, whose columns never change. */
const pulled = new WeakMap<RunColumns, Part[]>()

/** Long sweeps of a ride, which is a log that is not cut into sweeps. */
function pullsIn(run: RunColumns): Part[] {
  const known = pulled.get(run)
  if (known) return known
  const { time, rpm, throttle, without = [] } = run
  const rows = throttle && !run.handRange && run.isRide ? pullsOf(time, rpm, throttle) : []
  const parts = rows.flatMap(({ from, to }, k): Part[] => {
    const stop = stopOf([...throttle!.subarray(from, to)])
    if (isWithout(without, (time[from]! + time[to - 1]!) / 2)) return []
    return [{ run: part(run, k + 1, { from, to }), stop }]
  })
  pulled.set(run, parts)
  return parts
}

/**
 * The sweeps of a log, each as a run of its own; the log itself where it holds one or none. No column is copied. Their ids
 * are the log's with a number, see `sweepOf`.
 *
 * @example
 * const [first, second] = bySweep(log)
 */
export const bySweep = (run: RunColumns): RunColumns[] => partsOf(run).map((one) => one.run)

/** What of a log a curve is told from: its sweeps, the long ones of a ride, or all of it. */
function curvesOf(run: RunColumns): Part[] {
  const pulls = pullsIn(run)
  return pulls.length ? pulls : partsOf(run)
}

/**
 * Of those the ones that were made at a stop; a log that holds one or none is taken as it is, readings by hand round by round.
 *
 * @param stop %; null for all
 */
export const sweepsAt = (run: RunColumns, stop: number | null): RunColumns[] =>
  run.handRange
    ? roundsAt(run, stop)
    : curvesOf(run)
        .filter((one) => stop === null || one.stop === null || isSameStop(one.stop, stop))
        .map((one) => one.run)

/**
 * Which run a sweep is of, and which of its sweeps, from 1; null for the run as a whole.
 *
 * @example
 * sweepOf('a1#2') // { run: 'a1', sweep: 2 }
 */
export function sweepOf(id: string): { run: string; sweep: number | null } {
  const [run, sweep] = id.split('#') as [string, string | undefined]
  return { run, sweep: sweep === undefined ? null : Number(sweep) }
}

/** What a sweep is called, by the name of its run. */
export function sweepName(name: string, id: string): string {
  const { sweep } = sweepOf(id)
  return sweep === null ? name : `${name}, sweep ${sweep}`
}

function part(run: RunColumns, number: number, { from, to }: Rows): RunColumns {
  const of = (column: Float32Array): Float32Array => column.subarray(from, to)
  const columns = Object.entries(run).map(([name, value]: [string, unknown]) => [
    name,
    value instanceof Float32Array ? of(value) : value,
  ])
  return {
    ...(Object.fromEntries(columns) as RunColumns),
    lambda: run.lambda.map(of),
    id: `${run.id}#${number}`,
  }
}
