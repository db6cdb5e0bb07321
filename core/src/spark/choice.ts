import { RANGE_USES, type RangeUse } from './oneKnob'
import { DEFAULT_SPARK } from './fitAdvance'
import { KNOCK_LEVEL } from './knock'
import { DEFAULT_SPARK_LIMITS, type SparkLimits } from './sparkChange'

/** How the advance is stepped: at points that the rig holds, or in sweeps at one setting after the other. */
export const SPARK_WAYS = ['steps', 'sweeps'] as const
type SparkWay = (typeof SPARK_WAYS)[number]

/** What a plan of spark steps is made from. */
export interface SparkPlanChoice {
  way: SparkWay
  /** % of plate */
  stops: number[]
  /** for steps: speeds that are held; for sweeps the span from the first to the last */
  rpm: number[]
  /** degrees from one setting to the next, and settings below and above the present one */
  step: number
  below: number
  above: number
  repeats: number
  /** s at each setting of a step */
  seconds: number
}

/** What was chosen at the spark stage; kept with the job. */
export interface SparkSettings {
  plan: SparkPlanChoice
  limits: SparkLimits
  /** torque that may be given away for less advance, % */
  giveAwayPct: number
  /** degrees kept from the first knock */
  knockMargin: number
  /** level of the rig's knock channel from which it is knock, in whatever unit it has */
  knockLevel: number
  use: RangeUse
  /** static setting in use now, degrees; null for the first one that was run */
  present: number | null
}

/** Five settings three degrees apart, three times each, at the stops where engines are loaded (common practice). */
export const DEFAULT_SPARK_PLAN: SparkPlanChoice = {
  way: 'steps',
  stops: [40, 60, 100],
  rpm: [3000, 4500, 6000, 7500],
  step: 3,
  below: 2,
  above: 2,
  repeats: 3,
  seconds: 4,
}

export const DEFAULT_SPARK_SETTINGS: SparkSettings = {
  plan: DEFAULT_SPARK_PLAN,
  limits: DEFAULT_SPARK_LIMITS,
  giveAwayPct: 100 * DEFAULT_SPARK.giveAway,
  knockMargin: DEFAULT_SPARK.knockMargin,
  knockLevel: KNOCK_LEVEL,
  use: RANGE_USES.even,
  present: null,
}
