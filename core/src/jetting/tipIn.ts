import type { RunColumns } from '../run/run'

/** What the mixture did as the throttle was opened fast. */
export interface TipIn {
  /** openings that were fast enough */
  count: number
  /** leanest reading after each, median over them, lambda */
  leanest: number
  richest: number
}

/** A rise of this much throttle, %, within this time, s, is a tip-in; looked at this long after it. */
const RISE = 20
const WITHIN = 0.3
const AFTER = 1
/** s between two that count as two. */
const APART = 1.5

/**
 * Mixture at tip-in out of a log: the leanest and richest reading within a second after the throttle was opened fast. Null
 * where that was never done.
 *
 * @param lag s from the throttle to the sensor
 * @param cylinder from 0
 */
export function tipInOf(runs: readonly RunColumns[], lag: number, cylinder: number): TipIn | null {
  const found: { leanest: number; richest: number }[] = []
  for (const { time, throttle, lambda, handRange } of runs) {
    const column = lambda[cylinder]
    if (!throttle || !column || handRange) continue
    let from = 0
    let last = -Infinity
    for (let i = 1; i < time.length; i++) {
      while (time[i]! - time[from]! > WITHIN) from++
      if (!(throttle[i]! - throttle[from]! >= RISE) || time[i]! - last < APART) continue
      last = time[i]!
      let [leanest, richest] = [-Infinity, Infinity]
      for (let j = i; j < time.length && time[j]! <= last + lag + AFTER; j++) {
        const value = column[j]!
        if (time[j]! < last + lag || !(value > 0)) continue
        leanest = Math.max(leanest, value)
        richest = Math.min(richest, value)
      }
      if (leanest > 0 && richest < Infinity) found.push({ leanest, richest })
    }
  }
  if (found.length === 0) return null
  const middle = (values: number[]): number => values.sort((a, b) => a - b)[Math.floor(values.length / 2)]!
  return {
    count: found.length,
    leanest: middle(found.map((one) => one.leanest)),
    richest: middle(found.map((one) => one.richest)),
  }
}
