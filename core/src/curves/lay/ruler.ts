/** Evenly spaced engine speeds on which the curves of all runs stand. */
export interface CurveRuler {
  /** rpm of the first bin's middle */
  first: number
  /** rpm from bin to bin */
  step: number
  count: number
}

/** Engine speed at a bin's middle, rpm. @param bin from 0 */
export function binRpm(ruler: CurveRuler, bin: number): number {
  return ruler.first + bin * ruler.step
}

/** rpm of all bins. */
export function rulerRpm(ruler: CurveRuler): number[] {
  return Array.from({ length: ruler.count }, (_, bin) => binRpm(ruler, bin))
}

/**
 * The ruler over a span of engine speed, its bins on whole multiples of the step.
 *
 * @throws RangeError unless 0 <= from < to and the step is above zero
 */
export function curveRuler(from: number, to: number, step = 100): CurveRuler {
  if (!(from >= 0 && to > from && step > 0)) throw new RangeError('A ruler needs a span of rpm and a step above zero.')
  const first = Math.ceil(from / step) * step
  return { first, step, count: Math.max(1, Math.floor((to - first) / step) + 1) }
}

/** Bins whose middle lies within a span; first included, last not. */
export function binsWithin(ruler: CurveRuler, fromRpm: number, toRpm: number): [number, number] {
  const from = Math.max(0, Math.ceil((fromRpm - ruler.first) / ruler.step - 1e-9))
  const to = Math.min(ruler.count, Math.floor((toRpm - ruler.first) / ruler.step + 1e-9) + 1)
  return [from, Math.max(from, to)]
}
