import { cellKey, oddBands } from '../field/oddRuns'
import type { RpmBand } from '../log/run'
import type { CurveRuler } from './ruler'
import { valuesAt } from './quantity'

/** A run that differs from its repeats, and where. */
export interface OddCurve extends RpmBand {
  /** index of the run */
  run: number
  /** mean departure from the others, %; positive is more */
  departurePct: number
}

/** rpm over which a run must stay away from the others. */
const LEAST_WIDTH = 400
/** Bins where the median is a smaller share of the highest say nothing in percent. */
const LEAST_SHARE = 0.08

/**
 * Finds the odd run out among repeats, by rpm bin against the median of the others, in units of the usual spread; the
 * run and the band in which it differs, no more.
 *
 * @param values of one quantity, by run and bin; of three runs or more
 * @returns none for fewer than three runs: two runs cannot tell which of them is odd
 */
export function oddCurves(values: readonly Float32Array[], ruler: CurveRuler): OddCurve[] {
  if (values.length < 3) return []
  const middles = Array.from({ length: ruler.count }, (_, bin) => {
    const here = valuesAt(values, bin).sort((a, b) => a - b)
    return here.length ? (here[(here.length - 1) >> 1]! + here[here.length >> 1]!) / 2 : NaN
  })
  const highest = middles.reduce((most, value) => Math.max(most, Math.abs(value) || 0), 0)
  const cells = new Map<number, Map<number, number>>()
  middles.forEach((middle, bin) => {
    if (!(Math.abs(middle) > LEAST_SHARE * highest)) return
    const runs = values.flatMap((one, run): [number, number][] =>
      one[bin]! === one[bin]! ? [[run, one[bin]! / middle - 1]] : [],
    )
    cells.set(cellKey(0, bin), new Map(runs))
  })
  return oddBands(cells, {
    first: ruler.first - ruler.step / 2,
    step: ruler.step,
    leastBins: Math.max(2, Math.ceil(LEAST_WIDTH / ruler.step)),
    least: 3,
  }).map(({ run, fromRpm, toRpm, departure }) => ({ run, fromRpm, toRpm, departurePct: 100 * departure }))
}
