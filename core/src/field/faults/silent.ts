import { percentFromFactor } from '../../fuel/mixture'
import { build, type SparseMatrix } from '../../table/table'
import { levelAt } from '../levelAt'
import { correctedBy } from '../readings/correctedBy'
import type { Corrected, CylinderField, Field, FieldOptions } from '../field'

/** A pass before, as it was read, and what had been corrected by then. */
export interface EarlierField {
  field: Field
  corrected: readonly Corrected[]
}

/** Least fuel (ln) that must have been moved for an answer to be told from chance. */
const LEAST_MOVED = Math.log(1.02)
/** A reading answers when it moved by more than this share of what the fuel should have moved it. */
const ANSWERS = 0.5
/** Half widths of both intervals together by which the answer must be missed: among some hundred cells hardly one by chance. */
const CLEAR = 1.8
/** A reading this near lambda 1 (ln) that does not answer is a closed loop's. */
const NEAR_ONE = 0.015

/** Fuel, ln, that was moved at a cell between an earlier pass and now, and did not show in the reading; null where it showed, or nothing tells. */
function unanswered(
  now: CylinderField,
  then: CylinderField,
  moved: number,
  row: number,
  column: number,
): number | null {
  if (Math.abs(moved) < LEAST_MOVED) return null
  const [a, b] = [levelAt(then, row, column), levelAt(now, row, column)]
  if (!a || !b) return null
  const answer = (a.level - b.level) / moved
  const missed = Math.abs(moved) * (1 - answer)
  return answer < ANSWERS && missed > CLEAR * Math.hypot(a.half, b.half) ? moved : null
}

/**
 * Marks cells that do not answer: their reading is where it was in an earlier pass, beyond what both intervals allow, in spite
 * of 2 % or more of fuel since. More fuel is no cure there: a closed loop, a misfire, a leak, the pump, or another table is at
 * work. Where the reading stands at lambda 1 a loop is, and what was corrected since is to be taken back.
 *
 * @param field of the newest pass; @param earlier passes on the same hardware, oldest first
 * @param options of the field, with what was corrected before it
 * @returns the field, with `silentPct` and `undoPct` of its cylinders
 */
export function withAnswers(field: Field, earlier: readonly EarlierField[], options: FieldOptions): Field {
  if (earlier.length === 0 || field.method === 'nearest') return field
  const { grid } = field
  const cylinders = field.cylinders.map((one): CylinderField => {
    const total = correctedBy(grid, options.corrected, one.cylinder)
    const passes = earlier.flatMap(({ field: before, corrected }) => {
      const then = before.cylinders.find((other) => other.cylinder === one.cylinder)
      return then ? [{ then, total: correctedBy(grid, corrected, one.cylinder) }] : []
    })
    const silent = build(grid, (row, column): number | null => {
      const k = column * grid.load.length + row
      // The newest pass that enough was moved since has the word.
      for (const { then, total: before } of [...passes].reverse()) {
        const moved = (total?.[k] ?? 0) - (before?.[k] ?? 0)
        if (Math.abs(moved) < LEAST_MOVED || !levelAt(then, row, column)) continue
        return unanswered(one, then, moved, row, column)
      }
      return null
    })
    const isLoop = (row: number, column: number): boolean =>
      options.hasLoop && Math.abs(Math.log(one.lambda[row]![column]!)) < NEAR_ONE
    const undo: SparseMatrix = build(grid, (row, column) => {
      const moved = silent[row]![column]!
      return moved !== null && isLoop(row, column)
        ? percentFromFactor(Math.exp(-moved))
        : (one.undoPct[row]![column] ?? null)
    })
    return {
      ...one,
      silentPct: silent.map((cells) =>
        cells.map((moved) => (moved === null ? null : percentFromFactor(Math.exp(moved)))),
      ),
      undoPct: undo,
    }
  })
  return { ...field, cylinders }
}
