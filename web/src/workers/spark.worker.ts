import { expose } from 'comlink'
import {
  DEFAULT_SPARK,
  fitAdvance,
  sparkBins,
  torqueDrift,
  type RunColumns,
  type SparkBin,
  type SparkFit,
  type TorqueDrift,
} from '@yuzumix/core'
import { columnStore, type AskedRun } from './columnStore'

const columns = columnStore()

/** A bin with what its settings come to. */
export interface FittedBin {
  bin: SparkBin
  fit: SparkFit
  /** of torque while the settings were stepped; null where the first one was not repeated */
  drift: TorqueDrift | null
}

const sparkWorker = {
  addRun(key: string, run: RunColumns): void {
    columns.add(key, run)
  },
  fits(asked: readonly AskedRun[]): FittedBin[] {
    return sparkBins(columns.pick(asked)).map((bin) => {
      const { present, hasKnockChannel } = bin
      const fit = fitAdvance(bin.points, { ...DEFAULT_SPARK, present, hasKnockChannel })
      return { bin, fit, drift: torqueDrift(bin.points, fit.spread, Math.max(1, bin.points.length - 3)) }
    })
  },
}

export type SparkWorker = typeof sparkWorker
expose(sparkWorker)
