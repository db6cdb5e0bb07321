import { seededRandom } from '../src/numbers/random'
import type { SparkBin } from '../src/spark/bin'
import { interpolate } from '../src/table/lookup'
import type { Table } from '../src/table/table'
import { READ_AT, steppedBin } from './steppedBin'

/** Best advance and knock over speed and load of an engine that nobody knows, and what is in its controller. For tests only. */
export interface OtherSparkMap {
  table: Table
  best(rpm: number, load: number): number
  knock(rpm: number, load: number): number
  /** share of best torque at an advance */
  share(rpm: number, load: number, advance: number): number
  /** the advance stepped about what is there at some places, three runs each */
  measure(places: readonly (readonly [rpm: number, stop: number])[], steps?: readonly number[]): SparkBin[]
}

const RPM = [1500, 2500, 3500, 4500, 5500, 6500, 7500, 8500]
const LOAD = [10, 20, 35, 50, 70, 85, 100]

/** @param knocks how near the knock line comes to the best at full load, degrees above it (below nought: before it); Infinity for never */
export function otherSparkMap(seed: number, knocks = Infinity): OtherSparkMap {
  const random = seededRandom(9377 * seed + 5)
  const u = (low: number, high: number): number => low + (high - low) * random.uniform()
  const [base, rise, light, wave, phase, off, offPhase, tilt] = [
    u(8, 14),
    u(14, 20),
    u(8, 16),
    u(0.4, 1.5),
    u(0, 6),
    u(3, 6),
    u(0, 6),
    u(-2, 2),
  ]
  const [width, skew] = [u(34, 46), u(-0.2, 0.2)]
  const best = (rpm: number, load: number): number =>
    base + rise * (rpm / 8500) ** 0.6 + light * (1 - load / 100) + wave * Math.sin(rpm / 1100 + phase)
  const knock = (rpm: number, load: number): number =>
    best(rpm, load) + knocks + 9 * (1 - load / 100) + 2.5 * ((rpm - 4000) / 4000)
  const share = (rpm: number, load: number, advance: number): number => {
    const d = advance - best(rpm, load)
    const own = (width + 6 * (load / 100)) * (1 + skew * Math.tanh(d / 6))
    const late = Math.max(0, advance - knock(rpm, load))
    return (0.3 + 0.7 * Math.exp(-((d / own) ** 2))) * (1 - 0.003 * late)
  }
  const table: Table = {
    kind: 'spark base',
    composition: 'add',
    loadAxis: 'throttle',
    rpm: RPM,
    load: LOAD,
    values: LOAD.map((load) =>
      RPM.map((rpm) => {
        const there = best(rpm, load) - off * (0.6 + 0.4 * Math.sin(rpm / 1900 + offPhase)) + tilt * (load / 100 - 0.5)
        return Math.round(10 * Math.min(there, knock(rpm, load) + 1)) / 10
      }),
    ),
  }
  return {
    table,
    best,
    knock,
    share,
    measure: (places, steps = [0, -6, -3, 3, 6, 0]) =>
      places.map(([rpm, stop], k): SparkBin => {
        const present = Math.round(2 * interpolate(table, table.values, rpm, stop)) / 2
        const level = u(25, 60)
        const points = [1, 2, 3].flatMap((run) => {
          const own = 1 + 0.004 * random.normal()
          const heat = u(-0.015, 0.005)
          let ended = false
          return steps.flatMap((step, n) => {
            const advance = present + step
            if (ended && step > 0) return []
            const isKnocking = advance > knock(rpm, stop) + 0.3 * random.normal()
            ended ||= isKnocking
            const torque =
              level *
              own *
              (1 + (heat * n) / (steps.length - 1)) *
              share(rpm, stop, advance) *
              (1 + 0.008 * random.normal())
            return [{ advance, torque, knock: isKnocking, run: `${k} ${run}`, at: READ_AT }]
          })
        })
        return steppedBin({ stop, rpm, points, present })
      }),
  }
}
