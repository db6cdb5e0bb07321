import type { RigSample } from './sample'
import { KNOCK_LEVEL, KNOCKS } from '../spark/knock'

/** Steps through settings at a held point. */
export interface Stepping {
  /** the setting to be at now, given what is read; null when all are through */
  next(sample: RigSample): number | null
  /** why settings further on are left out; empty while none is */
  note(): string
}

export interface SteppingChoice {
  /** degrees of advance, or percent of fuel, added; in the order in which they are run */
  offsets: readonly number[]
  /** s at each */
  seconds: number
  /** the side on which it gets dangerous: more advance (1), less fuel (-1) */
  danger: 1 | -1
  /** share of torque lost from one setting to the next on that side, from which nothing further is tried; null to go on */
  falls: number | null
  unit: string
}

/** Torque lost by more advance, from which it has stopped rising: beyond what readings scatter by. */
export const TORQUE_FALLS = 0.01
/** s that torque takes to follow a setting. */
const FOLLOWS = 0.8

/**
 * Settings one after the other. Knock ends a setting at once and leaves out all that lie further on the dangerous side; so
 * does torque that falls.
 */
export function stepping({ offsets, seconds, danger, falls, unit }: SteppingChoice): Stepping {
  let at = 0
  let began = NaN
  let row = 0
  let sum = { torque: 0, count: 0 }
  let limit = Infinity
  let note = ''
  const means: { side: number; torque: number }[] = []

  const side = (k: number): number => danger * offsets[k]!
  function leaveOut(from: number, why: string): void {
    if (from >= limit) return
    limit = from
    note = why
  }
  function onward(time: number): void {
    if (sum.count > 0) means.push({ side: side(at), torque: sum.torque / sum.count })
    do at++
    while (at < offsets.length && side(at) > limit)
    ;[began, row, sum] = [time, 0, { torque: 0, count: 0 }]
  }
  const named = (): string => `${offsets[at]! > 0 ? '+' : ''}${offsets[at]} ${unit}`

  return {
    next({ time, torque, knock }) {
      if (at >= offsets.length) return null
      if (Number.isNaN(began)) began = time
      row = knock > KNOCK_LEVEL ? row + 1 : 0
      if (row >= KNOCKS) {
        // Not this one again, nor anything beyond.
        leaveOut(side(at) - 1e-9, `knock at ${named()}: nothing further is tried`)
        onward(time)
      } else if (time - began >= seconds) {
        const mean = sum.torque / sum.count
        const lost = means.some((one) => one.side < side(at) && mean < one.torque * (1 - (falls ?? 1)))
        if (falls !== null && lost) leaveOut(side(at), `torque falls at ${named()}: nothing further is tried`)
        onward(time)
      } else if (time - began >= FOLLOWS) {
        sum.torque += torque
        sum.count++
      }
      return at < offsets.length ? offsets[at]! : null
    },
    note: () => note,
  }
}
