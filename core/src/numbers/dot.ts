/**
 * Sum of products of two lists of one length.
 *
 * @param from where to begin: what lies before is nothing in one of them
 */
export function dot(a: Float64Array, b: Float64Array, from = 0): number {
  let sum = 0
  for (let k = from; k < a.length; k++) sum += a[k]! * b[k]!
  return sum
}
