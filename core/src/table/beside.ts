/** Row and column of a cell. */
export type Place = readonly [row: number, column: number]

/**
 * Places next to a cell, on the table or off it: below and above along load, then both along rpm.
 *
 * @example
 * besideAlong('rpm', [2, 5]) // [[2, 4], [2, 6]]
 */
export function besideAlong(along: 'load' | 'rpm', [row, column]: Place): [Place, Place] {
  return along === 'load'
    ? [
        [row - 1, column],
        [row + 1, column],
      ]
    : [
        [row, column - 1],
        [row, column + 1],
      ]
}

/** The four places next to a cell, on the table or off it. */
export function beside(at: Place): Place[] {
  return [...besideAlong('load', at), ...besideAlong('rpm', at)]
}
