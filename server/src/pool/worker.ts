import {
  isRefusal,
  type Refusal,
  answerQuestion,
  lookOver,
  overlay,
  rulerOver,
  type AnswerOf,
  type CurveOptions,
  type Doubt,
  type Ground,
  type OddRun,
  type QuestionKind,
  type QuestionOf,
  type Table,
  type TableSaid,
} from '@yuzumix/core'
import { packArchive as archiveOut, type PackJob } from '../archive/packArchive'
import { readArchive as archiveIn, type ArchiveJob, type ArchiveRead } from '../archive/readArchive'
import { readTableFile } from '../intake/tableFile'
import { assembled, type StoredColumns } from '../store/assembled'
import { unpackLogs, type Unpacked } from '../intake/unpackLogs'
import { readLog as read, type LogJob, type ReadLog } from '../intake/readLog'

/** A file with a table, and what is said beside it. */
export interface TableFileJob {
  path: string
  said: TableSaid
}

/** What a task answers: refusals cross the thread as data, because classes do not. */
export type Answer<T> = { value: T } | { refused: Pick<Refusal, 'code' | 'message' | 'faults' | 'more'> }

async function answer<T>(work: () => Promise<T> | T): Promise<Answer<T>> {
  try {
    return { value: await work() }
  } catch (error) {
    if (!isRefusal(error)) throw error
    const { code, message, faults, more } = error
    return { refused: { code, message, faults, more } }
  }
}

export function readLog(job: LogJob): Promise<Answer<ReadLog[]>> {
  return answer(() => read(job))
}

/** A packed file, and the folder that what is inside goes to. */
export interface PackedJob {
  path: string
  name: string
  folder: string
}

export function unpack({ path, name, folder }: PackedJob): Promise<Answer<Unpacked>> {
  return answer(() => unpackLogs(path, name, folder))
}

/** A question, with the columns of the runs it needs. */
export interface Asked<K extends QuestionKind = QuestionKind> {
  kind: K
  question: QuestionOf<K>
  columns: StoredColumns[]
}

export function ask<K extends QuestionKind>({ kind, question, columns }: Asked<K>): Promise<Answer<AnswerOf<K>>> {
  return answer(() => {
    const byId = new Map(columns.map((one) => [one.run.id, assembled(one)]))
    return answerQuestion(kind, question, (runs) => runs.flatMap(({ id }) => byId.get(id) ?? []))
  })
}

/** Repeats of a stop, %; null where it was not logged. */
export interface OddJob {
  stop: number | null
  runs: StoredColumns[]
  options: CurveOptions
}

export function oddRuns({ stop, runs: stored, options }: OddJob): Promise<Answer<OddRun[]>> {
  return answer(() => {
    const runs = stored.map(assembled)
    const ruler = rulerOver(runs)
    return ruler ? overlay(runs, ruler, options, 1, stop).odd : []
  })
}

/** Runs to be looked over before they are believed. */
export interface LookOverJob {
  runs: StoredColumns[]
  ground: Ground
}

export function looked({ runs, ground }: LookOverJob): Promise<Answer<Doubt[]>> {
  return answer(() => lookOver(runs.map(assembled), ground))
}

/** Reads a table out of a file. */
export function readTable({ path, said }: TableFileJob): Promise<Answer<Table>> {
  return answer(() => readTableFile(path, said))
}

export function readArchive(job: ArchiveJob): Promise<Answer<ArchiveRead>> {
  return answer(() => archiveIn(job))
}

export function packArchive(job: PackJob): Promise<Answer<void>> {
  return answer(() => archiveOut(job))
}
