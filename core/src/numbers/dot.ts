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

/**
 * Sums of products of a list with four others at a time: what is read of it serves them all.
 *
 * @param from where to begin: what lies before is nothing in `a` or in all others
 */
export function dotFour(a: Float64Array, others: readonly Float64Array[], from = 0): [number, number, number, number] {
  // Where there are fewer, the last is worked out more than once, to the same.
  const [b, c = b, d = c, e = d] = others as [Float64Array, ...Float64Array[]]
  let withB = 0
  let withC = 0
  let withD = 0
  let withE = 0
  for (let k = from; k < a.length; k++) {
    const one = a[k]!
    withB += one * b[k]!
    withC += one * c[k]!
    withD += one * d[k]!
    withE += one * e[k]!
  }
  return [withB, withC, withD, withE]
}
