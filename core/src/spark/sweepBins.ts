import { isAtStop } from '../run/stopOf'
import { sweepsAt } from '../run/bySweep'
import type { RunColumns } from '../run/run'
import { DEFAULT_CURVE, runCurve, type CurveOptions } from '../curves/lay/curve'
import { rulerOver } from '../curves/lay/overlay'
import { binsWithin } from '../curves/lay/ruler'
import type { SparkBin, SparkRun } from './bin'
import { KNOCK_LEVEL, knocksWithin } from './knock'
import { settingsOfSweeps, stopsAtSettings, type SettingRun } from './setting'

/** rpm of a bin, and the share of it a run must cover. */
const BIN = 500
const COVERED = 0.6

/** Samples of a sweep between two speeds at its stop, as one span from first to last; null for none. */
function samplesWithin(
  { rpm, throttle }: RunColumns,
  stop: number | null,
  fromRpm: number,
  toRpm: number,
): { from: number; to: number; inside: (i: number) => boolean } | null {
  const inside = (i: number): boolean =>
    rpm[i]! >= fromRpm && rpm[i]! < toRpm && (stop === null || !throttle || isAtStop(throttle[i]!, stop))
  let [from, to] = [-1, -1]
  for (let i = 0; i < rpm.length; i++)
    if (inside(i)) {
      if (from < 0) from = i
      to = i + 1
    }
  return from < 0 ? null : { from, to, inside }
}

/**
 * Torque by setting out of sweeps that were each made at one setting, by stop and bin of engine speed. Stops at which only
 * one setting was run make none.
 *
 * @param present the setting that is in use now, where settings were said; the first one run when left out
 * @param knockLevel of the knock channel from which it is knock
 */
export function sweepBins(
  runs: readonly SparkRun[],
  options: CurveOptions = DEFAULT_CURVE,
  present: number | null = null,
  knockLevel = KNOCK_LEVEL,
): SparkBin[] {
  const columnsOf = new Map<SettingRun, RunColumns>(runs.map(({ run, columns }) => [run, columns]))
  return stopsAtSettings(runs.map((one) => one.run)).flatMap(({ stop, runs: sweeps }) => {
    const ruler = rulerOver(sweeps.map((run) => columnsOf.get(run)!))
    if (!ruler) return []
    const known = sweeps.filter((run) => settingsOfSweeps([run]).length > 0)
    const curves = known.flatMap((run) =>
      sweepsAt(columnsOf.get(run)!, stop).map((columns) => ({
        run,
        columns,
        curve: runCurve(columns, ruler, options),
      })),
    )
    const isStatic = known.some((run) => run.setting !== null)
    // A channel tells the advance of each speed; only a setting of the whole engine can be said for all of them.
    const inUse = isStatic ? (present ?? known[0]!.setting?.advance ?? null) : null
    const bins: SparkBin[] = []
    for (let rpm = Math.ceil(ruler.first / BIN) * BIN; rpm <= ruler.first + ruler.step * ruler.count; rpm += BIN) {
      const [from, to] = binsWithin(ruler, rpm - BIN / 2, rpm + BIN / 2)
      const points = curves.flatMap(({ run, columns, curve }) => {
        const torques = Array.from(curve.torque?.subarray(from, to) ?? []).filter((value) => value > 0)
        const span = samplesWithin(columns, stop, rpm - BIN / 2, rpm + BIN / 2)
        if (torques.length < COVERED * (to - from) || to <= from || !span) return []
        const advance = run.setting?.advance ?? meanOf(columns.spark, span)
        if (!Number.isFinite(advance)) return []
        return [
          {
            advance,
            torque: torques.reduce((sum, value) => sum + value, 0) / torques.length,
            knock: (run.setting?.knock ?? false) || knocksWithin(columns.knock, span.from, span.to, knockLevel),
            run: run.id,
            at: run.createdAt,
          },
        ]
      })
      if (points.length === 0) continue
      bins.push({
        stop,
        rpm,
        source: 'sweeps',
        isStatic,
        points,
        present: inUse ?? points[0]!.advance,
        presentAt: points[0]!.at,
        hasKnockChannel: curves.every(({ columns }) => columns.knock !== undefined),
        knockFrom: null,
      })
    }
    return bins
  })
}

function meanOf(
  column: Float32Array | undefined,
  span: { from: number; to: number; inside: (i: number) => boolean },
): number {
  let [sum, count] = [0, 0]
  for (let i = span.from; column && i < span.to; i++) {
    const value = column[i]!
    if (span.inside(i) && value === value) [sum, count] = [sum + value, count + 1]
  }
  return count ? sum / count : NaN
}
