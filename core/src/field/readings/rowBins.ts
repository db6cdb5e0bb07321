import { median } from '../../numbers/median'
import type { Samples } from './samples'

/** Width of a bin, rpm. */
export const BIN = 150
/** Readings that a bin must have. */
const LEAST_SAMPLES = 4
/** What repeats add to the error of a bin at least (ln lambda). */
const BETWEEN = 0.002
/** s after which a return to a bin is another pass. */
const PASS_GAP = 0.5
/** Bins on either side over which it is judged how readings and passes scatter. */
const AROUND = 3

/** One rpm bin on one row: the median of ln lambda over passes. */
export interface Bin {
  level: number
  /** standard error of the level */
  error: number
  /** squared departures of passes from their mean, and how many are free */
  apart: number
  free: number
}

/** Bins of a row, from the first that has a reading; null where there are too few. */
export interface RowBins {
  first: number
  bins: (Bin | null)[]
}

/** Readings of one row by bins of rpm; null without any. */
export function rowBins(list: readonly number[], samples: Samples, lambda: Float32Array): RowBins | null {
  const byBin = new Map<number, Sums[]>()
  // Samples come in time order: as long as they stay in a bin, or come back at once, they are one pass.
  const latest = new Map<number, { run: number; time: number; sums: Sums }>()
  for (const i of list) {
    const value = Math.log(lambda[i]!)
    if (Number.isNaN(value)) continue
    const b = Math.floor(samples.rpm[i]! / BIN)
    const [run, time] = [samples.run[i]!, samples.time[i]!]
    let pass = latest.get(b)
    if (pass?.run !== run || time - pass.time > PASS_GAP) {
      pass = { run, time, sums: { count: 0, sum: 0, square: 0 } }
      latest.set(b, pass)
      const passes = byBin.get(b)
      if (passes) passes.push(pass.sums)
      else byBin.set(b, [pass.sums])
    }
    pass.time = time
    pass.sums.count++
    pass.sums.sum += value
    pass.sums.square += value * value
  }
  if (byBin.size === 0) return null
  const first = Math.min(...byBin.keys())
  const last = Math.max(...byBin.keys())
  const passes = Array.from({ length: last - first + 1 }, (_, k) => byBin.get(first + k) ?? [])
  return {
    first,
    bins: passes.map((own, k) => binOf(own, scatterOf(passes.slice(Math.max(0, k - AROUND), k + AROUND + 1)))),
  }
}

/** Readings of one pass through one bin, summed (ln lambda). */
interface Sums {
  count: number
  sum: number
  square: number
}

/** Squared departures of the levels of passes from their mean, and how many are free. */
function departures(passes: readonly Sums[]): { apart: number; free: number } {
  if (passes.length < 2) return { apart: 0, free: 0 }
  const levels = passes.map((one) => one.sum / one.count)
  const middle = levels.reduce((sum, one) => sum + one, 0) / levels.length
  return { apart: levels.reduce((sum, one) => sum + (one - middle) ** 2, 0), free: levels.length - 1 }
}

/**
 * Variances of readings within a pass and of the levels of passes, over some bins together: few readings of one bin tell
 * little of that, and a loop that hunts meets each pass at another point of its swing.
 */
function scatterOf(bins: readonly (readonly Sums[])[]): { within: number; between: number } {
  let [apart, free, inside, insideFree] = [0, 0, 0, 0]
  for (const passes of bins) {
    for (const { count, sum, square } of passes) {
      inside += Math.max(0, square - sum ** 2 / count)
      insideFree += count - 1
    }
    const of = departures(passes)
    apart += of.apart
    free += of.free
  }
  return { within: insideFree ? inside / insideFree : 0, between: free ? apart / free : 0 }
}

function binOf(all: readonly Sums[], { within, between }: ReturnType<typeof scatterOf>): Bin | null {
  const count = all.reduce((total, one) => total + one.count, 0)
  if (count < LEAST_SAMPLES) return null
  return {
    level: median(all.map((one) => one.sum / one.count)),
    error: Math.sqrt(Math.max(within / count + BETWEEN ** 2, between / all.length)),
    ...departures(all),
  }
}
