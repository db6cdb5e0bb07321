import { rowFinder } from '../table/lookup'
import type { LoadGrid } from '../table/table'
import type { HeldZone } from './heldZones'
import { BIN, rowBins } from './rowBins'
import type { Samples } from './samples'

/** % of plate up to which a row is idle and closed throttle: there a loop holds whatever is in the table (common practice). */
export const IDLE_LOAD = 5
/** How near lambda 1 (ln) bins, beside their error, and their mean lie that are held. */
interface Near {
  pinned: number
  offset: number
  /** bins that must be read */
  bins: number
}
const STRICT: Near = { pinned: 0.012, offset: 0.008, bins: 2 }
/** The same beside a row that is held: what is met for a second in passing is a swing of the loop or two. */
const BESIDE: Near = { pinned: 0.025, offset: 0.025, bins: 1 }
/** Share of the bins that must be held. */
const LEAST_SHARE = 0.8
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
  const rows = [...lists].map(([row, list]) => {
    const zone = (near: Near): HeldZone | null => zoneOf(row, list, samples, lambda, target[row]!, near)
    return { strict: zone(STRICT), zone }
  })
  // Where one row is held the loop is at work at idle: of the others, met in passing, less is asked.
  const isHeld = rows.some((one) => one.strict)
  return rows.flatMap(({ strict, zone }) => strict ?? (isHeld ? (zone(BESIDE) ?? []) : []))
}

function zoneOf(
  row: number,
  list: readonly number[],
  samples: Samples,
  lambda: Float32Array,
  target: readonly number[],
  { pinned, offset, bins }: Near,
): HeldZone | null {
  const binned = rowBins(list, samples, lambda)
  if (!binned) return null
  const all = binned.bins.flatMap((bin, b) => (bin ? [{ ...bin, rpm: (binned.first + b) * BIN }] : []))
  const isPinned = (most: number, bin: (typeof all)[number]): boolean => Math.abs(bin.level) < most + bin.error
  if (all.some((bin) => bin.rpm >= IDLE_RPM && isPinned(STRICT.pinned, bin))) return null
  const known = all.filter((bin) => bin.rpm < IDLE_RPM)
  const held = known.filter((bin) => isPinned(pinned, bin))
  if (known.length < bins || held.length < LEAST_SHARE * known.length) return null
  const mean = known.reduce((sum, bin) => sum + bin.level, 0) / known.length
  const wanted = target.reduce((sum, one) => sum + Math.log(one), 0) / target.length
  if (Math.abs(mean) > offset || Math.abs(wanted) < SAME) return null
  const load = list.reduce((sum, i) => sum + samples.load[i]!, 0) / list.length
  return { row, load, fromRpm: known[0]!.rpm, toRpm: known.at(-1)!.rpm + BIN }
}
