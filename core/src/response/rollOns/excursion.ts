import { fitFilm, fittedExcess, STARTS, type FilmFit, type FilmStart } from '../film/fitFilm'
import { FREE, fitFree, type FreeFit, type FreeStart } from '../film/freeCurve'
import type { SensorKnown } from '../film/sensorOf'
import { STEP, type TracedOpening } from '../film/tracedOpening'
import { NINETY } from '../../numbers/ninety'

/** An estimate with its 90 % interval. */
export type Estimate = readonly [estimate: number, low: number, high: number]

/** How far the mixture left where it settles after an opening, in the cylinder: lag and sensor are taken out. */
export interface Excursion {
  /** s after the opening of the first step, and lambda over where it settles, less 1, by even steps of STEP */
  first: number
  curve: Float64Array
  /** standard error of the curve */
  error: Float64Array
  /** percent of lambda, leaner and richer, each 0 or above */
  lean: Estimate
  rich: Estimate
  /** percent times seconds, leaner above zero */
  area: number
  /** s from the opening until within SETTLED for good; 0 when it never was outside */
  settle: Estimate
  /** lambda at which it settles, mean over the openings */
  settled: number
  /** what of the curve may be the steady mixture along speed instead: one deviation, as `curve` */
  doubt: number
  /** how likely no film is, and the curve without one at its knots; null where one is not at all likely */
  bare: { share: number; knots: Float64Array | null }
  /** films and enrichments that the readings allow, and what each makes of the longest opening, as `curve` */
  fits: { fit: FilmFit; excess: Float64Array; weight: number }[]
}

/** What fits of openings begin with. */
interface Starts {
  films: readonly FilmStart[]
  free: FreeStart
}
const USUAL_STARTS: Starts = { films: STARTS, free: FREE }

/** Share of lambda within which a mixture is settled. */
export const SETTLED = 0.02
/** Share by which a film is off that is no film of one kind, behind a filling that is not known better than by the opening. */
const OFF = 0.03
const LEAST_WEIGHT = 0.003

/**
 * The excursion of some openings of one kind, averaged over all that their readings allow: films, enrichments, responses of the sensor.
 *
 * @param starts where fits begin; `startsLike` the excursion of a group that these belong to, where there is one
 */
export function excursionOf(
  traced: readonly TracedOpening[],
  sensor: SensorKnown,
  { films, free }: Starts = USUAL_STARTS,
): Excursion {
  const all = sensor.likely.flatMap((one) =>
    films.map((start) => {
      const fit = fitFilm(traced, one, start)
      // A kind that is begun at two places is not the likelier for it.
      const before = start.weight ?? 1 / films.filter((other) => other.kind === start.kind).length
      return { fit, log: Math.log(one.weight * before) + fit.log }
    }),
  )
  const longest = traced.reduce((most, one) => (one.progress.length > most.progress.length ? one : most))
  const fits = likeliest(all).map(({ fit, weight }) => ({ fit, weight, ...fittedExcess(longest, fit) }))
  // Where no film meets the readings, what they say by themselves is the likelier.
  const bare = sensor.likely.map((one) => {
    const fit = fitFree(traced, one, free)
    return { fit, log: Math.log(one.weight * free.weight) + fit.log }
  })
  const both = likeliest<FilmFit | FreeFit>([...all, ...bare])
  const n = longest.progress.length
  const curve = new Float64Array(n)
  const square = new Float64Array(n)
  const told = both.map(({ fit, weight }) => ({
    weight,
    settled: fit.settled,
    ...('excess' in fit ? fit : fits.find((one) => one.fit === fit)!),
  }))
  for (const { excess, variance, weight } of told)
    for (let k = 0; k < n; k++) {
      curve[k]! += weight * excess[k]!
      square[k]! += weight * (excess[k]! ** 2 + variance[k]!)
    }
  const doubt = Math.max(...traced.map((one) => one.doubt))
  const error = square.map((value, k) =>
    Math.hypot(Math.sqrt(Math.max(0, value - curve[k]! ** 2)), OFF * curve[k]!, doubt),
  )
  const { first } = longest
  return {
    first,
    curve,
    error,
    lean: peakOf(curve, error, 1),
    rich: peakOf(curve, error, -1),
    area: 100 * STEP * curve.reduce((sum, value) => sum + value, 0),
    settle: settleOf(curve, error, first, Math.max(...traced.map((one) => one.interval)) + STEP),
    settled:
      traced.reduce((sum, _, p) => sum + told.reduce((s, { settled, weight }) => s + weight * settled[p]!, 0), 0) /
      traced.length,
    doubt,
    bare: meanKnots(both),
    fits,
  }
}

