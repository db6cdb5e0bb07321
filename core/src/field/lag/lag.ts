import type { Filters, RunColumns } from '../../run/run'
import type { Grid, LoadAxis } from '../../table/table'
import { grouped } from '../../numbers/format'
import { lagAtFlow, type FlowLag } from '../../run/flowLag'
import { findOpenings } from '../../run/openings'
import { lagByFlow, type LagByFlow } from './lagByFlow'
import { fromChops, fromOpenings, fromScatter, LEAST_ERROR, type LagSource } from './lagSources'

/** The lag, how it was found and how sharply. */
export interface LagEstimate {
  /** s */
  lag: number
  /** Standard error, s; null when nothing determines the lag */
  error: number | null
  from: 'fixed' | 'estimated' | 'assumed'
  /** What to do when it is not determined, or what it rests on; for people. */
  note: string
  /** what each kind of evidence says, and whether they disagree by more than their errors */
  sources: LagSource[]
  disagree: boolean
  /** where the data tell that it falls with flow; `lag` is then that of a usual flow */
  byFlow: FlowLag | null
}

/** The lag as readings are shifted by it. */
export function appliedLag({ lag, byFlow }: LagEstimate): number | FlowLag {
  return byFlow ?? lag
}

/** Taken when nothing in the data tells: common practice for a sensor in the header. */
const ASSUMED_LAG = 0.15
/** Two kinds of evidence disagree beyond this many errors and this much more, s. */
const APART = { errors: 3, more: 0.03 }
/** Share of a disagreement that stays as doubt. */
const DOUBT_LEFT = 0.15

/**
 * Estimates one constant lag for these runs from throttle chops, from the spikes after quick openings, and from the
 * scatter that a wrong lag leaves between sweeps of different rates and directions, weighed by their errors.
 *
 * Fuel may be cut late after a chop, never early: chops that say more than openings do are set aside, and said so. A flat
 * field has little scatter to go by, so where sweeps alone lie apart from the rest they are. Equal sweeps in one direction
 * say nothing: a wrong lag just shifts the whole field in rpm. The note then names the run that would settle it.
 */
export function estimateLag(
  grid: Grid,
  runs: readonly RunColumns[],
  loadAxis: LoadAxis,
  filters: Filters,
): LagEstimate {
  return lagOfPasses(grid, [runs], loadAxis, filters)
}

/**
 * The same from several passes on one machine: chops and openings of all count, scatter only within a pass, for fuel that was
 * corrected between them scatters, too.
 */
export function lagOfPasses(
  grid: Grid,
  passes: readonly (readonly RunColumns[])[],
  loadAxis: LoadAxis,
  filters: Filters,
): LagEstimate {
  const runs = passes.flat()
  const openings = runs.flatMap(findOpenings)
  const scatter = passes.flatMap((pass) => fromScatter(grid, pass, loadAxis, filters) ?? [])
  const sources = [fromChops(runs), fromOpenings(openings), together(scatter)].filter(
    (one): one is LagSource => one !== null,
  )
  const byFlow = lagByFlow(openings, runs)
  if (byFlow) return fallingLag(byFlow, sources)
  return sources.length ? weighed(sources) : assumed()
}

/** The lag where openings tell that it falls with flow; what one constant would be from other evidence stays to be seen. */
function fallingLag({ lag, error, count, usualFlow }: LagByFlow, sources: readonly LagSource[]): LagEstimate {
  const usual = lagAtFlow(lag, usualFlow)
  return {
    lag: usual,
    error,
    from: 'estimated',
    note: `From ${count} throttle openings: it falls with flow, ${ms(lag.base)} and ${grouped(Math.round(lag.perFlow))} s over rpm x % of opening; ${ms(usual)} at the flow of most.`,
    sources: [...sources],
    disagree: false,
    byFlow: lag,
  }
}

function assumed(): LagEstimate {
  return {
    lag: ASSUMED_LAG,
    error: null,
    from: 'assumed',
    note: `Nothing in these runs determines the lag; ${ms(ASSUMED_LAG)} is assumed. A sweep ended by shutting the throttle, a down-sweep or a slower sweep would settle it.`,
    sources: [],
    disagree: false,
    byFlow: null,
  }
}

/**
 * The lag that some sources tell together.
 *
 * @param sources in order of trust where two disagree otherwise
 */
export function weighed(sources: readonly LagSource[]): LagEstimate {
  const [chops, ...others] = sources
  const isLate =
    chops?.what === 'throttle chops' &&
    others.some((one) => one.what === 'throttle openings' && chops.lag > one.lag && areApart(chops, one))
  const trusted = isLate ? others : sources
  const kept = trusted.filter((one) => !areApart(one, trusted[0]!))
  const left = sources.filter((one) => !kept.includes(one))
  const weights = kept.map((one) => 1 / one.error ** 2)
  const total = weights.reduce((sum, one) => sum + one, 0)
  const lag = kept.reduce((sum, one, k) => sum + one.lag * weights[k]!, 0) / total
  const gap = Math.max(0, ...left.map((one) => Math.abs(one.lag - lag)))
  return {
    lag,
    error: Math.hypot(Math.max(LEAST_ERROR, 1 / Math.sqrt(total)), DOUBT_LEFT * gap),
    from: 'estimated',
    note: [
      `From ${kept.map((one) => said(one, kept.length > 1)).join(' and ')}`,
      ...left.map((one) =>
        one === chops && isLate
          ? `; ${said(one, true)} come later: fuel seems to be cut late`
          : `; ${said(one, false)} would say ${ms(one.lag)}`,
      ),
      '.',
    ].join(''),
    sources: [...sources],
    disagree: left.length > 0,
    byFlow: null,
  }
}

function areApart(one: LagSource, other: LagSource): boolean {
  return Math.abs(one.lag - other.lag) > APART.errors * Math.hypot(one.error, other.error) + APART.more
}

/** What several passes tell by one kind of evidence, weighed by their errors; null of none. */
function together(sources: readonly LagSource[]): LagSource | null {
  const [first] = sources
  if (!first || sources.length === 1) return first ?? null
  const weights = sources.map((one) => 1 / one.error ** 2)
  const total = weights.reduce((sum, one) => sum + one, 0)
  const lag = sources.reduce((sum, one, k) => sum + (one.lag * weights[k]!) / total, 0)
  return { ...first, lag, error: Math.max(1.5 * LEAST_ERROR, 1 / Math.sqrt(total)) }
}

const ms = (seconds: number): string => `${Math.round(seconds * 1000)} ms`

function said({ what, count, lag }: LagSource, withLag: boolean): string {
  const events =
    count === null ? 'the scatter of the sweeps' : `${count} ${count === 1 ? what.replace(/s$/, '') : what}`
  return withLag ? `${events} (${ms(lag)})` : events
}

/** A lag set by hand, s. */
export function fixedLag(lag: number): LagEstimate {
  return { lag, error: null, from: 'fixed', note: 'Fixed by hand.', sources: [], disagree: false, byFlow: null }
}
