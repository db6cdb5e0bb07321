import { rowFinder } from '../table/lookup'
import type { LoadGrid } from '../table/table'
import type { HeldZone } from './heldZones'
import { BIN, rowBins } from './rowBins'
import type { Samples } from './samples'

/** % of plate up to which a row is idle and closed throttle: there a loop holds whatever is in the table (common practice). */
export const IDLE_LOAD = 5
/** Bins this near lambda 1 (ln), beside their error, are held; this share of them must be, and their mean nearer still. */
const PINNED = 0.012
const LEAST_SHARE = 0.8
const MOST_OFFSET = 0.008
const LEAST_BINS = 2
/** rpm up to which an engine idles or is pulled along shut; a row that lies on lambda 1 beyond, too, was swept and shows its own edge. */
const IDLE_RPM = 3000
/** A wanted mixture this near lambda 1 (ln) is reached there, whoever sets it. */
const SAME = 0.012

/**
 * Held zones at idle and closed throttle: rows whose readings lie on lambda 1 at all their speeds, though something else is
 * wanted. No edge shows there, since the loop holds the whole of such a row; an engine that idles on lambda 1 by itself to
 * within a percent loses nothing by being left alone.
 *
 * @param lambda one column of readings, by sample; @param target wanted lambda on the grid
 */
export function idleZones(
  grid: LoadGrid,
  samples: Samples,
  lambda: Float32Array,
  target: readonly (readonly number[])[],
): HeldZone[] {
  if (grid.loadAxis !== 'throttle') return []
  const rowOf = rowFinder(grid)
  const lists = new Map<number, number[]>()
  for (let i = 0; i < samples.count; i++) {
    const row = rowOf(samples.load[i]!)
    if (grid.load[row]! > IDLE_LOAD) continue
    const list = lists.get(row)
    if (list) list.push(i)
    else lists.set(row, [i])
  }
  return [...lists].flatMap(([row, list]): HeldZone[] => {
    const binned = rowBins(list, samples, lambda)
    if (!binned) return []
    const all = binned.bins.flatMap((bin, b) => (bin ? [{ ...bin, rpm: (binned.first + b) * BIN }] : []))
    const isPinned = (bin: (typeof all)[number]): boolean => Math.abs(bin.level) < PINNED + bin.error
    if (all.some((bin) => bin.rpm >= IDLE_RPM && isPinned(bin))) return []
    const known = all.filter((bin) => bin.rpm < IDLE_RPM)
    const pinned = known.filter(isPinned)
    if (known.length < LEAST_BINS || pinned.length < LEAST_SHARE * known.length) return []
    const mean = known.reduce((sum, bin) => sum + bin.level, 0) / known.length
    const wanted = target[row]!.reduce((sum, one) => sum + Math.log(one), 0) / target[row]!.length
    if (Math.abs(mean) > MOST_OFFSET || Math.abs(wanted) < SAME) return []
    const load = list.reduce((sum, i) => sum + samples.load[i]!, 0) / list.length
    return [{ row, load, fromRpm: known[0]!.rpm, toRpm: known.at(-1)!.rpm + BIN }]
  })
}
