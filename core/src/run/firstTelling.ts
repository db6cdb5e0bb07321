/** The first of some columns of lambda that has a reading: the sensor of a cylinder may be gone; undefined where none has. */
export function firstTelling(columns: readonly Float32Array[]): Float32Array | undefined {
  return columns.find((column) => column.some((value) => value > 0))
}
