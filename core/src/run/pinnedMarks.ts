/** Marks readings pinned at the channel's own extreme: the same end value three times or more in a row. */
export function pinnedMarks(lambda: Float32Array): Uint8Array {
  let low = Infinity
  let high = -Infinity
  for (const value of lambda) {
    if (value < low) low = value
    if (value > high) high = value
  }
  const marks = new Uint8Array(lambda.length)
  for (let i = 0; i < lambda.length;) {
    const value = lambda[i]!
    let end = i + 1
    if ((value === high && high > 1.15) || (value === low && low < 0.8)) {
      while (end < lambda.length && lambda[end] === value) end++
      if (end - i >= 3) marks.fill(1, i, end)
    }
    i = end
  }
  return marks
}
