import type { RunKind } from './runKind'
import type { RunFacts } from './facts'

/** Sweeps made at one throttle stop. */
export interface Stop<Run> {
  /** %; null for runs without a throttle column */
  stop: number | null
  runs: Run[]
}

/** % of plate between two neighbours that belong to one stop, at least and in parts of the opening. */
const APART = { least: 1.5, share: 0.03 }

/** Groups sweeps by throttle stop, widest open first; runs without a throttle come last. */
export function stopsOf<Run extends { kind: RunKind; facts: RunFacts | null }>(runs: readonly Run[]): Stop<Run>[] {
  const sweeps = runs.filter((run) => run.kind === 'sweep')
  const known = sweeps
    .filter((run) => run.facts !== null && run.facts.stop !== null)
    .sort((a, b) => b.facts!.stop! - a.facts!.stop!)
  const groups: Run[][] = []
  let last = Infinity
  for (const run of known) {
    const stop = run.facts!.stop!
    if (last - stop > Math.max(APART.least, APART.share * stop)) groups.push([])
    groups.at(-1)!.push(run)
    last = stop
  }
  const order = new Map(runs.map((run, k) => [run, k]))
  const stops: Stop<Run>[] = groups.map((group) => ({
    stop: Math.round(group.reduce((sum, run) => sum + run.facts!.stop!, 0) / group.length),
    runs: [...group].sort((a, b) => order.get(a)! - order.get(b)!),
  }))
  const blind = sweeps.filter((run) => !known.includes(run))
  return blind.length ? [...stops, { stop: null, runs: blind }] : stops
}

/**
 * How a stop is called.
 *
 * @example
 * stopName(100) // 'wide open'
 */
export function stopName(stop: number | null): string {
  return stop === null ? 'throttle not logged' : stop >= 97 ? 'wide open' : `${stop} %`
}
