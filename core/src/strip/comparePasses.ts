import { mean } from '../numbers/mean'
import { studentFactor } from '../numbers/studentT'
import { welch } from '../numbers/welch'
import type { StripSplit } from './marks'

/** A pass as it is compared. */
export interface ComparedPass {
  splits: readonly StripSplit[]
  lifted: boolean
  /** m at which it was shut; marks behind are not compared; null where it was not, or nobody knows where */
  liftedAtM: number | null
  /** kg/m³ of the air it was made in; null where nobody noted it */
  density: number | null
}

/** A difference, second minus first, with the ends of a 90 % interval; null where one pass a side tells of no scatter. */
export interface StripDifference {
  difference: number
  low: number | null
  high: number | null
}

interface MarkCompared {
  distanceM: number
  timeS: StripDifference
  speedKmh: StripDifference | null
}

/** What a change did, as a strip tells it. */
export interface PassesCompared {
  passes: [number, number]
  marks: MarkCompared[]
  /** % of power, by the cube of the end speed, at like air where both sides noted it */
  powerPct: StripDifference | null
  atLikeAir: boolean
  /** s at the end that end speed does not explain: traction, gearing or the rider */
  tractionS: StripDifference | null
  /**
   * power: speed tells, and time with it; quicker: time tells, what from does not; traction: time moved and speed does not say why; apart: speed says more power, time
   * is lost, or the other way round; both: each moved the same way; equal: nothing beyond doubt; unknown: a pass a side
   */
  verdict: 'power' | 'quicker' | 'traction' | 'both' | 'apart' | 'equal' | 'unknown'
}

/** Times and speeds agree by luck now and then: scatter taken at the least, s and km/h. Common practice. */
const LEAST = { timeS: 0.01, speedKmh: 0.2 }

/** Marks of a pass before it was shut; none where nobody knows where that was. */
export const comparedMarks = ({ splits, lifted, liftedAtM }: ComparedPass): StripSplit[] =>
  lifted ? splits.filter((one) => liftedAtM !== null && one.distanceM <= liftedAtM + 1) : [...splits]

/** Difference of two groups; where one has a single value, by the scatter of the other. */
function between(first: readonly number[], second: readonly number[], least: number): StripDifference {
  const told = welch(first, second, 0.9, least)
  const many = first.length > 1 ? first : second
  if (told.low !== null || many.length < 2) return { difference: told.difference, low: told.low, high: told.high }
  const middle = mean(many)
  const variance = many.reduce((sum, one) => sum + (one - middle) ** 2, 0) / (many.length - 1)
  const error = Math.max(least, Math.sqrt(variance)) * Math.sqrt(1 / first.length + 1 / second.length)
  const half = studentFactor(0.9, many.length - 1) * error
  return { difference: told.difference, low: told.difference - half, high: told.difference + half }
}

const isBeyondDoubt = ({ low, high }: StripDifference): boolean => low !== null && high !== null && low * high > 0

/**
 * Passes of one state against those of another. End speed tells power (about its cube), time tells traction as well; what they
 * say apart from each other is told.
 *
 * @throws RangeError when a side has no pass
 * @see Power over the same distance goes about with the cube of the end speed, and time with its inverse: common practice
 */
export function comparePasses(first: readonly ComparedPass[], second: readonly ComparedPass[]): PassesCompared {
  if (first.length === 0 || second.length === 0) throw new RangeError('A side has no pass.')
  const sides = [first, second].map((side) => side.map(comparedMarks)) as [StripSplit[][], StripSplit[][]]
  const at = (side: StripSplit[][], mark: number): StripSplit[] =>
    side.flatMap((splits) => splits.filter((one) => Math.abs(one.distanceM - mark) < 0.5))
  const distances = [...new Set(sides[0].flat().map((one) => one.distanceM))].sort((a, b) => a - b)
  const marks = distances.flatMap((distanceM): MarkCompared[] => {
    const [a, b] = [at(sides[0], distanceM), at(sides[1], distanceM)]
    if (!a.length || !b.length) return []
    const [u, v] = [speedsOf(a), speedsOf(b)]
    return [
      {
        distanceM,
        timeS: between(
          a.map((one) => one.timeS),
          b.map((one) => one.timeS),
          LEAST.timeS,
        ),
        speedKmh: u.length && v.length ? between(u, v, LEAST.speedKmh) : null,
      },
    ]
  })
  const end = [...marks].reverse().find((one) => one.speedKmh !== null)
  const passes: [number, number] = [first.length, second.length]
  const airs = [first, second].map((side) => side.flatMap(({ density }) => density ?? []))
  const atLikeAir = airs.every((air, k) => air.length === passes[k])
  if (!end) return { passes, marks, powerPct: null, atLikeAir, tractionS: null, verdict: 'unknown' }
  const [a, b] = [at(sides[0], end.distanceM), at(sides[1], end.distanceM)]
  const speed = mean(speedsOf(a))
  const thinner = atLikeAir ? mean(airs[1]!) / mean(airs[0]!) : 1
  const byCube = (difference: number): number => 100 * ((1 + difference / speed) ** 3 / thinner - 1)
  const told = end.speedKmh!
  const powerPct: StripDifference = {
    difference: byCube(told.difference),
    low: told.low === null ? null : byCube(told.low),
    high: told.high === null ? null : byCube(told.high),
  }
  // What time does beyond what end speed says, pass by pass: t v is what it would be at the first side's speed.
  const beyond = (side: readonly StripSplit[]): number[] =>
    side.flatMap(({ timeS, speedKmh }) => (speedKmh === null ? [] : [(timeS * speedKmh) / speed]))
  const tractionS = between(beyond(a), beyond(b), LEAST.timeS)
  return { passes, marks, powerPct, atLikeAir, tractionS, verdict: verdictOf(told, end.timeS, tractionS) }
}

function verdictOf(
  speed: StripDifference,
  time: StripDifference,
  traction: StripDifference,
): PassesCompared['verdict'] {
  if (speed.low === null || time.low === null) return 'unknown'
  const [isFaster, isQuicker, isElse] = [speed, time, traction].map(isBeyondDoubt)
  // More speed is a gain, more time a loss.
  if (isFaster && isElse) return speed.difference * traction.difference > 0 ? 'apart' : 'both'
  if (isElse) return 'traction'
  return isFaster ? 'power' : isQuicker ? 'quicker' : 'equal'
}

const speedsOf = (splits: readonly StripSplit[]): number[] => splits.flatMap(({ speedKmh }) => speedKmh ?? [])
