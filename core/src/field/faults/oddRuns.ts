import { rowFinder } from '../../table/lookup'
import type { Grid } from '../../table/table'
import { MAD_TO_SIGMA } from '../../numbers/medianAbsolute'
import { median } from '../../numbers/median'
import { type Samples } from '../readings/samples'

/** A run that differs from its repeats, and where. */
export interface OddBand {
  run: number
  fromRpm: number
  toRpm: number
  /** mean departure in ln lambda: positive reads leaner than the others */
  departure: number
}

const BIN = 150
const LEAST_SAMPLES = 3
/** In units of the usual spread between repeats. */
const ODD_SPREADS = 4
/** Smaller departures (ln lambda) are no reason to leave anything out. */
const LEAST_DEPARTURE = 0.025
/** Bins in a row that must agree. */
const LEAST_BINS = 3
/** Readings further off are clipped, so a sporadic misfire moves its bin without one spike making a band. */
const CLIP = 0.3
/** The spread between repeats is never taken to be less (ln lambda). */
const LEAST_SPREAD = 0.004
const MOST_ROUNDS = 12

/**
 * Finds the odd run out: per throttle stop and rpm bin, each run's mean residual from the field against the median of the
 * other runs there, in units of the usual spread. The oddest is taken out first and the rest judged anew, so that a good
 * run is not blamed for its neighbour.
 *
 * @param residual y - field by sample; @param least a stop needs this many runs to tell which one is odd
 */
export function findOddRuns(grid: Grid, samples: Samples, residual: Float32Array, least = 3): OddBand[] {
  return oddBands(cellMeans(grid, samples, residual), { first: 0, step: BIN, leastBins: LEAST_BINS, least })
}

/** How the cells of `oddBands` lie, and what it takes. */
export interface OddDemand {
  /** rpm at which bin 0 begins, and from bin to bin */
  first: number
  step: number
  /** bins in a row that must agree */
  leastBins: number
  /** runs that must meet in a cell to tell which one is odd */
  least: number
}

/** A cell of throttle stop (a row) and rpm bin, as one number for `oddBands`. */
export function cellKey(row: number, bin: number): number {
  return bin * KEY_ROWS + row
}

/**
 * Odd bands among values by cell and run: the core of `findOddRuns`, for residuals as for whole curves.
 *
 * @param cells by `cellKey`, the value of each run; emptied of what is odd
 */
export function oddBands(cells: Map<number, Map<number, number>>, demand: OddDemand): OddBand[] {
  const { least } = demand
  const departures = new Map([...cells].map(([key, runs]) => [key, departuresIn(key, runs, least)]))
  const bands: OddBand[] = []
  for (let round = 0; round < MOST_ROUNDS; round++) {
    const all = [...departures.values()].flat()
    const spread = Math.max(LEAST_SPREAD, MAD_TO_SIGMA * median(all.map((d) => Math.abs(d.value))) || 0)
    const worst = worstStretch(all, Math.max(LEAST_DEPARTURE, ODD_SPREADS * spread), demand)
    if (!worst) break
    bands.push(worst.band)
    for (const key of worst.keys) {
      cells.get(key)!.delete(worst.band.run)
      departures.set(key, departuresIn(key, cells.get(key)!, least))
    }
  }
  return mergeByRun(bands)
}

/** A cell is one throttle stop (row of the table) and one rpm bin, as one number. */
const KEY_ROWS = 128

