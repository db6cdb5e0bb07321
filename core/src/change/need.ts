import type { CylinderField, Field } from '../field/field'
import { isMisfire } from '../field/faults/misfires'
import { factorFromPercent, percentFromFactor } from '../fuel/mixture'
import { beside, type Place } from '../table/beside'
import { fuelSince, type TableSince } from './sinceMeasured'

/** What a cell needs, and how that is known. */
export interface Need {
  state: 'known' | 'held' | 'misfire' | 'silent' | 'unknown'
  lambda: number | null
  target: number
  /** %, as measured, and what is left of it after what was changed since */
  measured: number
  left: number
  /** factor on the fuel since the runs were made */
  moved: number
  /** half width of the interval, % */
  half: number
  /** readings lie about it, none at it */
  isBridged: boolean
  /** %, where nothing is told: what is left to take back of what was corrected on a loop's readings; null for none */
  undo: number | null
  /** %, that was moved and did not show; null where the cell answers */
  silent: number | null
}

/** What a cell needs by the field of one cylinder. */
export function needAt(
  field: Field,
  one: CylinderField,
  since: readonly TableSince[],
  row: number,
  column: number,
): Need {
  const { grid } = field
  const moved = since.length ? fuelSince(since, one.cylinder, grid.loadAxis, grid.rpm[column]!, grid.load[row]!) : 1
  const measured = one.changePct[row]![column] ?? null
  const isHeld = one.held[row]![column]! && !one.byTrim[row]![column]
  const [low, high] = [one.lowPct[row]![column] ?? null, one.highPct[row]![column] ?? null]
  const undo = one.undoPct[row]![column] ?? null
  const silent = one.silentPct[row]![column] ?? null
  const left = percentFromFactor(factorFromPercent(measured ?? 0) / moved)
  return {
    state: isMisfire(field.misfires, grid, one.cylinder, row, column)
      ? 'misfire'
      : isHeld
        ? 'held'
        : measured === null
          ? 'unknown'
          : silent !== null && (silent * left > 0 || undo !== null)
            ? 'silent'
            : 'known',
    lambda: one.lambda[row]![column] ?? null,
    target: one.target[row]![column]!,
    measured: measured ?? 0,
    left,
    moved,
    half: low === null || high === null ? 0 : (high - low) / 2,
    isBridged: one.evidence[row]![column] === 'bridged',
    undo: undo === null ? null : percentFromFactor(factorFromPercent(undo) / moved),
    silent,
  }
}

/** Root mean square of what is left to do at a known cell, counted twice, and at the known ones beside it, %. */
export function usualNeed(needs: readonly (readonly Need[])[], at: Place): number {
  const lefts = [at, at, ...beside(at)].flatMap(([row, column]) => {
    const one = needs[row]?.[column]
    return one?.state === 'known' ? [one.left] : []
  })
  return Math.hypot(...lefts) / Math.sqrt(lefts.length)
}

/**
 * The cylinder that a table serves at a cell: its own, or for a shared table the one that needs the most fuel there.
 *
 * @param since fuel tables that were changed since the runs were made
 * @throws RangeError when the field has no such cylinder
 */
export function servedCylinder(
  field: Field,
  cylinder: number | null,
  row: number,
  column: number,
  since: readonly TableSince[] = [],
): CylinderField {
  const candidates = cylinder === null ? field.cylinders : field.cylinders.filter((one) => one.cylinder === cylinder)
  if (candidates.length === 0) throw new RangeError(`The runs have no reading of cylinder ${cylinder}.`)
  if (candidates.length === 1) return candidates[0]!
  const { loadAxis, rpm, load } = field.grid
  const left = (one: CylinderField): number => {
    const change = one.changePct[row]![column] ?? null
    if (change === null) return -Infinity
    return factorFromPercent(change) / fuelSince(since, one.cylinder, loadAxis, rpm[column]!, load[row]!)
  }
  return candidates.reduce((best, one) => (left(one) > left(best) ? one : best))
}
