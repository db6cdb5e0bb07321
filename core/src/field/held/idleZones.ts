import { rowFinder } from '../../table/lookup'
import type { LoadGrid } from '../../table/table'
import type { HeldZone } from './heldZones'
import { BIN, rowBins } from '../readings/rowBins'
import type { Samples } from '../readings/samples'

/** % of plate up to which a row is idle and closed throttle: there a loop holds whatever is in the table (common practice). */
export const IDLE_LOAD = 5
/** Bins this near lambda 1 (ln), beside their error, are held, and their mean is nearer still. */
const PINNED = 0.012
const MOST_OFFSET = 0.008
const LEAST_BINS = 2
/** Mean this near lambda 1 of a row beside one that is held: what is met for a second in passing is a swing of the loop or two. */
const BESIDE = 0.025
/** Share of the bins that must be held. */
const LEAST_SHARE = 0.8
/** rpm up to which an engine idles or is pulled along shut; a row that lies on lambda 1 beyond, too, was swept and shows its own edge. */
const IDLE_RPM = 3000
/** Bins beyond idle that make a sweep of it: some are met on the way out of every run. */
const SWEPT = 4
/** A wanted mixture this near lambda 1 (ln) is reached there, whoever sets it. */
const SAME = 0.012

/**
 * Held zones at idle and closed throttle: rows whose readings lie on lambda 1 at all their speeds, though something else is
 * wanted. No edge shows there, since the loop holds the whole of such a row; an engine that idles on lambda 1 by itself to
 * within a percent loses nothing by being left alone. Where one row is held the loop is at work at idle: of the others, that
 * are met in passing from idle to a sweep, for a few readings or none, less is asked, and all speeds of idle are left alone.
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
  const rows = [...lists].flatMap(([row, list]) => idleRow(row, list, samples, lambda, target[row]!) ?? [])
  if (!rows.some((one) => one.zone)) return []
  return grid.load.flatMap((load, row): HeldZone[] => {
    if (load > IDLE_LOAD) return []
    const read = rows.find((one) => one.row === row)
    if (read && (read.isSwept || Math.abs(read.mean) > BESIDE)) return read.zone ? [read.zone] : []
    return [{ row, load, fromRpm: Math.min(grid.rpm[0]!, read?.first ?? Infinity), toRpm: IDLE_RPM }]
  })
}

/** What the readings of an idle row show. */
interface IdleRow {
  row: number
  /** held at all speeds that were read; null where it is not */
  zone: HeldZone | null
  /** read beyond idle, too */
  isSwept: boolean
  /** mean ln lambda at idle, and its lowest speed */
  mean: number
  first: number
}

function idleRow(
  row: number,
  list: readonly number[],
  samples: Samples,
  lambda: Float32Array,
  target: readonly number[],
): IdleRow | null {
  const binned = rowBins(list, samples, lambda)
  if (!binned) return null
  const all = binned.bins.flatMap((bin, b) => (bin ? [{ ...bin, rpm: (binned.first + b) * BIN }] : []))
  const isPinned = (bin: (typeof all)[number]): boolean => Math.abs(bin.level) < PINNED + bin.error
  const known = all.filter((bin) => bin.rpm < IDLE_RPM)
  if (known.length === 0) return null
  const beyond = all.filter((bin) => bin.rpm >= IDLE_RPM)
  const mean = known.reduce((sum, bin) => sum + bin.level, 0) / known.length
  const wanted = target.reduce((sum, one) => sum + Math.log(one), 0) / target.length
  const isHeld =
    known.length >= LEAST_BINS &&
    known.filter(isPinned).length >= LEAST_SHARE * known.length &&
    Math.abs(mean) <= MOST_OFFSET &&
    Math.abs(wanted) >= SAME &&
    !beyond.some(isPinned)
  const load = list.reduce((sum, i) => sum + samples.load[i]!, 0) / list.length
  const zone = isHeld ? { row, load, fromRpm: known[0]!.rpm, toRpm: known.at(-1)!.rpm + BIN } : null
  return { row, zone, isSwept: beyond.length >= SWEPT, mean, first: known[0]!.rpm }
}
