import { roundsAt } from './byRound'
import type { RunColumns } from './run'
import type { Rows } from './pulls'
import { isSameStop, stopOf } from './stopOf'
import { partsOfRide, sweepsOfLog } from './sweepsOfLog'

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
  const spans = run.handRange ? [] : sweepsOfLog(run)
  const parts = spans.length
    ? spans.map((span, k) => ({ run: part(run, k + 1, span), stop: span.stop }))
    : [{ run, stop: null }]
  cut.set(run, parts)
  return parts
}

/** By run, whose columns never change. */
const pulled = new WeakMap<RunColumns, Part[]>()

/** Long sweeps of a ride, which is a log that is not cut into sweeps. */
function pullsIn(run: RunColumns): Part[] {
  const known = pulled.get(run)
  if (known) return known
  const rides = run.handRange ? [] : partsOfRide(run).filter((one) => one.kind === 'sweep')
  const parts = rides.map(({ rows }, k): Part => ({
    run: part(run, k + 1, rows),
    stop: stopOf([...run.throttle!.subarray(rows.from, rows.to)]),
  }))
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
  const parts = partsOf(run)
  if (parts[0]!.run !== run) return parts
  const pulls = pullsIn(run)
  return pulls.length ? pulls : parts
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
