import { interpolate } from './lookup'
import type { Table } from './table'

/**
 * A table on the breakpoints of another, and what was lost on the way, in words: cells beyond its own reach are held
 * flat, breakpoints finer than the new ones are passed over.
 *
 * @param onto breakpoints to come to; same kind of load axis
 * @throws RangeError when the load axes differ: throttle is no pressure
 * @example
 * resample({ rpm: [1000, 2000], load: [0, 100], values: [[0, 2], [4, 6]] }, { rpm: [1000, 1500], load: [0, 50] }).table.values // [[0, 1], [2, 3]]
 */
export function resample(
  table: Table,
  onto: Pick<Table, 'loadAxis' | 'rpm' | 'load'>,
): { table: Table; lost: string[] } {
  if (table.loadAxis !== onto.loadAxis)
    throw new RangeError(
      `The one table goes by ${table.loadAxis}, the other by ${onto.loadAxis}: none can stand for the other.`,
    )
  const { rpm, load, loadAxis } = onto
  const values = load.map((at) => rpm.map((speed) => interpolate(table, table.values, speed, at)))
  const lost = (['rpm', 'load'] as const).flatMap((axis) => {
    const [own, other] = [table[axis], onto[axis]]
    const passed = own.filter((at) => at > other[0]! && at < other.at(-1)! && !other.includes(at)).length
    const beyond = other.filter((at) => at < own[0]! || at > own.at(-1)!).length
    return [
      ...(passed
        ? [`${passed} of its ${axis} breakpoints ${passed === 1 ? 'falls' : 'fall'} between the new ones`]
        : []),
      ...(beyond ? [`${beyond} ${axis} breakpoint${beyond === 1 ? '' : 's'} beyond its reach: held flat there`] : []),
      ...(own.at(-1)! > other.at(-1)!
        ? [`what it holds above ${other.at(-1)} ${axis === 'rpm' ? 'rpm' : 'load'} is left away`]
        : []),
    ]
  })
  return { table: { ...table, rpm: [...rpm], load: [...load], loadAxis, values }, lost }
}
