import { rowFinder } from '../../table/lookup'
import type { LoadGrid } from '../../table/table'
import type { HeldZone } from './heldZones'
import { IDLE_LOAD } from './idleZones'
import { BIN, rowBins, type Bin, type RowBins } from '../readings/rowBins'
import type { Samples } from '../readings/samples'

/** A bin this near lambda 1 (ln), beside its error, is held, and the mean of all is nearer still. */
const PINNED = 0.012
const MOST_OFFSET = 0.008
/** Bins that must be read over the zone above, and the share of them that must be held. */
const LEAST_BINS = 4
const LEAST_SHARE = 0.8
/** Bins beyond the zone above that it may go on for. */
const LATER = 2

/**
 * Closed-throttle rows below a held zone that lie on lambda 1 over its speeds: a loop that holds an opening holds smaller ones
 * at the same speed (common practice), though no edge may show there where the open mixture beyond is near lambda 1, too.
 *
 * @param zones that are known to be held
 */
export function zonesBelow(grid: LoadGrid, samples: Samples, zones: readonly HeldZone[]): HeldZone[] {
  if (grid.loadAxis !== 'throttle') return []
  const rowOf = rowFinder(grid)
  const below = (row: number): HeldZone[] => zones.filter((zone) => zone.row > row)
  const rows = grid.load.flatMap((load, row) =>
    load <= IDLE_LOAD && below(row).length > 0 && zones.every((zone) => zone.row !== row) ? [row] : [],
  )
  return rows.flatMap((row) => {
    const list = Array.from({ length: samples.count }, (_, i) => i).filter((i) => rowOf(samples.load[i]!) === row)
    const columns = samples.lambda.flatMap((lambda) => rowBins(list, samples, lambda) ?? [])
    return below(row).flatMap(
      (zone) => columns.flatMap((bins) => heldBelow(zone, row, grid.load[row]!, bins) ?? [])[0] ?? [],
    )
  })
}

function heldBelow({ fromRpm, toRpm }: HeldZone, row: number, load: number, { first, bins }: RowBins): HeldZone | null {
  const isPinned = (bin: Bin | null | undefined): boolean => !!bin && Math.abs(bin.level) < PINNED + bin.error
  let [from, to] = [fromRpm, toRpm].map((rpm) => Math.round(rpm / BIN) - first) as [number, number]
  const inside = bins.slice(Math.max(0, from), Math.max(0, to)).filter((bin) => bin !== null)
  const mean = inside.reduce((sum, bin) => sum + bin.level, 0) / inside.length
  const isHeld =
    inside.length >= LEAST_BINS &&
    inside.filter(isPinned).length >= LEAST_SHARE * inside.length &&
    Math.abs(mean) <= MOST_OFFSET
  if (!isHeld) return null
  // The loop may begin sooner here; how much later it lets go does not show where no edge does.
  while (isPinned(bins[from - 1])) from--
  for (const most = to + LATER; to < most && isPinned(bins[to]);) to++
  return { row, load, fromRpm: (first + from) * BIN, toRpm: (first + to) * BIN }
}
