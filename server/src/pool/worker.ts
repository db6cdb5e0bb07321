import { estimateField, FieldError, LogError, type Field, type FieldOptions, type RunColumns } from '@yuzumix/core'
import { readLog as read, type LogJob, type ReadLog } from '../intake/readLog'

/** What a task answers: errors of the trade cross the thread as data, because classes do not. */
export type Answer<T> =
  | { value: T }
  | { logError: { message: string; faults: LogError['faults'] } }
  | { fieldError: { message: string; field: string } }

async function answer<T>(work: () => Promise<T> | T): Promise<Answer<T>> {
  try {
    return { value: await work() }
  } catch (error) {
    if (error instanceof LogError) return { logError: { message: error.message, faults: error.faults } }
    if (error instanceof FieldError) return { fieldError: { message: error.message, field: error.field } }
    throw error
  }
}

export function readLog(job: LogJob): Promise<Answer<ReadLog>> {
  return answer(() => read(job))
}

export function solveField({ runs, options }: { runs: RunColumns[]; options: FieldOptions }): Promise<Answer<Field>> {
  return answer(() => estimateField(runs, options))
}
