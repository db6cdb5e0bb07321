import { mean } from '../../numbers/mean'
import { runningMean } from '../../numbers/runningMean'
import { studentFactor } from '../../numbers/studentT'
import type { RunColumns } from '../../run/run'
import { closedLimit } from '../../run/closedLimit'

/** Torque of an engine that is driven with the throttle shut, N·m; negative brakes. */
export interface Braking {
  rpm: number
  torque: readonly [mean: number, low: number | null, high: number | null]
  /** overruns that it rests on */
  overruns: number
}

const STEP = 500
const LEAST_RPM = 1500
/** s after the throttle shut before torque counts. */
const SETTLES = 0.3

/** Engine braking by speed, over overruns of all runs: mean and 90 % interval; one overrun has none. */
export function engineBraking(runs: readonly RunColumns[]): Braking[] {
  const byBin = new Map<number, number[]>()
  for (const run of runs) {
    const { time, rpm, throttle, torque } = run
    if (!throttle || !torque || run.handRange) continue
    const plate = runningMean(time, throttle)
    const shut = closedLimit(plate)
    let since = NaN
    let own = new Map<number, number[]>()
    const close = (): void => {
      for (const [bin, values] of own) byBin.set(bin, [...(byBin.get(bin) ?? []), mean(values)])
      own = new Map()
    }
    for (let i = 0; i < time.length; i++) {
      if (!(plate[i]! <= shut) || !(rpm[i]! > LEAST_RPM)) {
        if (since === since) close()
        since = NaN
        continue
      }
      if (since !== since) since = time[i]!
      if (time[i]! - since < SETTLES || torque[i] !== torque[i]) continue
      const bin = Math.round(rpm[i]! / STEP)
      const values = own.get(bin)
      if (values) values.push(torque[i]!)
      else own.set(bin, [torque[i]!])
    }
    close()
  }
  return [...byBin]
    .sort((a, b) => a[0] - b[0])
    .map(([bin, values]) => ({ rpm: bin * STEP, torque: meanOf(values), overruns: values.length }))
}

function meanOf(values: readonly number[]): Braking['torque'] {
  const middle = mean(values)
  if (values.length < 2) return [middle, null, null]
  const variance = values.reduce((sum, value) => sum + (value - middle) ** 2, 0) / (values.length - 1)
  const half = studentFactor(0.9, values.length - 1) * Math.sqrt(variance / values.length)
  return [middle, middle - half, middle + half]
}
