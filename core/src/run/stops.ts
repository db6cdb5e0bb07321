import { isSameStop } from './stopOf'
import type { RunKind } from './runKind'
import { sweepsOfRun, type RunFacts } from './facts'

/** Sweeps made at one throttle stop. */
export interface Stop<Run> {
  /** %; null for runs without a throttle column */
  stop: number | null
  /** that hold one of them or more */
  runs: Run[]
  /** how many there are in all: a log may hold several */
  sweeps: number
}

/**
 * Groups sweeps by throttle stop, widest open first; runs without a throttle come last.
 *
 * @param partsOf what of a run counts as a sweep: those inside a log, or rounds of readings by hand, too
 */
export function stopsOf<Run extends { kind: RunKind; facts: RunFacts | null }>(
  runs: readonly Run[],
  partsOf = sweepsOfRun,
): Stop<Run>[] {
  const made = runs.flatMap((run) =>
    (run.facts ? partsOf(run.kind, run.facts) : [run]).flatMap(({ kind, facts }) =>
      kind === 'sweep' ? [{ run, stop: facts?.stop ?? null }] : [],
    ),
  )
  const known = made.flatMap(({ run, stop }) => (stop === null ? [] : [{ run, stop }])).sort((a, b) => b.stop - a.stop)
  const groups: (typeof known)[] = []
  let last = Infinity
  for (const one of known) {
    if (!isSameStop(last, one.stop)) groups.push([])
    groups.at(-1)!.push(one)
    last = one.stop
  }
  const inOrder = (group: readonly { run: Run }[]): Run[] => runs.filter((run) => group.some((one) => one.run === run))
  const stops: Stop<Run>[] = groups.map((group) => ({
    stop: Math.round(group.reduce((sum, one) => sum + one.stop, 0) / group.length),
    runs: inOrder(group),
    sweeps: group.length,
  }))
  const blind = made.filter((one) => one.stop === null)
  return blind.length ? [...stops, { stop: null, runs: inOrder(blind), sweeps: blind.length }] : stops
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
