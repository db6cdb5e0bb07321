import { findChops, fitResponse } from '../run/chops'
import type { Filters, RunColumns } from '../run/run'
import type { Grid, LoadAxis } from '../table/table'
import { MAD_TO_SIGMA } from '../numbers/medianAbsolute'
import { place } from './placement'
import { median } from '../numbers/median'
import { gatherSamples, keepSamples, type Samples } from './samples'
import { solveField } from './solve'

/** The lag, how it was found and how sharply. */
export interface LagEstimate {
  /** s */
  lag: number
  /** Standard error, s; null when nothing determines the lag */
  error: number | null
  from: 'fixed' | 'throttle chops' | 'scatter of sweeps' | 'throttle chops and scatter' | 'assumed'
  /** What to do when it is not determined, or what it rests on; for people. */
  note: string
}

/** Taken when nothing in the data tells: common practice for a sensor in the header. */
const ASSUMED_LAG = 0.15
const LONGEST = 0.6
const STEP = 0.03
/** Samples that the scatter search uses at most; it solves once per trial lag. */
const MOST_SAMPLES = 12000
/** No estimate is trusted beyond this, s. */
const LEAST_ERROR = 0.01
/** The scatter at the far ends must exceed the least by this share to say anything. */
const LEAST_CONTRAST = 0.03
/** s of sensor response that an end stop hides, half the usual (common practice: 50 ms or less). */
const HIDDEN_RESPONSE = 0.02
/** Chops that the response is fitted through; more add nothing but time. */
const MOST_CHOPS = 40

/**
 * Estimates one constant lag for these runs from throttle chops and from the scatter that a wrong lag leaves between
 * sweeps of different rates and directions, weighed by their errors.
 *
 * Equal sweeps in one direction say nothing: a wrong lag just shifts the whole field in rpm. The note then names the run
 * that would settle it.
 */
export function estimateLag(
  grid: Grid,
  runs: readonly RunColumns[],
  loadAxis: LoadAxis,
  filters: Filters,
): LagEstimate {
  const chops = fromChops(runs)
  const scatter = fromScatter(grid, runs, loadAxis, filters)
  if (chops && scatter) {
    const gap = Math.abs(chops.lag - scatter.lag)
    // Where the two disagree beyond their errors, a chop is the more direct evidence.
    if (gap > 3 * Math.hypot(chops.error, scatter.error) + 0.03) {
      return {
        ...chops,
        from: 'throttle chops',
        note: `From ${chops.count} throttle chops; the scatter of the sweeps would say ${ms(scatter.lag)}.`,
      }
    }
    const wc = 1 / chops.error ** 2
    const ws = 1 / scatter.error ** 2
    return {
      lag: (chops.lag * wc + scatter.lag * ws) / (wc + ws),
      error: Math.max(LEAST_ERROR, 1 / Math.sqrt(wc + ws)),
      from: 'throttle chops and scatter',
      note: `From ${chops.count} throttle chops (${ms(chops.lag)}) and the scatter of the sweeps (${ms(scatter.lag)}).`,
    }
  }
  if (chops)
    return {
      ...chops,
      from: 'throttle chops',
      note: `From ${chops.count} throttle ${chops.count === 1 ? 'chop' : 'chops'}.`,
    }
  if (scatter)
    return {
      ...scatter,
      from: 'scatter of sweeps',
      note: 'From the scatter between sweeps of different rates or directions.',
    }
  return {
    lag: ASSUMED_LAG,
    error: null,
    from: 'assumed',
    note: `Nothing in these runs determines the lag; ${ms(ASSUMED_LAG)} is assumed. A sweep ended by shutting the throttle, a down-sweep or a slower sweep would settle it.`,
  }
}

const ms = (seconds: number): string => `${Math.round(seconds * 1000)} ms`

function fromChops(runs: readonly RunColumns[]): { lag: number; error: number; count: number } | null {
  const all = runs.flatMap(findChops)
  if (all.length === 0) return null
  // A chop far from the others is no clean chop: the fuel was cut late or came back at once.
  const middle = median(all.map((chop) => chop.lag))
  const chops = all.filter((chop) => Math.abs(chop.lag - middle) < 0.08)
  const spread = MAD_TO_SIGMA * median(chops.map((chop) => Math.abs(chop.lag - middle)))
  const response = fitResponse(chops.slice(0, MOST_CHOPS))
  // One chop alone carries the usual spread of a chop.
  const error = Math.max(LEAST_ERROR, (1.25 * Math.max(spread, 0.03)) / Math.sqrt(chops.length))
  // An end stop hides part of the response: half of what is usual is added, and the error told accordingly.
  const hidden = chops.some((chop) => chop.pinned) ? HIDDEN_RESPONSE : 0
  return { lag: response.delay + response.timeConstant + hidden, error: Math.max(error, hidden), count: chops.length }
}