/** Mean residual by cell and run. */
function cellMeans(grid: Grid, samples: Samples, residual: Float32Array): Map<number, Map<number, number>> {
  const sums = new Map<number, Map<number, { sum: number; count: number }>>()
  // Samples come in time order and stay in a cell for a while: the last one is nearly always the next one's.
  let lastKey = -1
  let lastRun = -1
  let cell = { sum: 0, count: 0 }
  const row = rowFinder(grid)
  for (let i = 0; i < samples.count; i++) {
    const value = residual[i]!
    if (Number.isNaN(value)) continue
    const key = cellKey(row(samples.load[i]!), Math.floor(samples.rpm[i]! / BIN))
    const run = samples.run[i]!
    if (key !== lastKey || run !== lastRun) {
      let runs = sums.get(key)
      if (!runs) sums.set(key, (runs = new Map()))
      const known = runs.get(run)
      if (known) cell = known
      else runs.set(run, (cell = { sum: 0, count: 0 }))
      lastKey = key
      lastRun = run
    }
    cell.sum += Math.max(-CLIP, Math.min(CLIP, value))
    cell.count++
  }
  const means = new Map<number, Map<number, number>>()
  for (const [key, runs] of sums) {
    means.set(
      key,
      new Map(
        [...runs].filter(([, cell]) => cell.count >= LEAST_SAMPLES).map(([run, cell]) => [run, cell.sum / cell.count]),
      ),
    )
  }
  return means
}

interface Departure {
  run: number
  row: number
  bin: number
  key: number
  value: number
}

/** Each run's mean against the median of the others in one cell; none where too few runs meet. */
function departuresIn(key: number, runs: ReadonlyMap<number, number>, least: number): Departure[] {
  if (runs.size < least) return []
  const sorted = [...runs].sort((a, b) => a[1] - b[1])
  const row = key % KEY_ROWS
  const bin = Math.floor(key / KEY_ROWS)
  const half = (sorted.length - 2) / 2
  return sorted.map(([run, value], rank) => {
    // The others are the same sorted list with this rank left out.
    const other = (k: number): number => sorted[k < rank ? k : k + 1]![1]
    return { run, row, bin, key, value: value - (other(Math.floor(half)) + other(Math.ceil(half))) / 2 }
  })
}

/** The stretch of bins of one run and stop with the largest summed departure above the limit. */
function worstStretch(
  departures: readonly Departure[],
  limit: number,
  { first, step, leastBins }: OddDemand,
): { band: OddBand; keys: number[] } | null {
  const groups = new Map<string, Departure[]>()
  for (const d of departures) {
    const id = `${d.run}:${d.row}`
    const group = groups.get(id)
    if (group) group.push(d)
    else groups.set(id, [d])
  }
  let best: Departure[] = []
  let bestSum = 0
  for (const group of groups.values()) {
    group.sort((a, b) => a.bin - b.bin)
    let stretch: Departure[] = []
    const close = (): void => {
      const sum = Math.abs(stretch.reduce((total, d) => total + d.value, 0))
      if (stretch.length >= leastBins && sum > bestSum) [best, bestSum] = [stretch, sum]
      stretch = []
    }
    for (const d of group) {
      const last = stretch.at(-1)
      // One bin that dips under the limit does not split a band.
      if (last && (d.bin - last.bin > 2 || Math.sign(d.value) !== Math.sign(last.value))) close()
      if (Math.abs(d.value) > limit) stretch.push(d)
    }
    close()
  }
  if (best.length === 0) return null
  const run = best[0]!.run
  return {
    band: {
      run,
      fromRpm: first + best[0]!.bin * step,
      toRpm: first + (best.at(-1)!.bin + 1) * step,
      departure: (bestSum / best.length) * Math.sign(best[0]!.value),
    },
    // Weaker bins at both ends belong to the same fault: out of the next round with one bin of margin.
    keys: departures
      .filter(
        (d) => d.run === run && d.row === best[0]!.row && d.bin >= best[0]!.bin - 1 && d.bin <= best.at(-1)!.bin + 1,
      )
      .map((d) => d.key),
  }
}

/** One band a run: the span that covers its stretches. */
function mergeByRun(bands: readonly OddBand[]): OddBand[] {
  const merged = new Map<number, OddBand>()
  for (const band of bands) {
    const known = merged.get(band.run)
    if (!known) merged.set(band.run, { ...band })
    else {
      known.fromRpm = Math.min(known.fromRpm, band.fromRpm)
      known.toRpm = Math.max(known.toRpm, band.toRpm)
      if (Math.abs(band.departure) > Math.abs(known.departure)) known.departure = band.departure
    }
  }
  return [...merged.values()].sort((a, b) => a.run - b.run)
}
