/** Level of the knock channel (rigs differ: it can be set), and readings in a row, that count as knock; a single spike does not. */
export const KNOCK_LEVEL = 0.6
export const KNOCKS = 3

/**
 * Whether there was knock between two samples.
 *
 * @param to the sample after the last
 */
export function knocksWithin(knock: Float32Array | undefined, from: number, to: number, level = KNOCK_LEVEL): boolean {
  let row = 0
  for (let i = from; knock && i < to; i++) {
    row = knock[i]! > level ? row + 1 : 0
    if (row >= KNOCKS) return true
  }
  return false
}
