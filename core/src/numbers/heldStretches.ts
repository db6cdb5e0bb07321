/** A column, and how far from its value at a stretch's start it may go within the stretch. */
export interface HeldColumn {
  values: ArrayLike<number>
  within: number
}

/**
 * Stretches in which all columns are held, one after the other over all rows: a row that leaves any of them by as much as
 * is allowed (or is unknown) begins the next.
 *
 * @param rows how many there are
 * @returns first row and the one after the last of each stretch
 *
 * @example
 * heldStretches(4, [{ values: [1, 1.1, 5, 5], within: 0.5 }]) // [{ from: 0, to: 2 }, { from: 2, to: 4 }]
 */
export function heldStretches(rows: number, columns: readonly HeldColumn[]): { from: number; to: number }[] {
  const stretches: { from: number; to: number }[] = []
  let from = 0
  for (let i = 1; i <= rows; i++) {
    if (i < rows && columns.every(({ values, within }) => Math.abs(values[i]! - values[from]!) < within)) continue
    stretches.push({ from, to: i })
    from = i
  }
  return stretches
}
