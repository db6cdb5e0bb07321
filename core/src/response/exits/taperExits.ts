import { setsFuel } from '../../table/kinds'
import { changeCell } from '../../change/applyFactor'
import { grouped, plain } from '../../numbers/format'
import type { Table } from '../../table/table'
import { tableDigits } from '../../table/tableDigits'
import type { LoopExit } from './loopExits'

/** A cell of a table as it is suggested, and why. */
export interface HandNode {
  before: number
  after: number
  /** percent of fuel, or of the table's own unit */
  size: number
  reason: string
}

/** Percent of mixture per 500 rpm that a taper allows (common practice). */
const TAPER = 2
/** A row is at an exit within this of its load, and this share of it, %. */
const SAME_ROW = { least: 4, share: 0.5 }

/**
 * A fuel table with the first open cells above loop exits tapered: the mixture leaves that of the closed loop by at most
 * `TAPER` percent per 500 rpm until it has come to where it is now.
 *
 * @returns nodes `[load][rpm]`; cells away from an exit stay
 * @throws RangeError for a table that holds no fuel, or is not by throttle
 */
export function taperExits(table: Table, exits: readonly LoopExit[]): HandNode[][] {
  if (!setsFuel(table) || table.loadAxis !== 'throttle')
    throw new RangeError('Only a fuel table by throttle is tapered at a loop exit.')
  return table.load.map((load, row) => {
    const exit = nearest(exits, load)
    return table.rpm.map((rpm, column) => {
      const before = table.values[row]![column]!
      const stays: HandNode = { before, after: before, size: 0, reason: 'no exit beside' }
      if (!exit || rpm < exit.rpm - exit.rpmError) return stays
      const step = exit.stepPct
      const allowed = Math.min(Math.abs(step), (TAPER * Math.max(0, rpm - exit.rpm)) / 500)
      const wanted = Math.sign(step) * allowed
      // lambda goes with one over the fuel.
      const size = 100 * ((1 + step / 100) / (1 + wanted / 100) - 1)
      if (Math.abs(size) < 0.05) return { ...stays, reason: 'as open as it is now' }
      const digits = 10 ** tableDigits(table)
      const after = Math.round(changeCell(before, size, table) * digits) / digits
      return {
        before,
        after,
        size,
        reason: `at most ${TAPER} % per 500 rpm from ${grouped(Math.round(exit.rpm))} rpm on`,
      }
    })
  })
}

function nearest(exits: readonly LoopExit[], load: number): LoopExit | null {
  const near = exits.filter((one) => Math.abs(one.load - load) <= Math.max(SAME_ROW.least, SAME_ROW.share * one.load))
  return near.length
    ? near.reduce((best, one) => (Math.abs(one.load - load) < Math.abs(best.load - load) ? one : best))
    : null
}

/** What an exit asks for, in words. */
export function exitWords({ rpm, stepPct, widthRpm, torquePct }: LoopExit): string {
  const way = stepPct < 0 ? 'richer' : 'leaner'
  const felt = Math.abs(stepPct) > TAPER
  const size = `${plain(Math.abs(stepPct), 1)} % ${way}${widthRpm > 50 ? ` over ${Math.round(widthRpm)} rpm` : ' at once'}`
  const torque = `${torquePct < 0 ? '−' : '+'}${plain(Math.abs(torquePct), 1)} % of torque by the usual mixture curve`
  return `Above ${grouped(Math.round(rpm))} rpm the mixture turns ${size}, ${torque}. ${
    felt
      ? `Taper the first open cells to at most ${TAPER} % per 500 rpm, or move the edge to where nobody rides.`
      : 'Nobody should feel that: leave it.'
  }`
}
