import { fileURLToPath } from 'node:url'
import { MessageChannel } from 'node:worker_threads'
import { Piscina } from 'piscina'
import { Refusal, type AnswerOf, type Doubt, type OddRun, type QuestionKind, type Table } from '@yuzumix/core'
import type { StoredColumns } from '../store/assembled'
import type { LogJob, ReadLog } from '../intake/readLog'
import type { Unpacked } from '../intake/unpackLogs'
import type { PackJob } from '../archive/packArchive'
import type { ArchiveJob, ArchiveRead } from '../archive/readArchive'
import type { Answer, Asked, LookOverJob, OddJob, PackedJob, TableFileJob } from './worker'

/** Hears the share that is done, 0 to 1. */
type Told = (share: number) => void

/** Heavy work, each in a worker thread. */
export interface WorkPool {
  readLog(job: Omit<LogJob, 'progress'>, onProgress: Told, signal: AbortSignal): Promise<ReadLog[]>
  /** unpacks the logs of a gzip, zip or XLSX file */
  unpack(job: PackedJob, signal: AbortSignal): Promise<Unpacked>
  /** reads a table out of a CSV, JSON or XLSX file */
  readTable(job: TableFileJob, signal: AbortSignal): Promise<Table>
  /** reads a job archive into a folder */
  readArchive(job: Omit<ArchiveJob, 'progress'>, onProgress: Told, signal: AbortSignal): Promise<ArchiveRead>
  /** writes a job archive */
  packArchive(job: Omit<PackJob, 'progress'>, onProgress: Told, signal: AbortSignal): Promise<void>
  /** answers a question; the columns of its runs move to the thread */
  ask<K extends QuestionKind>(asked: Asked<K>, signal: AbortSignal): Promise<AnswerOf<K>>
  /** runs that differ from their repeats, and where */
  oddRuns(job: OddJob, signal: AbortSignal): Promise<OddRun[]>
  /** what is not to be believed of runs before it is cleared */
  lookOver(job: LookOverJob, signal: AbortSignal): Promise<Doubt[]>
  close(): Promise<void>
}

/** Threads of the built worker, two at a time; a task whose signal aborts is stopped where it is. */
export function openPool(workerFile = fileURLToPath(new URL('./worker.js', import.meta.url))): WorkPool {
  const pool = new Piscina({
    filename: workerFile,
    minThreads: 1,
    maxThreads: 2,
    idleTimeout: 30_000,
    resourceLimits: { maxYoungGenerationSizeMb: 16 },
  })
  async function onRuns<T>(name: string, job: { runs: StoredColumns[] }, signal: AbortSignal): Promise<T> {
    return unwrap<T>(await pool.run(job, { name, signal, transferList: job.runs.map(bufferOf) }))
  }
  /** A task that tells how far it has come. */
  async function told<T>(name: string, job: object, onProgress: Told, signal: AbortSignal): Promise<T> {
    const { port1, port2 } = new MessageChannel()
    port1.on('message', onProgress)
    try {
      return unwrap<T>(await pool.run({ ...job, progress: port2 }, { name, signal, transferList: [port2] }))
    } finally {
      port1.close()
    }
  }
  return {
    readLog: (job, onProgress, signal) => told<ReadLog[]>('readLog', job, onProgress, signal),
    readArchive: (job, onProgress, signal) => told<ArchiveRead>('readArchive', job, onProgress, signal),
    packArchive: (job, onProgress, signal) => told<undefined>('packArchive', job, onProgress, signal),
    readTable: async (job, signal) => unwrap<Table>(await pool.run(job, { name: 'readTable', signal })),
    async unpack(job, signal) {
      return unwrap<Unpacked>(await pool.run(job, { name: 'unpack', signal }))
    },
    async ask<K extends QuestionKind>(asked: Asked<K>, signal: AbortSignal) {
      const transferList = asked.columns.map(bufferOf)
      return unwrap<AnswerOf<K>>(await pool.run(asked, { name: 'ask', signal, transferList }))
    },
    oddRuns: (job, signal) => onRuns<OddRun[]>('oddRuns', job, signal),
    lookOver: (job, signal) => onRuns<Doubt[]>('looked', job, signal),
    close: () => pool.destroy(),
  }
}

/** Columns move to the thread and are not copied. */
const bufferOf = ({ values }: StoredColumns): ArrayBuffer => values.buffer as ArrayBuffer

function unwrap<T>(answer: Answer<T>): T {
  if ('value' in answer) return answer.value
  const { code, message, faults, more } = answer.refused
  throw new Refusal(code, message, faults, more)
}
