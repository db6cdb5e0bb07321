import type { RpmBand } from '../log/run'
import type { Comparison } from './compare'
import { valuesAt } from './quantity'
import { binRpm, binsWithin, type CurveRuler } from './ruler'
import { welch } from './welch'

/** One line of the table of gains: what two sets show, and by how much they differ. */
export interface Gain {
  what: 'peak' | 'mean over a band' | 'area over a band' | 'at an rpm'
  band: RpmBand | null
  /** rpm at which the figure stands, for each set; null for bands */
  rpm: [number, number] | null
  first: number
  second: number
  difference: number
  /** of the first; null when that is zero */
  percent: number | null
  /** 90 % interval of the difference over runs; null when there are too few */
  low: number | null
  high: number | null
}

export interface GainChoice {
  bands: readonly RpmBand[]
  at: readonly number[]
}

/**
 * Gains of the second set over the first: peak and where, mean and area over bands, values at given rpm. Lines that one
 * of the sets does not reach are left out.
 *
 * @param first, second values of one quantity, by run and bin
 */
export function gainsTable(
  first: readonly Float32Array[],
  second: readonly Float32Array[],
  ruler: CurveRuler,
  { bands, at }: GainChoice,
): Gain[] {
  const lines: (Gain | null)[] = [
    peakGain(first, second, ruler),
    ...bands.flatMap((band) => [
      bandGain(first, second, ruler, band, 'mean over a band'),
      bandGain(first, second, ruler, band, 'area over a band'),
    ]),
    ...at.map((rpm) => gain('at an rpm', null, [rpm, rpm], atRpm(first, ruler, rpm), atRpm(second, ruler, rpm))),
  ]
  return lines.filter((line): line is Gain => line !== null)
}

/** rpm at which the largest stretch begins in which the second set is really above the first; null if there is none. */
export function gainBegins({ rpm, real, difference }: Comparison): number | null {
  let best = { from: -1, area: 0 }
  let from = -1
  let area = 0
  for (let bin = 0; bin <= rpm.length; bin++) {
    if (real[bin] && difference[bin]! > 0) {
      if (from < 0) [from, area] = [bin, 0]
      area += difference[bin]!
    } else {
      if (from >= 0 && area > best.area) best = { from, area }
      from = -1
    }
  }
  return best.from < 0 ? null : rpm[best.from]!
}

function gain(
  what: Gain['what'],
  band: RpmBand | null,
  rpm: Gain['rpm'],
  a: readonly number[],
  b: readonly number[],
): Gain | null {
  if (a.length === 0 || b.length === 0) return null
  const mean = (values: readonly number[]): number => values.reduce((sum, value) => sum + value, 0) / values.length
  const first = mean(a)
  const { difference, low, high } = welch(a, b)
  const percent = first === 0 ? null : (100 * difference) / Math.abs(first)
  return { what, band, rpm, first, second: mean(b), difference, percent, low, high }
}

/** Highest value of the mean curve, and each run's own value there. */
function peakGain(first: readonly Float32Array[], second: readonly Float32Array[], ruler: CurveRuler): Gain | null {
  const peak = (values: readonly Float32Array[]): number => {
    let best = -1
    let most = -Infinity
    for (let bin = 0; bin < ruler.count; bin++) {
      const here = valuesAt(values, bin)
      // Where a run ends earlier, the mean would jump.
      if (here.length < values.length) continue
      const mean = here.reduce((sum, value) => sum + value, 0) / here.length
      if (mean > most) [best, most] = [bin, mean]
    }
    return best
  }
  const [a, b] = [peak(first), peak(second)]
  if (a < 0 || b < 0) return null
  return gain('peak', null, [binRpm(ruler, a), binRpm(ruler, b)], valuesAt(first, a), valuesAt(second, b))
}

/** Mean, or area in units x 1000 rpm, of each run that covers the whole band. */
function bandGain(
  first: readonly Float32Array[],
  second: readonly Float32Array[],
  ruler: CurveRuler,
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
  return gain(what, band, null, overBand(first), overBand(second))
}

/** Each run's value at an engine speed, by a straight line between bins. */
function atRpm(values: readonly Float32Array[], ruler: CurveRuler, rpm: number): number[] {
  const place = (rpm - ruler.first) / ruler.step
  const bin = Math.min(ruler.count - 2, Math.floor(place))
  if (bin < 0 || place > ruler.count - 1) return []
  const share = place - bin
  return values
    .map((one) => (share === 0 ? one[bin]! : one[bin]! + share * (one[bin + 1]! - one[bin]!)))
    .filter((value) => value === value)
}
