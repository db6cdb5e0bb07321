import { median } from '../numbers/median'
import { bySweep, sweepOf } from '../run/bySweep'
import { closedLimit } from '../run/closedLimit'
import type { RunColumns } from '../run/run'
import { isAtStop, stopOf } from '../run/stopOf'

/** Width of a bin, rpm, and readings that it needs. */
const BIN = 250
const LEAST = 3
/** rpm over which a piece at one stop counts as a sweep. */
const LEAST_SPAN = 1000

/** One bin of a sweep: means of ln lambda by probe, NaN for none, and of torque. */
export interface SweepBin {
  lambda: number[]
  /** N·m, or power over speed; NaN for none */
  torque: number
}

/** A sweep at its stop, as checks take it. */
export interface BinnedSweep {
  /** of the run */
  id: string
  /** place in the order in which runs were made */
  order: number
  /** % */
  stop: number
  fromRpm: number
  toRpm: number
  /** rpm per second, and s between rows */
  rate: number
  step: number
  bins: Map<number, SweepBin>
}

/** Sweeps of runs at their stops; rides, holds and readings by hand show none. */
export function binnedSweeps(runs: readonly RunColumns[]): BinnedSweep[] {
  return runs.flatMap((run, order) =>
    run.handRange || !run.throttle ? [] : bySweep(run).flatMap((sweep) => binnedSweep(sweep, order) ?? []),
  )
}

function binnedSweep(run: RunColumns, order: number): BinnedSweep | null {
  const { time, rpm, lambda, torque, power } = run
  const throttle = run.throttle!
  const closed = closedLimit(throttle)
  const stop = stopOf(throttle.filter((one) => one > closed))
  if (stop === null) return null
  const rows = [...rpm.keys()].filter((i) => rpm[i]! > 0 && isAtStop(throttle[i]!, stop))
  const [first, last] = [rows[0], rows.at(-1)]
  if (first === undefined || last === undefined || last === first) return null
  const speeds = rows.map((i) => rpm[i]!).sort((a, b) => a - b)
  const [fromRpm, toRpm] = [speeds[Math.floor(0.01 * speeds.length)]!, speeds[Math.floor(0.99 * (speeds.length - 1))]!]
  if (toRpm - fromRpm < LEAST_SPAN) return null
  const sums = new Map<number, { n: number; lambda: number[]; counts: number[]; torque: number; torques: number }>()
  for (const i of rows) {
    const bin = Math.floor(rpm[i]! / BIN)
    let sum = sums.get(bin)
    if (!sum)
      sums.set(bin, (sum = { n: 0, lambda: lambda.map(() => 0), counts: lambda.map(() => 0), torque: 0, torques: 0 }))
    sum.n++
    lambda.forEach((column, c) => {
      if (!(column[i]! > 0)) return
      sum.lambda[c]! += Math.log(column[i]!)
      sum.counts[c]!++
    })
    const made = torque?.[i] ?? (power ? power[i]! / rpm[i]! : NaN)
    if (made === made) [sum.torque, sum.torques] = [sum.torque + made, sum.torques + 1]
  }
  const bins = [...sums].flatMap(([bin, { n, lambda: sum, counts, torque: made, torques }]): [number, SweepBin][] =>
    n < LEAST
      ? []
      : [
          [
            bin,
            {
              lambda: sum.map((one, c) => (counts[c]! >= LEAST ? one / counts[c]! : NaN)),
              torque: torques >= LEAST ? made / torques : NaN,
            },
          ],
        ],
  )
  const steps = rows.slice(1).map((i, k) => time[i]! - time[rows[k]!]!)
  return {
    id: sweepOf(run.id).run,
    order,
    stop,
    fromRpm,
    toRpm,
    rate: Math.abs(rpm[last]! - rpm[first]!) / (time[last]! - time[first]!),
    step: median(steps),
    bins: new Map(bins),
  }
}

/** Mean of ln lambda over the probes that read a bin; NaN for none. */
export function meanLambda({ lambda }: SweepBin): number {
  const known = lambda.filter((one) => one === one)
  return known.length ? known.reduce((sum, one) => sum + one, 0) / known.length : NaN
}
