import { median } from '../numbers/median'

/** A channel that values alone make likely, in a unit. */
interface Guess {
  channel: string
  unit: string
}

/** Rows, and share of numbers among them, from which anything is told. */
const LEAST_ROWS = 15
const LEAST_NUMBERS = 0.9

const steps = (values: readonly number[]): number[] => values.slice(1).map((one, k) => one - values[k]!)
const span = (values: readonly number[]): number => Math.max(...values) - Math.min(...values)
const within = (values: readonly number[], least: number, most: number): boolean =>
  values.every((one) => one >= least && one <= most)
/** Whether values go on from row to row, as what is measured does, and do not jump about. */
const isSmooth = (values: readonly number[]): boolean =>
  median(steps(values).map(Math.abs)) <= 0.2 * Math.max(span(values), 1e-9)

/** Time rises at every row by about the same; what counts rows is none. */
function isTime(values: readonly number[]): boolean {
  const by = steps(values)
  const usual = median(by)
  if (by.every((one) => one === 1)) return false
  return usual > 0 && by.every((one) => one >= 0) && by.filter((one) => one > 5 * usual).length <= 0.05 * by.length
}

/** What speed of an engine does: moves through hundreds, within what engines turn. */
const isRpm = (values: readonly number[]): boolean =>
  within(values, 0, 20_000) &&
  median(values) > 700 &&
  span(values) > 300 &&
  Math.max(...values) > 1300 &&
  isSmooth(values)

/** Mixture as lambda, or as AFR where it cannot be a battery's voltage. */
function mixtureUnit(values: readonly number[]): 'λ' | 'AFR' | null {
  const moves = span(values) > 0
  if (moves && within(values, 0.6, 1.6) && span(values) > 0.005) return 'λ'
  const noBattery = Math.min(...values) < 11.6 || Math.max(...values) > 15.2
  return moves && within(values, 8, 22) && noBattery && span(values) > 0.1 ? 'AFR' : null
}

/** An opening: from nearly shut to something, or held, and never beyond its ends. */
const isThrottle = (values: readonly number[]): boolean =>
  within(values, -2, 105) && Math.max(...values) > 15 && span(values) > 10 && isSmooth(values)

/**
 * What columns whose names say nothing may be, by their values in the first rows: time, engine speed, mixture, throttle, each only
 * where it is missing and one column alone looks like it.
 *
 * @param columns values by column; null for one that is not to be guessed
 * @param known channels that are there already
 * @returns by index of the column
 */
export function guessColumns(
  columns: readonly (readonly number[] | null)[],
  known: ReadonlySet<string>,
): Map<number, Guess> {
  const found = new Map<number, Guess>()
  const candidates = columns.flatMap((values, k) => {
    const numbers = values?.filter((one) => !Number.isNaN(one)) ?? []
    const enough = values && numbers.length >= LEAST_ROWS && numbers.length >= LEAST_NUMBERS * values.length
    return enough ? [{ k, values: numbers }] : []
  })
  const take = (channel: string, of: (values: readonly number[]) => string | null): void => {
    if (known.has(channel)) return
    const fitting = candidates.flatMap(({ k, values }) => {
      const unit = found.has(k) ? null : of(values)
      return unit === null ? [] : [{ k, unit }]
    })
    if (fitting.length === 1) found.set(fitting[0]!.k, { channel, unit: fitting[0]!.unit })
  }
  take('time', (values) => (isTime(values) ? '' : null))
  take('rpm', (values) => (!isTime(values) && isRpm(values) ? 'rpm' : null))
  take('lambda1', mixtureUnit)
  take('throttle', (values) => (!isTime(values) && isThrottle(values) ? '%' : null))
  return found
}
