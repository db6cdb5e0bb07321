import { plain } from '../../numbers/format'
import { median } from '../../numbers/median'
import { studentTail } from '../../numbers/studentT'
import { valuesAt } from '../torque/quantity'
import { USUAL_LEVEL } from './repeatErrors'

/** A run made while the engine was still warming up, and what tells so. */
export interface WarmUp {
  /** index of the run, in the order in which they were made */
  run: number
  why: string
}

/** °C below the hottest repeat that count as cold. */
const COLDER = 8
/** Whole-curve offset from the later runs, %, that counts as drift, at least. */
const LEAST_DRIFT = 1.5
/** How unlikely it must be among repeats: a run that is dropped without need takes evidence away. */
const UNLIKELY = 0.008

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
    const drifts = Math.abs(offset) > LEAST_DRIFT && chanceOf(offset, later) < UNLIKELY
    if (cold > COLDER)
      found.push({ run, why: `coolant ${Math.round(coolant[run]!)} °C, ${Math.round(cold)} °C below the hottest run` })
    else if (drifts)
      found.push({
        run,
        why: `${plain(Math.abs(offset), 1)} % ${offset < 0 ? 'below' : 'above'} the later runs as a whole`,
      })
    else break
  }
  return found
}

/** How likely one more repeat lies this far off the later runs, which few as they are tell their spread only with the usual one. */
function chanceOf(offset: number, later: readonly Float32Array[]): number {
  const off = later.map((one) => offsetPct(one, later))
  const freedom = USUAL_LEVEL.worth + later.length - 1
  const squares = off.reduce((sum, one) => sum + one ** 2, USUAL_LEVEL.worth * (100 * USUAL_LEVEL.deviation) ** 2)
  return studentTail(offset / Math.sqrt((squares / freedom) * (1 + 1 / later.length)), freedom)
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
