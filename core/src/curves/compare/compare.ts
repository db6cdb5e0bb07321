import { realAmong } from '../../numbers/falseDiscovery'
import { mean } from '../../numbers/mean'
import { differenceErrors, errorAt, errorOfAll, intervalAbout, type DifferenceErrors } from './differenceErrors'
import { realSpans } from './realSpans'
import { spreadOf, valuesAt } from '../torque/quantity'
import { LEAST_SPREAD } from '../lay/repeatErrors'
import { rulerRpm, type CurveRuler } from '../lay/ruler'
import { studentFactor, studentTail } from '../../numbers/studentT'
import type { Difference } from '../../numbers/welch'

/** Two sets of runs against each other by rpm. Arrays by bin, null where the sets do not meet. */
export interface Comparison {
  rpm: number[]
  first: (number | null)[]
  second: (number | null)[]
  difference: (number | null)[]
  low: (number | null)[]
  high: (number | null)[]
  /** the difference is real at the rate asked for, over more than a few bins side by side */
  real: boolean[]
  /** what keeps an interval from being made, or null */
  note: string | null
}

export interface CompareOptions {
  /** of the interval */
  confidence: number
  /** share of falsely shaded bins to put up with */
  rate: number
}

export const DEFAULT_COMPARE: CompareOptions = { confidence: 0.9, rate: 0.05 }

/**
 * Difference of two sets by rpm bin, second minus first: interval over runs (not samples), the spread of repeats pooled over
 * bins and sides, and which bins are real after control of the false-discovery rate over all of them.
 *
 * @param first, second values of one quantity, by run and bin
 * @param errors how far their difference may be off; from the runs alone when left out
 * @throws RangeError when a set has no run
 */
export function compareSets(
  first: readonly Float32Array[],
  second: readonly Float32Array[],
  ruler: CurveRuler,
  { confidence, rate }: CompareOptions = DEFAULT_COMPARE,
  errors: DifferenceErrors = differenceErrors(first, second, ruler),
): Comparison {
  if (first.length === 0 || second.length === 0) throw new RangeError('A set without runs cannot be compared.')
  const levels = [spreadOf(first, ruler).mean, spreadOf(second, ruler).mean] as const
  const bins = Array.from({ length: ruler.count }, (_, bin): Bin => {
    const [a, b] = [levels[0][bin]!, levels[1][bin]!]
    if (a !== a || b !== b) return null
    const difference = b - a
    const told = errorAt(errors, bin)
    if (!told) return { first: a, second: b, difference, low: null, high: null, p: null, df: null }
    const [low, high] = intervalAbout(difference, told, confidence)
    return { first: a, second: b, difference, low, high, p: studentTail(difference / told.error, told.df), df: told.df }
  })
  const shares = bins.flatMap((one, bin) => (one && one.p !== null ? [one.difference / errors.scale[bin]!] : []))
  const whole = errorOfAll(errors)
  const p = shares.length && whole ? studentTail(mean(shares) / whole.error, whole.df) : 1
  return comparison(bins, ruler, rate, noteOn(first.length, second.length, bins), p)
}

/** Machines that can stand for their type, at the least. */
export const LEAST_MACHINES = 3

/** Several stock machines as one reference: mean and spread over machines by bin. */
export interface Reference {
  mean: Float32Array
  /** standard deviation over machines */
  spread: Float32Array
  machines: number
}

/** Makes a reference of machines, each by its mean curve. */
export function referenceOf(machines: readonly Float32Array[], ruler: CurveRuler): Reference {
  const mean = new Float32Array(ruler.count).fill(NaN)
  const spread = new Float32Array(ruler.count).fill(NaN)
  for (let bin = 0; bin < ruler.count; bin++) {
    const here = valuesAt(machines, bin)
    // Bins that only some machines reach would compare different machines along the curve.
    if (here.length < machines.length || here.length === 0) continue
    const middle = here.reduce((sum, value) => sum + value, 0) / here.length
    mean[bin] = middle
    if (here.length > 1)
      spread[bin] = Math.sqrt(here.reduce((sum, value) => sum + (value - middle) ** 2, 0) / (here.length - 1))
  }
  return { mean, spread, machines: machines.length }
}

/**
 * A set against a reference of stock machines: real where it lies outside what one more such machine would show.
 *
 * @param values of the set, by run and bin; its mean counts as one machine
 * @throws RangeError when the set has no run
 */
export function compareToReference(
  reference: Reference,
  values: readonly Float32Array[],
  ruler: CurveRuler,
  { confidence, rate }: CompareOptions = DEFAULT_COMPARE,
): Comparison {
  if (values.length === 0) throw new RangeError('A set without runs cannot be compared.')
  const { machines } = reference
  const bins = Array.from({ length: ruler.count }, (_, bin) => {
    const here = valuesAt(values, bin)
    const first = reference.mean[bin]!
    if (here.length === 0 || first !== first) return null
    const second = here.reduce((sum, value) => sum + value, 0) / here.length
    const difference = second - first
    const error = Math.max(reference.spread[bin]!, LEAST_SPREAD * Math.abs(first)) * Math.sqrt(1 + 1 / machines)
    if (machines < LEAST_MACHINES || error !== error)
      return { first, second, difference, low: null, high: null, p: null, df: null }
    const half = studentFactor(confidence, machines - 1) * error
    const p = studentTail(difference / error, machines - 1)
    return { first, second, difference, low: difference - half, high: difference + half, p, df: machines - 1 }
  })
  const note =
    machines < LEAST_MACHINES
      ? `${machines === 1 ? 'One machine is' : 'Two machines are'} no reference for the type: that needs three or more. The line is shown, nothing is shaded.`
      : null
  return comparison(bins, ruler, rate, bins.some((bin) => bin) ? note : NO_OVERLAP)
}

const NO_OVERLAP = 'The sets have no rpm in common, so there is nothing to compare.'

type Bin = (Difference & { first: number; second: number }) | null

function noteOn(first: number, second: number, bins: readonly Bin[]): string | null {
  if (!bins.some((bin) => bin)) return NO_OVERLAP
  const short = [first < 2 ? 'first' : '', second < 2 ? 'second' : ''].filter(Boolean)
  if (short.length === 0) return null
  return `The ${short.join(' and the ')} set has one run: an interval needs two, better three. The line is shown, nothing is shaded.`
}

function comparison(
  bins: readonly Bin[],
  ruler: CurveRuler,
  rate: number,
  note: string | null,
  whole?: number,
): Comparison {
  const rpm = rulerRpm(ruler)
  const difference = bins.map((bin) => bin && bin.difference)
  const found = realAmong(
    bins.map((bin) => bin && bin.p),
    rate,
    whole,
  )
  const wide = new Set(realSpans({ rpm, difference, real: found }).flat())
  return {
    rpm,
    first: bins.map((bin) => bin && bin.first),
    second: bins.map((bin) => bin && bin.second),
    difference,
    low: bins.map((bin) => bin && bin.low),
    high: bins.map((bin) => bin && bin.high),
    real: found.map((_, bin) => wide.has(bin)),
    note,
  }
}
