import { expose } from 'comlink'
import {
  bankWarnings,
  circuitShares,
  circuitTargets,
  estimateField,
  isRead,
  JUDGED_OPENINGS,
  openingReadings,
  passages,
  predictJetting,
  proposeParts,
  tipInOf,
  trustOf,
  type FieldOptions,
  type Fitted,
  type JettingSettings,
  type FittingRead,
  type OpeningRow,
  type Predicted,
  type PartsAnswer,
  type RunColumns,
  type TipIn,
} from '@yuzumix/core'
import { columnStore, type AskedRun } from './columnStore'

const columns = columnStore()

/** What a carburettor does with what is in it now, by the model that its readings have bent. */
export interface Present {
  predicted: Predicted[]
  /** share of each circuit, by judged opening */
  shares: { opening: number; pilot: number; needle: number; main: number }[]
  unknown: string[]
}

/** What to fit next, with what the readings themselves tell. */
export interface Proposed extends Pick<PartsAnswer, 'list' | 'inadequate' | 'advice' | 'air'> {
  present: Present
}

/** What was read with one fitting, by carburettor. */
export interface Readings {
  rows: OpeningRow[][]
  tipIn: (TipIn | null)[]
  warnings: string[]
}

const jettingWorker = {
  addRun(key: string, run: RunColumns): void {
    columns.add(key, run)
  },
  /** Readings by opening of each carburettor, with what speaks against them. */
  readings(
    asked: readonly AskedRun[],
    options: FieldOptions,
    carburettors: readonly { cylinders: readonly number[] }[],
  ): Readings {
    const runs = columns.pick(asked)
    const field = estimateField(runs, options)
    const rows = carburettors.map((one) => openingReadings(field, one.cylinders))
    const tipIn = carburettors.map((one) => tipInOf(runs, field.lag.lag, one.cylinders[0]! - 1))
    return { rows, tipIn, warnings: bankWarnings(rows) }
  },
  /** The model bent to all that was measured, and every combination of the box tried. */
  propose(
    settings: JettingSettings,
    measured: readonly FittingRead[],
    fitted: Fitted,
    onProgress: (share: number) => void,
  ): Proposed {
    const { body, box } = settings
    const { doubt } = trustOf(settings.checks)
    const answer = proposeParts(body, box, measured, fitted, circuitTargets(settings), doubt, onProgress)
    const { calibration, list, inadequate, advice, air } = answer
    return {
      list,
      inadequate,
      advice,
      air,
      present: {
        predicted: predictJetting(
          calibration,
          fitted,
          JUDGED_OPENINGS.filter((opening) => isRead(calibration, opening)),
        ),
        shares: JUDGED_OPENINGS.map((opening) => ({
          opening,
          ...circuitShares(passages(body, box, fitted, opening), calibration.coefficients),
        })),
        unknown: list?.unknown ?? [],
      },
    }
  },
}

export type JettingWorker = typeof jettingWorker
expose(jettingWorker)
