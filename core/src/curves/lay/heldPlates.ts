import { plain } from '../../numbers/format'
import { mean } from '../../numbers/mean'
import type { Curve } from './curve'
import { atStop, plateSlope } from './plateSlope'
import { spreadOf } from '../torque/quantity'
import type { CurveRuler } from './ruler'

/** Runs of one side on the ruler, and groups of repeats beside them. */
interface CurvesOfSide {
  curves: readonly Curve[]
  besides: readonly (readonly Curve[])[]
}

/** Runs of all sides brought to the plate they were meant to be held at. */
interface HeldPlates {
  bring: (curves: readonly Curve[]) => Curve[]
  /** standard error that this leaves in the difference of the two sides, share of torque by bin */
  doubt: Float64Array
  words: string | null
}

/** % of plate from which torque hardly follows it, and its share of the stop that is not worth a word. */
const OPEN = 95
const HARDLY = 0.01

/** @returns null at full throttle, and where no stop is known: torque then stays as it was made */
export function heldPlates(laid: readonly CurvesOfSide[], ruler: CurveRuler, stop: number | null): HeldPlates | null {
  if (stop === null || stop <= 0 || stop >= OPEN) return null
  const slope = plateSlope(
    laid.map(({ curves }) => curves),
    laid.flatMap(({ besides }) => besides.flat()),
    stop,
    ruler,
  )
  const plates = laid.map(
    ({ curves }) =>
      spreadOf(
        curves.flatMap(({ plate }) => plate ?? []),
        ruler,
      ).mean,
  )
  const [before, after] = [plates[0]!, plates.at(-1)!]
  const means = plates.map((one) => mean(one)).filter((one) => one === one)
  const isOff = means.some((one) => Math.abs(one / stop - 1) > HARDLY)
  return {
    bring: (curves) => curves.map((curve) => atStop(curve, stop, slope)),
    doubt: slope.error.map((error, bin) => Math.abs(Math.log(after[bin]! / before[bin]!)) * error || 0),
    words: isOff
      ? `Held at ${means.map((one) => plain(one, 1)).join(' and ')} % of plate; torque is brought to ${stop} % by its slope with plate (${plain(mean(slope.slope), 2)} % of torque for 1 % of the opening).`
      : null,
  }
}
