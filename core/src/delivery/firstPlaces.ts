import type { Places } from './onBreakpoints'
import type { Axis, PlacesAsked } from './raster'
import { COUNTS, HIGH_LOAD, type Wanted } from './wanted'

/** More raster places than these are thinned out to begin with. */
const MOST = 72

/**
 * Breakpoints for a coarse table to begin with: those whose straight lines through the surface itself lie nearest to it, each
 * axis by itself, by dynamic programming over the raster.
 *
 * @param at factor that is wanted at a speed and a load, known everywhere
 */
export function firstPlaces(
  wanted: Wanted,
  asked: PlacesAsked,
  rasters: Record<Axis, readonly number[] | null>,
  at: (rpm: number, load: number) => number,
): Places {
  const along = (axis: Axis): readonly number[] => {
    const choice = asked[axis]
    if ('given' in choice) return choice.given
    const other = axis === 'rpm' ? wanted.load : wanted.rpm
    const lines = other.map((value) => (x: number): { factor: number; lean: number } => {
      const [rpm, load] = axis === 'rpm' ? [x, value] : [value, x]
      return { factor: at(rpm, load), lean: load >= HIGH_LOAD ? COUNTS.leanUnderLoad : COUNTS.lean }
    })
    return bestLines(thinned(rasters[axis]!, choice.count), choice.count, lines, wanted[axis])
  }
  return { rpm: along('rpm'), load: along('load') }
}

function thinned(raster: readonly number[], count: number): readonly number[] {
  const most = Math.max(MOST, count)
  if (raster.length <= most) return raster
  const picked = Array.from({ length: most }, (_, k) => raster[Math.round((k * (raster.length - 1)) / (most - 1))]!)
  return [...new Set(picked)]
}

type Line = (x: number) => { factor: number; lean: number }

/** So many of the raster's places whose straight lines miss the surface least. */
function bestLines(
  raster: readonly number[],
  count: number,
  lines: readonly Line[],
  own: readonly number[],
): readonly number[] {
  const between = own.slice(0, -1).map((value, k) => (value + own[k + 1]!) / 2)
  const samples = [...own, ...between].sort((a, b) => a - b)
  const seen = samples.map((x) => lines.map((line) => line(x)))
  const ends = raster.map((x) => lines.map((line) => line(x).factor))
  const size = raster.length
  /** cost between two places of the raster; -1 and `size` stand for flat ends */
  const costBetween = (i: number, j: number): number => {
    const [from, to] = [raster[i] ?? -Infinity, raster[j] ?? Infinity]
    let cost = 0
    samples.forEach((x, s) => {
      if (!(x >= from && x < to) && !(j === size && x >= from)) return
      const share = i < 0 ? 1 : j === size ? 0 : (x - from) / (to - from)
      lines.forEach((_, l) => {
        const given = (1 - share) * (ends[i]?.[l] ?? 0) + share * (ends[j]?.[l] ?? 0)
        const { factor, lean } = seen[s]![l]!
        const error = factor / given - 1
        cost += error > 0 ? lean * error * error : error * error
      })
    })
    return cost
  }
  // best[k][j]: least cost with the k-th place at j, and the place before it.
  let best = raster.map((_, j) => costBetween(-1, j))
  const before: number[][] = []
  const pairs = raster.map((_, i) => raster.map((__, j) => (j > i ? costBetween(i, j) : Infinity)))
  for (let k = 1; k < count; k++) {
    const from: number[] = []
    best = raster.map((_, j) => {
      let [least, at] = [Infinity, -1]
      for (let i = k - 1; i < j; i++) {
        const cost = best[i]! + pairs[i]![j]!
        if (cost < least) [least, at] = [cost, i]
      }
      from.push(at)
      return least
    })
    before.push(from)
  }
  let at = -1
  let least = Infinity
  best.forEach((cost, j) => {
    const whole = cost + costBetween(j, size)
    if (j >= count - 1 && whole < least) [least, at] = [whole, j]
  })
  const chosen = [at]
  for (let k = before.length - 1; k >= 0; k--) chosen.unshift((at = before[k]![at]!))
  return chosen.map((j) => raster[j]!)
}
