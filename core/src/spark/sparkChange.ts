import type { Matrix } from '../table/table'
import type { Between } from './advanceCurve'

/** How far one pass may go, degrees; less advance is given as a positive size. */
export interface SparkLimits {
  more: number
  less: number
  /** more advance where knock was seen near, or where nothing was there to see it */
  moreAfterKnock: number
  moreUnseen: number
  /** changes smaller than this are not worth a cell */
  least: number
}

/** Common practice: a degree and a half at a time forward, back as fast as it takes. */
export const DEFAULT_SPARK_LIMITS: SparkLimits = { more: 1.5, less: 4, moreAfterKnock: 0.5, moreUnseen: 1, least: 0.3 }

/** What decided a cell's change. */
export type SparkReason =
  | 'as measured'
  | 'limited, more advance'
  | 'limited, less advance'
  | 'limited, knock was seen'
  | 'limited, no knock channel'
  | 'nothing to gain'
  | 'stale, mixture moved'
  | 'no advice there'
  | 'no evidence'
  | 'between points'
  | 'kept near its neighbours'
  | 'tapered off'
  | 'too small to matter'
  | 'limited by the table'

/** One line of the arithmetic behind a cell, as numbers; the interface prints it. */
export interface SparkArithmetic {
  what: 'surface' | 'doubt' | 'taper' | 'limit' | 'apply' | 'stay'
  values: Record<string, number>
  result: number
}

export interface SparkNode {
  /** degrees */
  changeDeg: number
  reason: SparkReason
  before: number
  after: number
  /** points that speak for it */
  points: string[]
  /** best advance there, degrees; null beyond the points */
  best: Between | null
  /** torque gained by the change, % */
  gainPct: Between | null
  /** advance at which knock may begin, by 95 of 100; null where none was met */
  knockFrom: number | null
  arithmetic: SparkArithmetic[]
}

export interface SuggestedSpark {
  nodes: SparkNode[][]
  values: Matrix
}
