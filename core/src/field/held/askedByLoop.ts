import type { LoadGrid, Matrix } from '../../table/table'
import { correctedBy } from '../readings/correctedBy'
import type { FieldOptions } from '../field'

/** Passes whose corrections a loop may have asked for before it was seen, and by how much (ln) they may be off that. */
const MOST_PASSES = 3
const ROUGHLY = 0.005

/**
 * Whether a closed loop at lambda 1 could have asked for a correction: it asks ln(1 / target) of every pass, so nothing
 * where lambda 1 is the target. What goes another way, or far beyond, was asked by the engine itself.
 *
 * @param added ln of the fuel that was added
 * @param target wanted lambda
 */
export function isAskedByLoop(added: number, target: number): boolean {
  const asks = -Math.log(target)
  return Math.abs(added) <= ROUGHLY || (added * asks > 0 && Math.abs(added) <= MOST_PASSES * Math.abs(asks) + ROUGHLY)
}

/** ln of the fuel that was added for a cylinder since the first pass before, by node `[row, column]`; null without a pass before. */
export function addedSince(
  { grid, corrected, correctedBefore }: Pick<FieldOptions, 'grid' | 'corrected' | 'correctedBefore'>,
  cylinder: number,
): ((row: number, column: number) => number) | null {
  if (!correctedBefore) return null
  const [then, now] = [correctedBefore, corrected].map((one) => correctedBy(grid, one, cylinder))
  const rows = grid.load.length
  return (row, column) => (now?.[column * rows + row] ?? 0) - (then?.[column * rows + row] ?? 0)
}

/** Whether most nodes of a held zone were corrected as no loop could have asked: then none held them before. */
export function isCorrectedOtherwise(
  added: (row: number, column: number) => number,
  { rpm }: LoadGrid,
  target: Matrix,
  zone: { row: number; fromRpm: number; toRpm: number },
): boolean {
  const inside = rpm.flatMap((one, column) => (one >= zone.fromRpm && one <= zone.toRpm ? [column] : []))
  const otherwise = inside.filter((column) => !isAskedByLoop(added(zone.row, column), target[zone.row]![column]!))
  return otherwise.length > inside.length / 2
}
