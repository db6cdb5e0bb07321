import { expose } from 'comlink'
import {
  fitMixture,
  judgeBin,
  mixtureBins,
  presentReadings,
  stepBins,
  sweepBins,
  type CurveOptions,
  type JudgedBin,
  type JudgeOptions,
  type MixtureBin,
  type MixtureFit,
  type PresentReading,
  type RunColumns,
  type SettingRun,
  type SparkRun,
  type TableHistory,
} from '@yuzumix/core'
import { columnStore, type AskedRun } from './columnStore'

const columns = columnStore()

/** A run that the worker is asked to take, with what is known of its setting. */
export interface AskedSparkRun extends AskedRun {
  run: SettingRun
}

export interface SparkQuestion {
  runs: AskedSparkRun[]
  options: CurveOptions
  judge: JudgeOptions
  /** setting in use now; null for the first one run */
  present: number | null
  knockLevel: number
  histories: TableHistory[]
}

/** Mixtures tried at a point, with what they come to. */
export interface FittedMixture {
  bin: MixtureBin
  fit: MixtureFit
}

const picked = (asked: readonly AskedSparkRun[]): SparkRun[] =>
  asked.flatMap((one) => columns.pick([one]).map((found) => ({ columns: found, run: one.run })))

/** Advance and mixture from torque, off the interface's thread. */
const sparkWorker = {
  addRun(key: string, run: RunColumns): void {
    columns.add(key, run)
  },
  judged({ runs, options, judge, present, knockLevel, histories }: SparkQuestion): JudgedBin[] {
    const all = picked(runs)
    return [...stepBins(all, knockLevel), ...sweepBins(all, options, present, knockLevel)]
      .map((bin) => judgeBin(bin, histories, judge))
      .sort((a, b) => (a.bin.stop ?? 100) - (b.bin.stop ?? 100) || a.bin.rpm - b.bin.rpm)
  },
  mixtures(asked: readonly AskedSparkRun[], knockLevel: number): FittedMixture[] {
    return mixtureBins(
      picked(asked).map((one) => one.columns),
      knockLevel,
    ).map((bin) => ({ bin, fit: fitMixture(bin.points) }))
  },
  present(asked: readonly AskedSparkRun[]): PresentReading[] {
    return presentReadings(picked(asked))
  },
}

export type SparkWorker = typeof sparkWorker
expose(sparkWorker)
