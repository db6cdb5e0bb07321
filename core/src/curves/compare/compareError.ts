/** Sides that cannot be compared at all, and why. */
export class CompareError extends Error {
  readonly status = 422
  readonly title = 'Nothing can be compared'
  readonly faults = [{ field: 'second', message: this.message }]
}
