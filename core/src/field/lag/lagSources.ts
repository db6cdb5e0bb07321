import { findChops, fitResponse } from '../../run/chops'
import { mostTelling } from '../../run/mostTelling'
import type { Opening } from '../../run/openings'
import type { Filters, RunColumns } from '../../run/run'
import type { Grid, LoadAxis } from '../../table/table'
import { MAD_TO_SIGMA } from '../../numbers/medianAbsolute'
import { median } from '../../numbers/median'
import { marginRange } from '../solve/marginRange'
import { place } from '../readings/placement'
import { gatherSamples, keepSamples, type Samples } from '../readings/samples'
import type { Solution } from '../solve/reweigh'
import { solveField } from '../solve/solve'

/** What one kind of evidence says of the lag. */
export interface LagSource {
  what: 'throttle chops' | 'throttle openings' | 'scatter of sweeps'
  /** s, and its standard error */
  lag: number
  error: number
  /** events that it rests on; null for sweeps */
  count: number | null
}

const LONGEST = 0.6
const STEP = 0.03
/** Trials of that, from none. */
const LAST = Math.round(LONGEST / STEP)
/** Samples that the scatter search uses at most; it solves once per trial lag. */
const MOST_SAMPLES = 6000
/** No estimate is trusted beyond this, s. */
export const LEAST_ERROR = 0.01
/** The scatter at the far ends must exceed the least by this share to say anything. */
const LEAST_CONTRAST = 0.03
/** A lag that is known no better than this, s, is not told. */
const MOST_ERROR = 0.12
/** s of sensor response that an end stop hides: some two thirds of a time constant, usually 20 to 80 ms (common practice). */
const HIDDEN_RESPONSE = 0.03
/** Chops that the response is fitted through; more add nothing but time. */
const MOST_CHOPS = 40

/** s by which the peak of a spike, which is no step, may mislead. */
export const SPIKE_DOUBT = 0.02
const LEAST_OPENINGS = 5
/** s about the middle of all events beyond which one is left out. */
export const STRAY = 0.08

/** Lag by throttle chops, where fuel is cut at once as a rule; null without any. */
export function fromChops(runs: readonly RunColumns[]): LagSource | null {
  const all = runs.flatMap(findChops)
  if (all.length === 0) return null
  // A chop far from the others is no clean chop: the fuel was cut late or came back at once.
  const middle = median(all.map((chop) => chop.lag))
  const chops = all.filter((chop) => Math.abs(chop.lag - middle) < STRAY)
  const spread = MAD_TO_SIGMA * median(chops.map((chop) => Math.abs(chop.lag - middle)))
  const response = fitResponse(chops.slice(0, MOST_CHOPS))
  // One chop alone carries the usual spread of a chop.
  const error = Math.max(LEAST_ERROR, (1.25 * Math.max(spread, 0.03)) / Math.sqrt(chops.length))
  // An end stop hides part of the response: what is usual is added, and doubted as a whole.
  const hidden = chops.some((chop) => chop.pinned) ? HIDDEN_RESPONSE : 0
  return {
    what: 'throttle chops',
    lag: response.delay + response.timeConstant + hidden,
    error: Math.max(error, hidden),
    count: chops.length,
  }
}

/** Lag by the spikes that follow quick openings; null where there are too few. */
export function fromOpenings(all: readonly Opening[]): LagSource | null {
  if (all.length < LEAST_OPENINGS) return null
  const middle = median(all.map((one) => one.lag))
  const near = all.filter((one) => Math.abs(one.lag - middle) < STRAY)
  if (near.length < LEAST_OPENINGS || 2 * near.length < all.length) return null
  const spread = MAD_TO_SIGMA * median(near.map((one) => Math.abs(one.lag - middle)))
  return {
    what: 'throttle openings',
    lag: median(near.map((one) => one.lag)),
    error: Math.hypot(SPIKE_DOUBT, (1.25 * spread) / Math.sqrt(near.length)),
    count: near.length,
  }
}

/** Strengths of the field at a trial lag. */
const TRIAL = { alpha: 2e-3, beta: 5e-4, epsilon: 1e-6, endRounds: 0 }

