import { fileURLToPath } from 'node:url'
import { MessageChannel } from 'node:worker_threads'
import { Piscina } from 'piscina'
import { FieldError, LogError, type Field, type FieldOptions, type RunColumns } from '@yuzumix/core'
import type { LogJob, ReadLog } from '../intake/readLog'
import type { Answer } from './worker'

/** Heavy work, each in a worker thread. */
export interface WorkPool {
  readLog(job: Omit<LogJob, 'progress'>, onProgress: (share: number) => void, signal: AbortSignal): Promise<ReadLog>
  solveField(runs: RunColumns[], options: FieldOptions, signal: AbortSignal): Promise<Field>
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
  return {
    async readLog(job, onProgress, signal) {
      const { port1, port2 } = new MessageChannel()
      port1.on('message', onProgress)
      try {
        return unwrap<ReadLog>(
          await pool.run({ ...job, progress: port2 }, { name: 'readLog', signal, transferList: [port2] }),
        )
      } finally {
        port1.close()
      }
    },
    async solveField(runs, options, signal) {
      const transferList = runs.flatMap((run) =>
        [run.time, run.rpm, ...run.lambda].map((column) => column.buffer as ArrayBuffer),
      )
      return unwrap<Field>(await pool.run({ runs, options }, { name: 'solveField', signal, transferList }))
    },
    close: () => pool.destroy(),
  }
}

function unwrap<T>(answer: Answer<T>): T {
  if ('value' in answer) return answer.value
  if ('logError' in answer) throw new LogError(answer.logError.message, answer.logError.faults)
  throw new FieldError(answer.fieldError.message, answer.fieldError.field)
}
