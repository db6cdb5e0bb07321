/** A wideband between charge and reading: gas travels, then a first-order response. */
export interface SensorResponse {
  /** s from port to sensor */
  delay: number
  /** s, time constant */
  tau: number
}

/**
 * What a sensor of that time constant shows, step by step, of what arrives; the travel of the gas is not in it. It starts settled.
 *
 * @param step s between two values
 * @param side how many traces lie side by side, step by step
 * @example
 * sensorTrace([0, 0, 1, 1, 1], 0.1, 0.1)[4] // 0.907
 */
export function sensorTrace(arriving: ArrayLike<number>, tau: number, step: number, side = 1): Float64Array {
  const out = new Float64Array(arriving.length)
  const follow = 1 - Math.exp(-step / tau)
  for (let k = 0; k < side; k++) out[k] = arriving[k]!
  // What arrives over a step is the mean of its ends; held from the one end it would come half a step late.
  for (let k = side; k < out.length; k++)
    out[k] = out[k - side]! + ((arriving[k - side]! + arriving[k]!) / 2 - out[k - side]!) * follow
  return out
}
