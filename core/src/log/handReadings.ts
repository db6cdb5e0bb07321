import { plain } from '../numbers/format'
import { lambdaShown } from '../fuel/mixture'
import type { LoadAxis } from '../table/table'
import { parseNumber } from './number'

/** One line of readings taken by hand at a settled point. Texts as typed: "13.1", "13.1-13.3", "0.91", empty for none. */
export interface HandReading {
  rpm: number
  /** throttle or power setting: % of plate, or manifold pressure in kPa */
  load: number
  /** by cylinder or bank */
  readings: string[]
  /** °C of exhaust gas by cylinder or bank; null where none was read */
  exhaustC?: (number | null | undefined)[] | undefined
}

/** A reading as a range of lambda; low equals high for a single number. */
export interface ReadRange {
  low: number
  high: number
}

/** A reading that cannot be taken, and where: row and bank from 0; bank null for rpm or load. */
export interface HandFault {
  row: number
  bank: number | null
  field: 'rpm' | 'load' | 'readings'
  message: string
}

/** A range that is wider than this is no settled reading, high over low. */
const WIDEST = 1.15
const LIMITS = { lambda: [0.5, 1.6], rpm: [300, 30000], throttle: [0, 105], manifold: [5, 400] } as const

/**
 * Reads one cell: a number or a range, as lambda or as AFR of the gauge.
 *
 * @param scale AFR the gauge shows at lambda 1
 * @returns null for an empty cell; a text saying what is wrong
 */
export function readReading(text: string, scale: number): ReadRange | null | string {
  const typed = text.trim()
  if (typed === '') return null
  const parts = typed.split(/\s*(?:to|bis|\.\.+|[-–—/])\s*/i)
  const values = parts.map((part) => parseNumber(part, part.includes(',')))
  if (parts.length > 2 || values.some((value) => !(value > 0)))
    return `"${typed.slice(0, 20)}" is no reading. Type a number such as 13.1, or a range such as 13.1-13.3.`
  const lambda = values.map((value) => lambdaShown(value, scale)).sort((a, b) => a - b)
  const [low, high] = [lambda[0]!, lambda.at(-1)!]
  if (high / low > WIDEST)
    return `"${typed.slice(0, 20)}" is too wide for one reading. Wait until the gauge stands still, or type two lines.`
  if (low < LIMITS.lambda[0] || high > LIMITS.lambda[1])
    return `"${typed.slice(0, 20)}" is lambda ${plain(low, 2)} to ${plain(high, 2)}, outside ${LIMITS.lambda.join(' to ')}. Check the figure and the gauge's scale.`
  return { low, high }
}

/** Columns of a run of hand readings, each a row: what `RunColumns` needs, in the core's units. */
export interface HandColumns {
  time: Float32Array
  rpm: Float32Array
  load: Float32Array
  lambda: Float32Array[]
  /** half width of the widest range in the row, lambda */
  handRange: Float32Array
  /** °C by bank, of those that were read */
  exhaust: Float32Array[]
}

/** s between two readings in the stored run: they were taken one after another, how fast does not matter. */
const APART = 20

/**
 * Makes columns of readings by hand, or says for every cell what is wrong with it.
 *
 * @param banks how many cylinders or banks there are readings of
 */
export function handColumns(
  rows: readonly HandReading[],
  { scale, loadAxis }: { scale: number; loadAxis: LoadAxis },
): { columns: HandColumns } | { faults: HandFault[] } {
  const faults: HandFault[] = []
  const check = (row: number, field: 'rpm' | 'load', value: number, [least, most]: readonly [number, number]): void => {
    if (!(value >= least && value <= most))
      faults.push({
        row,
        bank: null,
        field,
        message: Number.isFinite(value) ? `${value} is outside ${least} to ${most}` : 'is no number',
      })
  }
  const banks = Math.max(0, ...rows.map((row) => row.readings.length))
  const read = rows.map((one, row) => {
    check(row, 'rpm', one.rpm, LIMITS.rpm)
    check(row, 'load', one.load, LIMITS[loadAxis])
    const ranges = Array.from({ length: banks }, (_, bank) => {
      const range = readReading(one.readings[bank] ?? '', scale)
      if (typeof range !== 'string') return range
      faults.push({ row, bank, field: 'readings', message: range })
      return null
    })
    if (!one.readings.some((text) => text.trim() !== ''))
      faults.push({ row, bank: 0, field: 'readings', message: 'no reading in this line' })
    return ranges
  })
  if (rows.length === 0) faults.push({ row: 0, bank: null, field: 'rpm', message: 'there are no readings' })
  if (faults.length) return { faults }
  const middle = (range: ReadRange | null): number => (range ? (range.low + range.high) / 2 : NaN)
  return {
    columns: {
      time: Float32Array.from(rows, (_, k) => APART * k),
      rpm: Float32Array.from(rows, (one) => one.rpm),
      load: Float32Array.from(rows, (one) => one.load),
      lambda: Array.from({ length: banks }, (_, bank) => Float32Array.from(read, (ranges) => middle(ranges[bank]!))),
      handRange: Float32Array.from(read, (ranges) =>
        Math.max(...ranges.map((range) => (range ? (range.high - range.low) / 2 : 0))),
      ),
      exhaust: Array.from({ length: Math.max(0, ...rows.map((row) => row.exhaustC?.length ?? 0)) }, (_, bank) =>
        Float32Array.from(rows, (row) => row.exhaustC?.[bank] ?? NaN),
      ),
    },
  }
}
