import type { TableHistory } from '../change/history'
import { sparkMoved } from '../change/history'
import { binKey, type SparkBin } from './bin'
import { staleSpark, type Stale } from './coupling'
import { DEFAULT_SPARK, fitAdvance, isHeatSeen, settingsOf, type SparkFit } from './fitAdvance'

/** A bin with what its settings come to. */
export interface JudgedBin {
  key: string
  bin: SparkBin
  fit: SparkFit
  /** of torque with heat over a run, %, and whether it shows beyond its doubt; it is taken out. Null where nothing is fitted */
  drift: { pct: number; isReal: boolean } | null
  /** the mixture moved since: what is told here no longer holds */
  stale: Stale | null
  /** degrees by which the spark tables were moved here since: so much of the advice is in them already */
  moved: number
  /** readings from before a move, that newer ones replace */
  replaced: number
  settings: number
}

/** Share of torque to which heat must be told to be told at all: without a setting run again it is not. */
const HEAT_TOLD = 0.018

/** What is taken of the fit's own choices. */
export interface JudgeOptions {
  giveAway: number
  knockMargin: number
}

/**
 * Fits a bin and says whether it holds: a mixture that moved since takes its advice away.
 * Where some readings are newer than such a move, only those count.
 *
 * @param histories states of the job's tables since the oldest reading
 */
export function judgeBin(
  whole: SparkBin,
  histories: readonly TableHistory[],
  choice: JudgeOptions = DEFAULT_SPARK,
): JudgedBin {
  const load = whole.stop ?? 100
  const stale = staleSpark(histories, whole.rpm, load)
  const fresh = stale ? whole.points.filter((one) => one.at >= stale.before) : whole.points
  const bin = fresh.length ? { ...whole, points: fresh } : whole
  const { present, hasKnockChannel, knockFrom, points } = bin
  const fit = fitAdvance(points, { ...DEFAULT_SPARK, ...choice, present, hasKnockChannel, knockFrom })
  return {
    key: binKey(bin),
    bin,
    fit,
    drift: fit.heat && fit.heat.sd < HEAT_TOLD ? { pct: 100 * fit.heat.share, isReal: isHeatSeen(fit.heat) } : null,
    stale: fresh.length ? null : stale,
    moved: sparkMoved(histories, bin.presentAt, bin.rpm, load),
    replaced: whole.points.length - bin.points.length,
    settings: settingsOf(points).length,
  }
}
