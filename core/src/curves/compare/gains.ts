import { mean } from '../../numbers/mean'
import type { RpmBand } from '../../run/run'
import {
  differenceErrors,
  errorAt,
  errorBetween,
  errorOver,
  intervalAbout,
  type DifferenceErrors,
  type ErrorOf,
} from './differenceErrors'
import { spreadOf, valuesAt, type Quantity } from '../torque/quantity'
import { binRpm, binsWithin, type CurveRuler } from '../lay/ruler'

/** One line of the table of gains: what two sets show, and by how much they differ. */
export interface Gain {
  what: 'peak' | 'highest speed of both' | 'mean over a band' | 'area over a band' | 'at an rpm'
  band: RpmBand | null
  /** rpm at which the figure stands, for each set; null for bands */
  rpm: [number, number] | null
  first: number
  second: number
  difference: number
  /** of the first; null when that is zero */
  percent: number | null
  /** of a line at the highest speed both reached: what each curve still does there, for want of a peak */
  ends?: [CurveEnd, CurveEnd]
  /** 90 % interval of the difference, by the errors that the curve itself has; null when there are too few runs */
  low: number | null
  high: number | null
}

/** What a curve does over the span that both sets reached: it has a peak in it, or none. */
type CurveEnd = 'has a peak' | 'still rising' | 'falling all along'

export interface GainChoice {
  quantity: Quantity
  bands: readonly RpmBand[]
  at: readonly number[]
}

/**
 * Gains of the second set over the first: peak and where, mean and area over bands, values at given rpm. Lines that one
 * of the sets does not reach are left out. A peak counts as one only where the curve falls on both sides inside the span
 * that both sets reached; else they are told at the highest speed both reached. Of mixture there is neither peak nor area.
 *
 * @param first, second values of one quantity, by run and bin
 * @param errors how far their difference may be off; from the runs alone when left out
 */
export function gainsTable(
  first: readonly Float32Array[],
  second: readonly Float32Array[],
  ruler: CurveRuler,
  { quantity, bands, at }: GainChoice,
  errors: DifferenceErrors = differenceErrors(first, second, ruler),
): Gain[] {
  const sets: Sets = { first, second, ruler, errors }
  const lines: (Gain | null)[] = [
    quantity === 'lambda' ? null : topGain(sets),
    ...bands.flatMap((band) => [
      bandGain(sets, band, 'mean over a band'),
      quantity === 'lambda' ? null : bandGain(sets, band, 'area over a band'),
    ]),
    ...at.map((rpm) => rpmGain(sets, rpm)),
  ]
  return lines.filter((line): line is Gain => line !== null)
}

interface Sets {
  first: readonly Float32Array[]
  second: readonly Float32Array[]
  ruler: CurveRuler
  errors: DifferenceErrors
}

const CONFIDENCE = 0.9

function gain(
  what: Gain['what'],
  band: RpmBand | null,
  rpm: Gain['rpm'],
  a: readonly number[],
  b: readonly number[],
  error: ErrorOf | null,
): Gain | null {
  if (a.length === 0 || b.length === 0) return null
  const [first, second] = [mean(a), mean(b)]
  const difference = second - first
  const [low, high] = error ? intervalAbout(difference, error, CONFIDENCE) : [null, null]
  const percent = first === 0 ? null : (100 * difference) / Math.abs(first)
  return { what, band, rpm, first, second, difference, percent, low, high }
}

/** A curve must fall by this share on both sides of its highest value for that to be a peak. */
const FALLS = 0.01

/** Mean curve of a set over a span of bins that all of its runs reach. */
interface MeanCurve {
  from: number
  to: number
  at: (bin: number) => number
}

function meanCurve(values: readonly Float32Array[], ruler: CurveRuler): MeanCurve | null {
  const { mean, runs } = spreadOf(values, ruler)
  // Where a run ends earlier, the mean would jump.
  const whole = [...runs].map((count) => count === values.length && count > 0)
  const from = whole.indexOf(true)
  return from < 0 ? null : { from, to: whole.lastIndexOf(true), at: (bin) => mean[bin]! }
}

/** Highest bin of a curve within a span, and whether it falls on both sides of it. */
function topOf({ at }: MeanCurve, from: number, to: number): { bin: number; end: CurveEnd } {
  let bin = from
  for (let k = from; k <= to; k++) if (at(k) > at(bin)) bin = k
  const falls = (first: number, last: number): boolean => {
    for (let k = first; k <= last; k++) if (at(k) <= (1 - FALLS) * at(bin)) return true
    return false
  }
  const end = !falls(bin, to) ? 'still rising' : !falls(from, bin) ? 'falling all along' : 'has a peak'
  return { bin, end }
}

/** The peaks of both, and each run's own value there; where one has none, both at the highest speed that both reached. */
function topGain({ first, second, ruler, errors }: Sets): Gain | null {
  const [a, b] = [meanCurve(first, ruler), meanCurve(second, ruler)]
  if (!a || !b) return null
  const [from, to] = [Math.max(a.from, b.from), Math.min(a.to, b.to)]
  if (from > to) return null
  const tops = [topOf(a, from, to), topOf(b, from, to)] as const
  const ends: [CurveEnd, CurveEnd] = [tops[0].end, tops[1].end]
  const hasPeaks = ends.every((end) => end === 'has a peak')
  const [at, bt] = hasPeaks ? [tops[0].bin, tops[1].bin] : [to, to]
  const line = gain(
    hasPeaks ? 'peak' : 'highest speed of both',
    null,
    [binRpm(ruler, at), binRpm(ruler, bt)],
    valuesAt(first, at),
    valuesAt(second, bt),
    errorBetween(errors, at, bt),
  )
  return line && (hasPeaks ? line : { ...line, ends })
}

/** Mean, or area in units x 1000 rpm, of each run that covers the whole band. */
function bandGain(
  { first, second, ruler, errors }: Sets,
  band: RpmBand,
  what: 'mean over a band' | 'area over a band',
): Gain | null {
  const [from, to] = binsWithin(ruler, band.fromRpm, band.toRpm)
  if (to - from < 2) return null
  const width = what === 'mean over a band' ? 1 : ((to - from - 1) * ruler.step) / 1000
  const overBand = (values: readonly Float32Array[]): number[] =>
    values.flatMap((one) => {
      const part = one.subarray(from, to)
      if (part.some(Number.isNaN)) return []
      // Trapezoids: the ends count half.
      const sum = part.reduce((total, value) => total + value, 0) - (part[0]! + part.at(-1)!) / 2
      return [(width * sum) / (part.length - 1)]
    })
  const sides = [overBand(first), overBand(second)] as const
  return gain(what, band, null, ...sides, errorOver(errors, sides, from, to))
}

/** Each run's value at an engine speed, by a straight line between bins; its error is that of the nearest. */
function rpmGain({ first, second, ruler, errors }: Sets, rpm: number): Gain | null {
  const place = (rpm - ruler.first) / ruler.step
  const bin = Math.min(ruler.count - 2, Math.floor(place))
  if (bin < 0 || place > ruler.count - 1) return null
  const share = place - bin
  const at = (values: readonly Float32Array[]): number[] =>
    values
      .map((one) => (share === 0 ? one[bin]! : one[bin]! + share * (one[bin + 1]! - one[bin]!)))
      .filter((value) => value === value)
  return gain('at an rpm', null, [rpm, rpm], at(first), at(second), errorAt(errors, Math.round(place)))
}
