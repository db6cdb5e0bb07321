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
 * The least and the most of some rows; null where nothing was read. Takes as long for a million rows as for a few dozen.
 *
 * @param from first row; @param to the one after the last
 * @example
 * leastMost(levelsOf(Float32Array.of(3, 1, 2)), 0, 2) // [1, 3]
 */
export function leastMost({ values, least, most }: Levels, from: number, to: number): [number, number] | null {
  let [low, high] = [Infinity, -Infinity]
  const take = (a: number, b: number): void => {
    if (a < low) low = a
    if (b > high) high = b
  }
  let [start, end, level] = [Math.max(0, from), Math.min(values.length, to), -1]
  while (start < end) {
    const [a, b] = level < 0 ? [values, values] : [least[level]!, most[level]!]
    const hasNext = level + 1 < least.length
    while (start < end && (!hasNext || start % STEP !== 0)) {
      take(a[start]!, b[start]!)
      start++
    }
    while (start < end && hasNext && end % STEP !== 0) {
      end--
      take(a[end]!, b[end]!)
    }
    ;[start, end, level] = [start / STEP, end / STEP, level + 1]
  }
  return low <= high ? [low, high] : null
}
