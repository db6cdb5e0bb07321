import { counted, grouped } from '../numbers/format'
import type { Table, TableKind } from '../table/table'
import { MOST_FILLING } from '../fuel/filling'
import { LEANEST_UNDER_LOAD, UNDER_LOAD } from '../field/target'
import type { Danger } from './danger'

/** Advance beyond which no usual engine runs, degrees: anywhere, and from high load up (common practice). */
const MOST_ADVANCE = { anywhere: 55, underLoad: 48 }
/** A trim further than this is another injector, not a trim, % (common practice). */
const MOST_TRIM = { less: 30, more: 60 }
const MOST_SPARK_TRIM = { less: 15, more: 10 }
/** Below this opening a table may well hold nothing: it is the overrun's. */
const SHUT = { throttle: 10, manifold: 40 }
const LEANEST_ANYWHERE = 1.15

/** Why a value cannot be meant where nothing is known to judge it by; null when it may be. */
function faultOf(kind: TableKind, value: number, load: number, isUnderLoad: boolean, isShut: boolean): string | null {
  switch (kind) {
    case 'fuel base':
      return value <= 0 && !isShut && load > 0 ? 'no fuel' : null
    case 'filling':
      if (value <= 0) return isShut || load === 0 ? null : 'no fuel'
      return value > MOST_FILLING
        ? `${value} % filled; without a blower an engine breathes ${MOST_FILLING} % at the best`
        : null
    case 'fuel trim':
      return value < -MOST_TRIM.less || value > MOST_TRIM.more
        ? `${value} %; a trim of an engine that runs lies within -${MOST_TRIM.less} and +${MOST_TRIM.more} %`
        : null
    case 'spark base': {
      const most = isUnderLoad ? MOST_ADVANCE.underLoad : MOST_ADVANCE.anywhere
      return value > most ? `${value}° of advance, usual is ${most}° at the most` : null
    }
    case 'spark trim':
      return value < -MOST_SPARK_TRIM.less || value > MOST_SPARK_TRIM.more
        ? `${value}°; usual is within -${MOST_SPARK_TRIM.less} and +${MOST_SPARK_TRIM.more}°`
        : null
    case 'lambda target': {
      const most = isUnderLoad ? LEANEST_UNDER_LOAD : LEANEST_ANYWHERE
      return value > most ? `lambda ${value}, at most ${most}` : null
    }
    default:
      return null
  }
}

const MOST_NAMED = 4

/** Cells of a table of filling that go beyond what an engine breathes, and further than before. */
export function overfilled(before: Table, after: Table, at = ''): Danger[] {
  if (after.kind !== 'filling') return []
  const values = after.values.map((cells, row) =>
    cells.map((one, column) => (one > before.values[row]![column]! ? one : Math.min(one, MOST_FILLING))),
  )
  return firstValues({ ...after, values }, at).map((one) => ({ ...one, text: `${one.text} ${MEANT}` }))
}
const MEANT = 'Was the commanded lambda meant? What is intended goes there.'

/**
 * Values of a table that nothing is known to judge by, such as its first revision, which no usual engine runs on: no fuel, a
 * trim or an advance beyond what is known in practice, a lean target under load (common practice).
 *
 * @param at where the table stands in what was asked
 */
export function firstValues({ kind, loadAxis, rpm, load, values }: Table, at = 'table.'): Danger[] {
  const high = loadAxis === 'throttle' ? UNDER_LOAD : 0.85 * load.at(-1)!
  const lines = values.flatMap((cells, row) =>
    cells.flatMap((value, column) => {
      const fault = faultOf(kind, value, load[row]!, load[row]! >= high, load[row]! < SHUT[loadAxis])
      return fault
        ? [
            {
              field: `${at}values[${row}][${column}]`,
              message: `${grouped(rpm[column]!)} rpm, load ${load[row]}: ${fault}`,
            },
          ]
        : []
    }),
  )
  if (lines.length === 0) return []
  const named = lines.slice(0, MOST_NAMED).map((one) => one.message)
  const rest = lines.length - named.length
  return [
    {
      kind: 'table values',
      field: `${at}values`,
      text: `${counted(lines.length, 'cell holds', 'cells hold')} what no usual engine runs on: ${named.join('; ')}${rest > 0 ? `; and ${rest} more` : ''}. Look at the unit and the place of the values, or say why they are so.`,
      lines,
    },
  ]
}
