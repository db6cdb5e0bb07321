/** One thing wrong with a log: where, and what to do about it. */
export interface LogFault {
  message: string
  field?: string
  line?: number
  column?: number
}

/** A log that cannot be read. The message says what, where and what to do. */
export class LogError extends Error {
  readonly status = 422
  readonly title = 'The log cannot be read'
  readonly faults: readonly LogFault[]
  constructor(message: string, faults: readonly LogFault[] = []) {
    super(message)
    this.name = 'LogError'
    this.faults = faults.length ? faults : [{ message }]
  }
}
