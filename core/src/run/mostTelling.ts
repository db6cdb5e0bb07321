/**
 * Of some columns of lambda the one with the most readings, the first of equals: the sensor of a cylinder may be gone.
 * Undefined where none has any.
 */
export function mostTelling(columns: readonly Float32Array[]): Float32Array | undefined {
  const counts = columns.map((column) => column.reduce((count, value) => count + (value > 0 ? 1 : 0), 0))
  const most = Math.max(...counts)
  return most > 0 ? columns[counts.indexOf(most)] : undefined
}
