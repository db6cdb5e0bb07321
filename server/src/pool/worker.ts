import {
  askNextRun,
  askPlate,
  byState,
  CompareError,
  compareSides,
  fieldOfPasses,
  lookOver,
  FieldError,
  LogError,
  overlay,
  rulerOver,
  respond,
  responseAnswer,
  ResponseError,
  type ComparedSides,
  type CurveOptions,
  type Doubt,
  type Ground,
  type OddRun,
  type Field,
  type FieldOptions,
  type NextOfJob,
  type MadePlate,
  type NextAsked,
  type PlateAsked,
  type ResponseAnswer,
  type ResponseChoice,
  type RunColumns,
  warmUpIds,
  type Side,
  type SidesChoice,
} from '@yuzumix/core'
import { readLog as read, type LogJob, type ReadLog } from '../intake/readLog'

/** What a task answers: errors of the trade cross the thread as data, because classes do not. */
export type Answer<T> =
  | { value: T }
  | { logError: { message: string; faults: LogError['faults'] } }
  | { fieldError: { message: string; field: string } }
  | { compareError: string }
  | { responseError: { message: string; field: string } }

async function answer<T>(work: () => Promise<T> | T): Promise<Answer<T>> {
  try {
    return { value: await work() }
  } catch (error) {
    if (error instanceof LogError) return { logError: { message: error.message, faults: error.faults } }
    if (error instanceof FieldError) return { fieldError: { message: error.message, field: error.field } }
    if (error instanceof ResponseError)
      return { responseError: { message: error.message, field: error.faults[0]!.field } }
    if (error instanceof CompareError) return { compareError: error.message }
    throw error
  }
}

export function readLog(job: LogJob): Promise<Answer<ReadLog>> {
  return answer(() => read(job))
}

/** Runs that a field is made of, and those of the passes before, oldest first. */
export interface FieldJob {
  runs: RunColumns[]
  before: RunColumns[][]
  options: FieldOptions
}

export function solveField({ runs, before, options }: FieldJob): Promise<Answer<Field>> {
  return answer(() => fieldOfPasses(runs, before, { ...options, warmUps: warmUpIds([...before, runs]) }))
}

/** What the next run is asked of. */
export interface NextRunJob {
  runs: RunColumns[]
  options: FieldOptions
  asked: NextAsked
}

export function nextRun({ runs, options, asked }: NextRunJob): Promise<Answer<NextOfJob>> {
  // Runs on other tables are no repeats of each other.
  return answer(() => askNextRun(runs, { ...options, warmUps: warmUpIds(byState(runs, options.since)) }, asked))
}

/** Repeats of a stop, %; null where it was not logged. */
export interface OddJob {
  stop: number | null
  runs: RunColumns[]
  options: CurveOptions
}

export function oddRuns({ stop, runs, options }: OddJob): Promise<Answer<OddRun[]>> {
  return answer(() => {
    const ruler = rulerOver(runs)
    return ruler ? overlay(runs, ruler, options, 1, stop).odd : []
  })
}

/** Runs to be looked over before they are believed. */
export interface LookOverJob {
  runs: RunColumns[]
  ground: Ground
}

export function looked({ runs, ground }: LookOverJob): Promise<Answer<Doubt[]>> {
  return answer(() => lookOver(runs, ground))
}

/** Sides to compare. */
export interface CompareJob {
  first: Side[]
  second: Side
  choice: SidesChoice
}

export function compare({ first, second, choice }: CompareJob): Promise<Answer<ComparedSides>> {
  return answer(() => compareSides(first, second, choice))
}

/** Runs to be asked how a machine answers the hand. */
export interface ResponseJob {
  runs: RunColumns[]
  choice: ResponseChoice
}

export function response({ runs, choice }: ResponseJob): Promise<Answer<ResponseAnswer>> {
  return answer(() => responseAnswer(respond(runs, choice)))
}

/** Runs that a plate table is made from. */
export interface PlateJob {
  runs: RunColumns[]
  asked: PlateAsked
}

export function plate({ runs, asked }: PlateJob): Promise<Answer<MadePlate>> {
  return answer(() => askPlate(runs, asked))
}
