import { cellKey, oddBands, type OddBand } from '../../field/faults/oddRuns'
import { median } from '../../numbers/median'
import type { RpmBand } from '../../run/run'
import type { CurveRuler } from './ruler'
import { valuesAt } from '../torque/quantity'

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
  const bins = middles.flatMap((middle, bin) => (Math.abs(middle) > LEAST_SHARE * highest ? [bin] : []))
  const departure = (run: number, bin: number): number => values[run]![bin]! / middles[bin]! - 1
  const levels = values.map((one, run) => {
    const own = bins.filter((bin) => one[bin]! === one[bin]!).map((bin) => departure(run, bin))
    return own.length ? median(own) : 0
  })
  // First each run about its own level, so that a run which is a little up or down as a whole does not hide a local fault
  // behind the spread; then as they are, for a run that is off over most of its span.
  const found: OddBand[] = []
  for (const level of [levels, levels.map(() => 0)]) {
    const cells = new Map(
      bins.map((bin) => {
        const runs = values.flatMap((one, run): [number, number][] =>
          one[bin]! === one[bin]! ? [[run, departure(run, bin) - level[run]!]] : [],
        )
        return [cellKey(0, bin), new Map(runs)]
      }),
    )
    const bands = oddBands(cells, {
      first: ruler.first - ruler.step / 2,
      step: ruler.step,
      leastBins: Math.max(2, Math.ceil(LEAST_WIDTH / ruler.step)),
      least: 3,
    })
    const isKnown = (band: OddBand): boolean =>
      found.some((one) => one.run === band.run && one.fromRpm < band.toRpm && band.fromRpm < one.toRpm)
    found.push(...bands.filter((band) => !isKnown(band)))
  }
  return found.map(({ run, fromRpm, toRpm, departure: mean }) => ({ run, fromRpm, toRpm, departurePct: 100 * mean }))
}