/** Lag that leaves the least scatter between sweeps of other rates or directions; null where they do not tell. */
export function fromScatter(
  grid: Grid,
  runs: readonly RunColumns[],
  loadAxis: LoadAxis,
  filters: Filters,
): LagSource | null {
  // The same readings are judged at every trial lag: those that would be settled at all of them.
  const careful = { ...filters, settle: filters.settle + LONGEST }
  const range = marginRange(grid)
  const fixed = commonReadings(runs, loadAxis, careful, range)
  if (!fixed || fixed.count < 200) return null
  const trialAt = trials(grid, fixed)
  const best = lowest((k) => trialAt(k).total)
  if (best === null) return null
  const contrast = Math.min(trialAt(0).total, trialAt(LAST).total) / trialAt(Math.round(best)).total - 1
  if (contrast < LEAST_CONTRAST) return null
  // Jackknife over runs: leave each run out of the sum and see where the least scatter moves.
  const active = runs.map((_, r) => r).filter((r) => trialAt(0).byRun[r]! > 0)
  const without = active.map((r) => lowest((k) => trialAt(k).total - trialAt(k).byRun[r]!) ?? best + LAST / 2)
  const mean = without.reduce((sum, value) => sum + value, 0) / without.length
  const n = without.length
  const variance =
    n > 1 ? ((n - 1) / n) * without.reduce((sum, value) => sum + (value - mean) ** 2, 0) : (0.05 / STEP) ** 2
  const error = Math.max(1.5 * LEAST_ERROR, Math.sqrt(variance) * STEP, 0.02 / Math.sqrt(contrast))
  return error > MOST_ERROR ? null : { what: 'scatter of sweeps', lag: best * STEP, error, count: null }
}

/** The scatter that a trial lag leaves: sums of squares, by run and of all. */
interface Trial {
  byRun: Float64Array
  total: number
}

/** Trials by number of steps, each solved when it is first asked for, from the nearest that is solved. */
function trials(grid: Grid, fixed: CommonReadings): (k: number) => Trial {
  const y = mostTelling(fixed.lambda)!.map(Math.log)
  const solved = new Map<number, Trial & { solution: Solution }>()
  return (k) => {
    const known = solved.get(k)
    if (known) return known
    const near = [...solved.keys()].reduce<number | null>(
      (best, one) => (best === null || Math.abs(one - k) < Math.abs(best - k) ? one : best),
      null,
    )
    const samples = shifted(fixed, k * STEP)
    const from = near === null ? undefined : solved.get(near)!.solution
    const placement = place(grid, samples.rpm, samples.load)
    const solution = solveField(grid, placement, y, { ...TRIAL, startRounds: from ? 1 : 4 }, from)
    const byRun = new Float64Array(fixed.runs.length)
    let total = 0
    for (let i = 0; i < samples.count; i++) {
      const r = Math.min(0.08, Math.abs(solution.residual[i]!))
      byRun[samples.run[i]!]! += r * r
      total += r * r
    }
    const trial = { byRun, total, solution }
    solved.set(k, trial)
    return trial
  }
}

/**
 * Place of the lowest value, in steps, refined by a parabola through its neighbours; null when it lies at an end. Every
 * other step is looked at, and those beside the lowest of them: the scatter is smooth in the lag.
 */
function lowest(valueAt: (k: number) => number): number | null {
  let at = 0
  for (let k = 2; k <= LAST; k += 2) if (valueAt(k) < valueAt(at)) at = k
  for (const k of [at - 1, at + 1]) if (k > 0 && k < LAST && valueAt(k) < valueAt(at)) at = k
  if (at === 0 || at === LAST) return null
  const [before, after] = [valueAt(at - 1), valueAt(at + 1)]
  const bend = before - 2 * valueAt(at) + after
  return bend > 0 ? at + (before - after) / (2 * bend) : at
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
  const column = mostTelling(early.lambda)
  if (!column) return null
  const keep = new Uint8Array(early.count)
  const gaps = runs.map((run) => blanksOf(run, loadAxis))
  for (let i = 0; i < early.count; i += stride) {
    const [run, blanks] = [runs[early.run[i]!]!, gaps[early.run[i]!]!]
    const t = early.time[i]!
    if (Number.isNaN(column[i]!) || t - LONGEST < run.time[0]!) continue
    if (!blanks.some(([from, to]) => from <= t && to >= t - LONGEST)) keep[i] = 1
  }
  return { ...keepSamples(early, keep), runs, loadAxis }
}

/** s from and to which the engine's state is not known: between the rows beside a blank. */
function blanksOf({ time, rpm, throttle, manifold }: RunColumns, loadAxis: LoadAxis): [from: number, to: number][] {
  const load = loadAxis === 'throttle' ? throttle : manifold
  const blanks: [number, number][] = []
  if (!load) return blanks
  const last = time.length - 1
  for (let i = 0; i <= last; i++) {
    if (!Number.isNaN(rpm[i]! + load[i]!)) continue
    const [from, to] = [time[Math.max(0, i - 1)]!, time[Math.min(last, i + 1)]!]
    const open = blanks.at(-1)
    if (open && from <= open[1]) open[1] = to
    else blanks.push([from, to])
  }
  return blanks
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
