/** A job archive that cannot be read. */
export class ArchiveError extends Error {
  readonly status = 422
  readonly title = 'The archive cannot be read'
  readonly faults: { message: string; field: string }[]
  constructor(message: string, field = 'file') {
    super(message)
    this.faults = [{ message, field }]
  }
}
