import { signed } from '../numbers/format'
import type { TableHistory } from '../change/history'
import { sparkMoved } from '../change/history'
import { binKey, type SparkBin } from './bin'
import { staleSpark, type Stale } from './coupling'
import { torqueDrift, type TorqueDrift } from './drift'
import { DEFAULT_SPARK, fitAdvance, nothingSaid, settingsOf, type SparkFit } from './fitAdvance'

/** A bin with what its settings come to. */
export interface JudgedBin {
  key: string
  bin: SparkBin
  fit: SparkFit
  /** of torque while the settings were stepped; null where the first one was not repeated */
  drift: TorqueDrift | null
  /** the mixture moved since: what is told here no longer holds */
  stale: Stale | null
  /** degrees by which the spark tables were moved here since: so much of the advice is in them already */
  moved: number
  /** readings from before a move, that newer ones replace */
  replaced: number
  settings: number
}

/** Degrees within which a setting is the first one again. */
const SAME = 0.25

/** What is taken of the fit's own choices. */
export interface JudgeOptions {
  giveAway: number
  knockMargin: number
}

/**
 * Fits a bin and says whether it holds: torque that drifted with heat, or a mixture that moved since, take its advice away.
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
  const drift = torqueDrift(points, spreadBeforeRepeats(bin) || fit.spread, Math.max(1, points.length - 4))
  return {
    key: binKey(bin),
    bin,
    fit: drift?.isReal ? drifted(fit, drift) : fit,
    drift,
    stale: fresh.length ? null : stale,
    moved: sparkMoved(histories, bin.presentAt, bin.rpm, load),
    replaced: whole.points.length - bin.points.length,
    settings: settingsOf(points).length,
  }
}

/** Spread of the readings without the late repeats of the first setting: heat must not widen what it is judged by. */
function spreadBeforeRepeats({ points, present, hasKnockChannel }: SparkBin): number {
  const first = points[0]?.advance ?? NaN
  const early = points.filter((one, k) => k < points.length / 2 || Math.abs(one.advance - first) > SAME)
  return fitAdvance(early, { ...DEFAULT_SPARK, present, hasKnockChannel }).spread
}

function drifted(fit: SparkFit, { pct }: TorqueDrift): SparkFit {
  const size = `${signed(pct)} %`
  return {
    ...nothingSaid(
      'drifts',
      `Torque moved by ${size} between the first setting and its repeat: heat, not advance. Let it cool and measure again.`,
    ),
    curve: fit.curve,
    spread: fit.spread,
  }
}
