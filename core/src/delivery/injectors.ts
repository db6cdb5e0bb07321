import { build, type Matrix, type Table } from '../table/table'

/** A set of injectors: flow in any unit, and the time before one opens, ms. */
interface InjectorSet {
  flow: number
  deadMs: number
}

/** Injectors that are changed, and the rail pressure of both, where it is changed, too. */
export interface InjectorSwap {
  from: InjectorSet
  to: InjectorSet
  kPaFrom?: number | undefined
  kPaTo?: number | undefined
}

/** How much richer a swap begins: what is not known of new injectors is not to be found out lean. Common practice. */
export const BEGINS_RICHER = 1.03
/** Duty above which an injector may not shut any more in time, %. Common practice. */
export const MOST_DUTY = 85

/**
 * What a pulse is multiplied by, its dead time apart: flow of the old over the new, times the root of their pressures, 3 %
 * richer.
 *
 * @example
 * pulseFactor({ from: { flow: 200, deadMs: 0.8 }, to: { flow: 250, deadMs: 0.9 } }).toFixed(3) // '0.824'
 */
export const pulseFactor = ({ from, to, kPaFrom = 1, kPaTo = 1 }: InjectorSwap): number =>
  (from.flow / to.flow) * Math.sqrt(kPaFrom / kPaTo) * BEGINS_RICHER

/**
 * A pulse of the new injectors for one of the old, ms; none stays none.
 *
 * @throws RangeError when the old one does not outlast its dead time
 * @example
 * rescaledPulse(2.8, { from: { flow: 200, deadMs: 0.8 }, to: { flow: 206, deadMs: 1 } }) // 3
 */
export function rescaledPulse(ms: number, swap: InjectorSwap): number {
  if (ms === 0) return 0
  if (!(ms > swap.from.deadMs)) throw new RangeError(`A pulse of ${ms} ms is over before the injector opens.`)
  return (ms - swap.from.deadMs) * pulseFactor(swap) + swap.to.deadMs
}

/**
 * Share of the time that an injector is open with one injection in two turns, %.
 *
 * @example
 * // 12 ms at 8,000 rpm: two turns take 15 ms
 * dutyPct(12, 8000) // 80
 */
export const dutyPct = (ms: number, rpm: number): number => (ms * rpm) / 1200

/** Pulses of a table after a swap, ms. @throws RangeError as `rescaledPulse` */
export const rescaledTable = (table: Pick<Table, 'rpm' | 'load' | 'values'>, swap: InjectorSwap): Matrix =>
  build(table, (row, column) => rescaledPulse(table.values[row]![column]!, swap))

/**
 * A table of pulses as the new injectors would have to be told for the same fuel as before: what the swap alone asks of it.
 * Cells whose pulse was over before the injector opened stay as they are.
 */
export const sameFuelTable = (table: Table, swap: InjectorSwap): Table => ({
  ...table,
  values: table.values.map((cells) =>
    cells.map((ms) =>
      ms > swap.from.deadMs ? ((ms - swap.from.deadMs) * pulseFactor(swap)) / BEGINS_RICHER + swap.to.deadMs : ms,
    ),
  ),
})

/** Duty of each cell of a table of pulses, %. */
export const tableDuty = ({ rpm, load }: Pick<Table, 'rpm' | 'load'>, pulses: Matrix): Matrix =>
  build({ rpm, load }, (row, column) => dutyPct(pulses[row]![column]!, rpm[column]!))
