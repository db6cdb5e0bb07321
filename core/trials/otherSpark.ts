import { seededRandom } from '../src/numbers/random'
import type { SparkPoint } from '../src/spark/fitAdvance'

/**
 * Torque over advance of engines that are otherwise than the estimator: burnt late it falls with the expansion that is lost, burnt early
 * with heat and work against the piston, by laws that are no parabola; runs differ, heat takes torque, knock takes more. For tests only.
 */
export interface OtherSparkCase {
  points: SparkPoint[]
  /** advance of best torque, degrees */
  truth: number
  present: number
  knock: number
  /** torque over advance without noise */
  torque(advance: number): number
}

export interface SparkCaseOptions {
  settings?: readonly number[]
  runs?: number
  noise?: number
  /** degrees that the best lies above what is there now */
  bestAbove?: number
  /** degrees from best torque to the knock line; Infinity for none */
  knockAbove?: number
  /** share of torque that heat takes over a run */
  heat?: number
  isFlat?: boolean
}

/** Torque at so many degrees from the best, as a share of it. @param skew how much faster it falls on the early side */
function shareAt(off: number, width: number, skew: number): number {
  // A Gaussian bell about the best, leaning: its width changes smoothly from one side to the other.
  const own = width * (1 + skew * Math.tanh(off / 6))
  return 0.25 + 0.75 * Math.exp(-((off / own) ** 2))
}

/** Settings about what is there now, stepped and come back to, in some runs. */
export function otherSpark(seed: number, over: SparkCaseOptions = {}): OtherSparkCase {
  const { settings = [0, -6, -3, 3, 6, 0], runs = 3, noise = 0.008, heat = 0, isFlat = false } = over
  const random = seededRandom(4241 * seed + 17)
  const truth = 18 + 16 * random.uniform()
  const present = truth - (over.bestAbove ?? 6 * random.uniform() - 1)
  const width = 33 + 14 * random.uniform()
  const skew = 0.5 * (random.uniform() - 0.5)
  const knock = truth + (over.knockAbove ?? Infinity)
  const level = 25 + 50 * random.uniform()
  const torque = (advance: number): number => {
    const share = isFlat ? 1 : shareAt(advance - truth, width, skew)
    return level * share * (advance > knock ? 1 - 0.004 * (advance - knock) : 1)
  }
  const points = Array.from({ length: runs }, (_, run) => {
    const own = 1 + 0.005 * random.normal()
    let ended = false
    return settings.flatMap((offset, k): SparkPoint[] => {
      const advance = present + offset
      // Who hears knock goes no further.
      if (ended && offset > 0) return []
      const isKnocking = advance > knock
      ended ||= isKnocking
      const warm = 1 + (heat * k) / (settings.length - 1)
      return [
        {
          advance,
          torque: torque(advance) * own * warm * (1 + noise * random.normal()),
          knock: isKnocking,
          run: `${run}`,
        },
      ]
    })
  }).flat()
  return { points, truth, present, knock, torque }
}
