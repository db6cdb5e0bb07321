/** First row not before a time; rows run forward. */
export function firstFrom(time: Float32Array, at: number): number {
  let low = 0
  let high = time.length
  while (low < high) {
    const middle = (low + high) >> 1
    if (time[middle]! < at) low = middle + 1
    else high = middle
  }
  return low
}
