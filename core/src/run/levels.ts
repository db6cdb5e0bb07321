import { firstFrom } from './firstFrom'

/** The least and the most of a column over ever more rows, so that a long log is drawn as quickly as a short one. */
export interface Levels {
  values: Float32Array
  /** by level: of each STEP rows of the level below */
  least: Float32Array[]
  most: Float32Array[]
}

const STEP = 16

/** Levels of a column; memory is an eighth of its own beside it. */
export function levelsOf(values: Float32Array): Levels {
  const levels: Levels = { values, least: [], most: [] }
  let [low, high] = [values, values]
  while (low.length > STEP) {
    const count = Math.ceil(low.length / STEP)
    const [least, most] = [new Float32Array(count), new Float32Array(count)]
    for (let k = 0; k < count; k++) {
      let [a, b] = [NaN, NaN]
      const end = Math.min(low.length, (k + 1) * STEP)
      for (let i = k * STEP; i < end; i++) {
        if (!(a <= low[i]!)) a = low[i] === low[i] ? low[i]! : a
        if (!(b >= high[i]!)) b = high[i] === high[i] ? high[i]! : b
      }
      ;[least[k], most[k]] = [a, b]
    }
    levels.least.push(least)
    levels.most.push(most)
    ;[low, high] = [least, most]
  }
  return levels
}

/**
 * First row of each column of a screen, and of the one after the last. Where a column holds many rows it begins with a whole group
 * of them: no row is lost, none stands a quarter of a column away, and single rows need not be looked at.
 *
 * @param time s, rising; @param from, to s of the view
 */
export function rowsByColumn(time: Float32Array, from: number, to: number, columns: number): Int32Array {
  const rows = new Int32Array(columns + 1)
  for (let x = 0; x <= columns; x++) rows[x] = firstFrom(time, from + ((to - from) * x) / columns)
  if (rows[columns]! - rows[0]! < 4 * STEP * columns) return rows
  return rows.map((row) => (row < time.length ? row - (row % STEP) : row))
}

/**
 * The least and the most of some rows, into `out`. Takes as long for a million rows as for a few dozen.
 *
 * @param from first row; @param to the one after the last
 * @param out written over, so that ten thousand of them a frame leave nothing to be tidied up
 * @returns whether anything was read
 * @example
 * leastMost(levelsOf(Float32Array.of(3, 1, 2)), 0, 2, [0, 0]) // true
 */
export function leastMost({ values, least, most }: Levels, from: number, to: number, out: [number, number]): boolean {
  let low = Infinity
  let high = -Infinity
  let start = Math.max(0, from)
  let end = Math.min(values.length, to)
  for (let level = -1; start < end; level++) {
    const lows = level < 0 ? values : least[level]!
    const highs = level < 0 ? values : most[level]!
    const hasNext = level + 1 < least.length
    // Up to where whole groups begin, and down to where they end; NaN is neither less nor more.
    const first = hasNext ? Math.min(end, Math.ceil(start / STEP) * STEP) : end
    const last = hasNext ? Math.max(first, Math.floor(end / STEP) * STEP) : end
    for (let i = start; i < first; i++) {
      if (lows[i]! < low) low = lows[i]!
      if (highs[i]! > high) high = highs[i]!
    }
    for (let i = last; i < end; i++) {
      if (lows[i]! < low) low = lows[i]!
      if (highs[i]! > high) high = highs[i]!
    }
    start = first / STEP
    end = last / STEP
    if (first >= last) break
  }
  out[0] = low
  out[1] = high
  return low <= high
}
