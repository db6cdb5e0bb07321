/**
 * A curve through points that rises where they rise and never beyond them: piecewise cubic Hermite.
 *
 * @param xs strictly rising
 * @returns the value at a place; beyond the ends that of the end
 * @see Fritsch and Carlson, SIAM J. Numerical Analysis 17 (1980) 238; slopes by Fritsch and Butland (1984)
 * @example
 * monotoneCubic([0, 1, 2], [0, 1, 4])(1) // 1
 */
export function monotoneCubic(xs: readonly number[], ys: readonly number[]): (x: number) => number {
  const n = xs.length
  const rise = Array.from({ length: Math.max(0, n - 1) }, (_, k) => (ys[k + 1]! - ys[k]!) / (xs[k + 1]! - xs[k]!))
  const slope = Array.from({ length: n }, (_, k) => {
    if (n === 1) return 0
    if (k === 0) return rise[0]!
    if (k === n - 1) return rise[n - 2]!
    const [before, after] = [rise[k - 1]!, rise[k]!]
    if (before * after <= 0) return 0
    const [left, right] = [xs[k]! - xs[k - 1]!, xs[k + 1]! - xs[k]!]
    const [a, b] = [2 * right + left, right + 2 * left]
    return (a + b) / (a / before + b / after)
  })
  return (x) => {
    if (x <= xs[0]!) return ys[0]!
    if (x >= xs[n - 1]!) return ys[n - 1]!
    let k = 0
    while (x > xs[k + 1]!) k++
    const h = xs[k + 1]! - xs[k]!
    const t = (x - xs[k]!) / h
    return (
      ys[k]! * (1 + 2 * t) * (1 - t) ** 2 +
      h * slope[k]! * t * (1 - t) ** 2 +
      ys[k + 1]! * t * t * (3 - 2 * t) +
      h * slope[k + 1]! * t * t * (t - 1)
    )
  }
}