function fromScatter(
  grid: Grid,
  runs: readonly RunColumns[],
  loadAxis: LoadAxis,
  filters: Filters,
): { lag: number; error: number } | null {
  // The same readings are judged at every trial lag: those that would be settled at all of them.
  const careful = { ...filters, settle: filters.settle + LONGEST }
  const range = marginRange(grid)
  const trials: { lag: number; byRun: Float64Array; total: number }[] = []
  const fixed = commonReadings(runs, loadAxis, careful, range)
  if (!fixed || fixed.count < 200) return null
  for (let lag = 0; lag <= LONGEST + 1e-9; lag += STEP) {
    const samples = shifted(fixed, lag)
    const placement = place(grid, samples.rpm, samples.load)
    const y = samples.lambda[0]!.map(Math.log)
    const solution = solveField(grid, placement, y, {
      alpha: 2e-3,
      beta: 5e-4,
      epsilon: 1e-6,
      startRounds: 4,
      endRounds: 0,
    })
    const byRun = new Float64Array(runs.length)
    let total = 0
    for (let i = 0; i < samples.count; i++) {
      const r = Math.min(0.08, Math.abs(solution.residual[i]!))
      byRun[samples.run[i]!]! += r * r
      total += r * r
    }
    trials.push({ lag, byRun, total })
  }
  const best = lowest(trials.map((trial) => trial.total))
  const least = Math.min(...trials.map((trial) => trial.total))
  const contrast = Math.min(trials[0]!.total, trials.at(-1)!.total) / least - 1
  if (best === null || contrast < LEAST_CONTRAST) return null
  // Jackknife over runs: leave each run out of the sum and see where the least scatter moves.
  const active = runs.map((_, r) => r).filter((r) => trials[0]!.byRun[r]! > 0)
  const without = active.map(
    (r) => lowest(trials.map((trial) => trial.total - trial.byRun[r]!)) ?? best + LONGEST / STEP / 2,
  )
  const mean = without.reduce((sum, value) => sum + value, 0) / without.length
  const n = without.length
  const variance =
    n > 1 ? ((n - 1) / n) * without.reduce((sum, value) => sum + (value - mean) ** 2, 0) : (0.05 / STEP) ** 2
  const error = Math.max(1.5 * LEAST_ERROR, Math.sqrt(variance) * STEP, 0.02 / Math.sqrt(contrast))
  return error > 0.12 ? null : { lag: best * STEP, error }
}

/** Place of the lowest value, refined by a parabola through its neighbours; null when it lies at an end. */
function lowest(values: readonly number[]): number | null {
  const at = values.indexOf(Math.min(...values))
  if (at <= 0 || at >= values.length - 1) return null
  const before = values[at - 1]!
  const after = values[at + 1]!
  const bend = before - 2 * values[at]! + after
  return bend > 0 ? at + (before - after) / (2 * bend) : at
}

/** The range in which readings can be placed: the table and half a step around it. */
export function marginRange(grid: Grid): { rpm: [number, number]; load: [number, number] } {
  const margin = (points: readonly number[]): [number, number] => {
    const n = points.length
    return [points[0]! - (points[1]! - points[0]!) / 2, points[n - 1]! + (points[n - 1]! - points[n - 2]!) / 2]
  }
  return { rpm: margin(grid.rpm), load: margin(grid.load) }
}

interface CommonReadings extends Samples {
  runs: readonly RunColumns[]
  loadAxis: LoadAxis
}

/** Readings that are settled at zero lag and would stay so up to the longest, thinned to a bounded number. */
function commonReadings(
  runs: readonly RunColumns[],
  loadAxis: LoadAxis,
  filters: Filters,
  range: ReturnType<typeof marginRange>,
): CommonReadings | null {
  const early = gatherSamples(runs, { loadAxis, lag: 0, filters, range })
  if (early.count === 0) return null
  const stride = Math.max(1, Math.ceil(early.count / MOST_SAMPLES))
  const keep = new Uint8Array(early.count)
  for (let i = 0; i < early.count; i += stride) {
    const run = runs[early.run[i]!]!
    if (early.time[i]! - LONGEST >= run.time[0]! && !Number.isNaN(early.lambda[0]![i]!)) keep[i] = 1
  }
  return { ...keepSamples(early, keep), runs, loadAxis }
}

/** The same readings with the engine's state taken `lag` earlier. */
function shifted(common: CommonReadings, lag: number): Samples {
  const rpm = new Float32Array(common.count)
  const load = new Float32Array(common.count)
  let run = -1
  let at = 0
  for (let i = 0; i < common.count; i++) {
    if (common.run[i] !== run) {
      run = common.run[i]!
      at = 0
    }
    const columns = common.runs[run]!
    const source = common.loadAxis === 'throttle' ? columns.throttle! : columns.manifold!
    const t = common.time[i]! - lag
    while (at + 2 < columns.time.length && columns.time[at + 1]! <= t) at++
    const step = columns.time[at + 1]! - columns.time[at]!
    const f = step > 0 ? Math.min(1, Math.max(0, (t - columns.time[at]!) / step)) : 0
    rpm[i] = columns.rpm[at]! + f * (columns.rpm[at + 1]! - columns.rpm[at]!)
    load[i] = source[at]! + f * (source[at + 1]! - source[at]!)
  }
  return { ...common, rpm, load }
}

/** A lag set by hand, s. */
export function fixedLag(lag: number): LagEstimate {
  return { lag, error: null, from: 'fixed', note: 'Fixed by hand.' }
}
