/**
 * Sum of products of two lists of one length.
 *
 * @param from where to begin: what lies before is nothing in one of them
 */
export function dot(a: Float64Array, b: Float64Array, from = 0): number {
  // Four sums side by side: one would wait for each product before the next.
  let sum = 0
  let second = 0
  let third = 0
  let fourth = 0
  let k = from
  for (const end = a.length - 3; k < end; k += 4) {
    sum += a[k]! * b[k]!
    second += a[k + 1]! * b[k + 1]!
    third += a[k + 2]! * b[k + 2]!
    fourth += a[k + 3]! * b[k + 3]!
  }
  for (; k < a.length; k++) sum += a[k]! * b[k]!
  return sum + second + (third + fourth)
}
