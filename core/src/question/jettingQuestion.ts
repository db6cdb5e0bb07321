import { inputRefused } from '../refusal/refusal'
import { carburettorAxis, circuitTargets, DEFAULT_JETTING, type JettingSettings } from '../contract/jetting'
import type { RunInfo } from '../run/runInfo'
import type { RunSet } from '../contract/set'
import { isRead, predictJetting, type Predicted } from '../jetting/model/predict'
import { fittedFault, type Fitted } from '../jetting/carburettor'
import { trustOf } from '../jetting/checks'
import { JUDGED_OPENINGS } from '../jetting/model/judgedOpenings'
import { circuitShares, passages } from '../jetting/model/model'
import { bankWarnings, OPENING_ROWS, openingReadings, readingSpeeds, type OpeningRow } from '../jetting/openingReadings'
import { proposeParts, type PartsAnswer } from '../jetting/search/propose'
import { tipInOf, type TipIn } from '../jetting/tipIn'
import { answerField, fieldOptions, type FieldQuestion } from './fieldQuestion'
import { fieldRuns } from './fieldRuns'
import type { ColumnsOf, JobGround } from './ground'

/** Manifold pressures, kPa, where rods meter by vacuum. */
const PRESSURES = [30, 40, 50, 60, 70, 80, 90, 100]

/** A set of runs that was made with something fitted. */
export type FittingSet = RunSet & { fitting: NonNullable<RunSet['fitting']> }

/** What was read with one fitting. */
interface AskedFitting extends Pick<FittingSet, 'id' | 'weather'> {
  fitted: Fitted[]
  field: FieldQuestion
}

/** What the parts of a carburettor are judged by. */
export interface JettingQuestion {
  settings: JettingSettings
  /** the carburettor that parts are sought for, from 0 */
  carburettor: number
  /** changes of one proposal at the most */
  most: number
  /** oldest first; the last is what is in now */
  fittings: AskedFitting[]
}

/** Sets of a job that were made with something fitted, oldest first. */
export const fittingSets = (sets: readonly RunSet[]): FittingSet[] =>
  sets.filter((set): set is FittingSet => set.fitting !== null)

/** The field of a fitting's runs by opening: a carburettor needs no table, and its speeds are those of its own runs. */
function fittingField(ground: JobGround, settings: JettingSettings, runs: RunInfo[]): FieldQuestion {
  const loadAxis = carburettorAxis(settings)
  const load = loadAxis === 'throttle' ? [...OPENING_ROWS] : PRESSURES
  const request = { loadAxis, load, rpm: readingSpeeds(runs) }
  const options = fieldOptions({ ...ground, tables: [] }, request, { runs, corrected: [] })
  return { runs, older: [], before: [], options, commanded: null }
}

/** What may be asked otherwise than the job has it. */
export interface PartsAsked {
  carburettor?: number | undefined
  set?: string | undefined
  box?: JettingSettings['box'] | undefined
  most?: number | undefined
}

/**
 * Puts together what a job's carburettors were read to do with each fitting, and what the box holds.
 *
 * @param asked.carburettor from 0, the first when left out
 * @param asked.set the fitting taken as the one that is in now; @param asked.box instead of the job's
 * @throws Refusal 'input-refused' for a carburettor or a fitting that is not there
 */
export function jettingQuestion(ground: JobGround, asked: PartsAsked = {}): JettingQuestion {
  const { job, sets, runs } = ground
  const own = job.jetting ?? DEFAULT_JETTING
  const settings = asked.box ? { ...own, box: asked.box } : own
  const { carburettor = 0, most = 3 } = asked
  const fitted = fittingSets(sets)
  const last = asked.set === undefined ? fitted.length - 1 : fitted.findIndex((one) => one.id === asked.set)
  if (asked.set !== undefined && last < 0)
    throw inputRefused([{ field: 'set', message: `there is no fitting ${asked.set.slice(0, 40)} in this job` }])
  if (!settings.carburettors[carburettor])
    throw inputRefused([{ field: 'carburettor', message: `there are ${settings.carburettors.length}, from 0` }])
  return {
    settings,
    carburettor,
    most,
    // What was fitted later than the one asked about is not known yet.
    fittings: fitted.slice(0, last + 1).map(({ id, weather, fitting }) => ({
      id,
      weather,
      fitted: fitting.fitted,
      field: fittingField(ground, settings, fieldRuns(job.mixture, id, runs)),
    })),
  }
}

/** What a carburettor does with what is in it now, by the model that its readings have bent. */
export interface JettingPresent {
  predicted: Predicted[]
  /** share of each circuit, by judged opening */
  shares: { opening: number; pilot: number; needle: number; main: number }[]
  unknown: string[]
}

/** What was read, and what to fit next. */
export interface JettingTold extends Pick<PartsAnswer, 'list' | 'inadequate' | 'advice' | 'air'> {
  /** readings by opening of each carburettor, by set; none of a set without runs */
  readings: { set: string; rows: OpeningRow[][] }[]
  /** what speaks against the readings with what is in now */
  warnings: string[]
  /** lean dip when the throttle is opened, by carburettor, with what is in now */
  tipIn: (TipIn | null)[]
  /** null where nothing was read of this carburettor, or what is said to be in it cannot be */
  present: JettingPresent | null
}

/**
 * Readings of every fitting, the model bent to all of them, and every combination of the box tried.
 *
 * @param onProgress share of the combinations that were tried
 */
export function answerJetting(
  { settings, carburettor, most, fittings }: JettingQuestion,
  columnsOf: ColumnsOf,
  onProgress: (share: number) => void = () => undefined,
): JettingTold {
  const { body, box, carburettors } = settings
  const read = fittings
    .filter(({ field }) => field.runs.length > 0)
    .map((one) => {
      const field = answerField(one.field, columnsOf)
      return {
        ...one,
        lag: field.lag.lag,
        rows: carburettors.map(({ cylinders }) => openingReadings(field, cylinders)),
      }
    })
  const last = read.find((one) => one.id === fittings.at(-1)!.id)
  const told = {
    readings: read.map(({ id, rows }) => ({ set: id, rows })),
    warnings: last ? bankWarnings(last.rows) : [],
    tipIn: last ? carburettors.map((one) => tipInOf(columnsOf(last.field.runs), last.lag, one.cylinders[0]! - 1)) : [],
  }
  const measured = read.flatMap(({ rows, fitted, weather }) => {
    const [readings, parts] = [rows[carburettor]!, fitted[carburettor]]
    return readings.length && parts ? [{ fitted: parts, readings, weather }] : []
  })
  const fitted = fittings.at(-1)?.fitted[carburettor]
  if (measured.length === 0 || !fitted || fittedFault(body, box, fitted))
    return { ...told, list: null, inadequate: '', advice: [], air: '', present: null }
  const { doubt } = trustOf(settings.checks)
  const answer = proposeParts(body, box, measured, fitted, circuitTargets(settings), doubt, onProgress)
  const { calibration, inadequate, advice, air } = answer
  const list = answer.list && { ...answer.list, byChanges: answer.list.byChanges.slice(0, most) }
  return {
    ...told,
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
        ...circuitShares(passages(body, box, fitted, opening, calibration.law)),
      })),
      unknown: list?.unknown ?? [],
    },
  }
}
