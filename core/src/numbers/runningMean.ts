/** Half window of the mean that keeps a noisy throttle sensor from looking like movement, s. */
export const HALF_MEAN = 0.05

/** Mean over HALF_MEAN to both sides, passing over missing readings; NaN where there is none. */
export function runningMean(time: Float32Array, values: Float32Array): Float32Array {
  const out = new Float32Array(values.length)
  let from = 0
  let to = 0
  let sum = 0
  let count = 0
  const take = (value: number, sign: 1 | -1): void => {
    if (value !== value) return
    sum += sign * value
    count += sign
  }
  for (let i = 0; i < values.length; i++) {
    while (to < values.length && (to <= i || time[to]! <= time[i]! + HALF_MEAN)) take(values[to++]!, 1)
    while (from < i && time[from]! < time[i]! - HALF_MEAN) take(values[from++]!, -1)
    out[i] = count > 0 ? sum / count : NaN
  }
  return out
}
