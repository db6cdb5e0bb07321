import { median } from '../numbers/median'
import { valuesAt } from './quantity'

/** A run made while the engine was still warming up, and what tells so. */
export interface WarmUp {
  /** index of the run, in the order in which they were made */
  run: number
  why: string
}

/** °C below the hottest repeat that count as cold. */
const COLDER = 8
/** Whole-curve offset from the later runs, %, that counts as drift, at least and in units of their own spread. */
const LEAST_DRIFT = 1.5
const DRIFT_SPREADS = 3

/**
 * Tells warm-up runs apart: the first ones, as long as they are colder than the last or lie off the later ones as a whole.
 * A run in the middle that differs is no warm-up.
 *
 * @param values one quantity by run and bin, in the order in which the runs were made
 * @param coolant mean of each run, °C; NaN when not logged
 */
export function warmUpRuns(values: readonly Float32Array[], coolant: readonly number[]): WarmUp[] {
  const hottest = Math.max(...coolant.filter((value) => value === value))
  const found: WarmUp[] = []
  for (let run = 0; run < values.length - 2; run++) {
    const cold = hottest - coolant[run]!
    const later = values.slice(run + 1)
    const offset = offsetPct(values[run]!, later)
    const others = later.map((one, k) =>
      offsetPct(
        one,
        later.filter((_, j) => j !== k),
      ),
    )
    const spread = Math.max(0, ...others.map(Math.abs))
    const drifts = Math.abs(offset) > Math.max(LEAST_DRIFT, DRIFT_SPREADS * spread)
    if (cold > COLDER)
      found.push({ run, why: `coolant ${Math.round(coolant[run]!)} °C, ${Math.round(cold)} °C below the hottest run` })
    else if (drifts)
      found.push({
        run,
        why: `${Math.abs(offset).toFixed(1)} % ${offset < 0 ? 'below' : 'above'} the later runs as a whole`,
      })
    else break
  }
  return found
}

/** Median offset of a curve from the mean of others over all bins, %. 0 where they do not meet. */
function offsetPct(curve: Float32Array, others: readonly Float32Array[]): number {
  const offsets: number[] = []
  curve.forEach((value, bin) => {
    const there = valuesAt(others, bin)
    const mean = there.reduce((sum, one) => sum + one, 0) / there.length
    if (value === value && there.length && mean > 0) offsets.push(100 * (value / mean - 1))
  })
  return offsets.length ? median(offsets) : 0
}