/** The free curves of what was fitted, averaged. */
function meanKnots(both: readonly { fit: FilmFit | FreeFit; weight: number }[]): Excursion['bare'] {
  const own = both.flatMap(({ fit, weight }) => ('knots' in fit ? [{ knots: fit.knots, weight }] : []))
  const share = own.reduce((sum, one) => sum + one.weight, 0)
  if (own.length === 0) return { share: 0, knots: null }
  const knots = own[0]!.knots.map((_, k) => own.reduce((sum, one) => sum + one.weight * one.knots[k]!, 0) / share)
  return { share, knots }
}

/** What is likely of all that was fitted, weights together 1. */
function likeliest<T>(all: readonly { fit: T; log: number }[]): { fit: T; weight: number }[] {
  const best = Math.max(...all.map((one) => one.log))
  const likely = all
    .map(({ fit, log }) => ({ fit, weight: Math.exp(log - best) }))
    .filter((one) => one.weight > LEAST_WEIGHT)
  const total = likely.reduce((sum, one) => sum + one.weight, 0)
  return likely.map(({ fit, weight }) => ({ fit, weight: weight / total }))
}

/** How far the curve of one opening lies from that of others like it, share of lambda. */
const ALIKE_SIZE = 0.008
/** How far the time constants of one opening lie from those of others like it, in logarithms. */
const ALIKE = 0.15

/** Where the fit of one opening begins, when others like it have been fitted together: the machine's film is the same. */
export function startsLike({ fits, bare }: Excursion): Starts {
  const films = (['amount', 'decay', 'both'] as const).flatMap((kind): FilmStart[] => {
    const own = fits.filter(({ fit }) => fit.kind === kind)
    if (own.length === 0) return []
    const { fit } = own.reduce((most, one) => (one.weight > most.weight ? one : most))
    const weight = own.reduce((sum, one) => sum + one.weight, 0) * (1 - bare.share)
    return [{ kind, tau: fit.tau, decay: fit.decay, spread: ALIKE, weight: Math.max(LEAST_WEIGHT, weight) }]
  })
  const weight = Math.max(LEAST_WEIGHT, bare.share)
  return { films, free: bare.knots ? { size: ALIKE_SIZE, about: bare.knots, weight } : { ...FREE, weight } }
}

function peakOf(curve: Float64Array, error: Float64Array, way: 1 | -1): Estimate {
  let [peak, at] = [0, 0]
  curve.forEach((value, k) => {
    if (way * value > peak) [peak, at] = [way * value, k]
  })
  const half = NINETY * (error[at] ?? 0)
  return [100 * peak, 100 * Math.max(0, peak - half), 100 * (peak + half)]
}

/**
 * When the curve is within SETTLED for good, and when it is so at the earliest and at the latest.
 *
 * @param clock s by which the log itself does not tell when an opening began
 */
function settleOf(curve: Float64Array, error: Float64Array, first: number, clock: number): Estimate {
  const since = (errors: number): number => {
    const last = curve.findLastIndex((value, k) => Math.abs(value) + errors * error[k]! > SETTLED)
    return last < 0 ? 0 : Math.max(0, first + (last + 1) * STEP)
  }
  const latest = since(NINETY)
  return [since(0), Math.max(0, since(-NINETY) - clock), latest && latest + clock]
}
