import { circleArea } from './orifice'

/** How jets are numbered: by their bore in hundredths of a millimetre, or by what flows through them. */
export const JET_SCHEMES = ['diameter', 'flow'] as const
export type JetScheme = (typeof JET_SCHEMES)[number]

const GRAVITY = 9.80665
/** Head and discharge of a usual flow bench for jets: an assumption. Only ratios bear on a proposal; the rest is calibrated. */
const BENCH = { headM: 0.5, cd: 0.8 }

/**
 * Area of a jet, mm².
 *
 * By diameter a number is hundredths of a millimetre. By flow it is cubic centimetres a minute, so area is proportional to
 * it: A = Q / (Cd sqrt(2 g h)).
 *
 * @throws RangeError for a number of zero or less
 */
export function jetArea(number: number, scheme: JetScheme): number {
  if (!(number > 0)) throw new RangeError(`A jet's number is above zero, not ${number}.`)
  if (scheme === 'diameter') return circleArea(number / 100)
  const cubicMmPerSecond = (number * 1000) / 60
  return cubicMmPerSecond / (BENCH.cd * Math.sqrt(2 * GRAVITY * BENCH.headM) * 1000)
}
