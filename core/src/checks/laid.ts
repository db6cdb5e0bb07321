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
export interface LaidBin {
  lambda: number[]
  /** N·m, or power over speed; NaN for none */
  torque: number
}

/** A sweep at its stop, as checks take it. */
export interface Laid {
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
  bins: Map<number, LaidBin>
}

/** Sweeps of runs at their stops; rides, holds and readings by hand show none. */
export function laidSweeps(runs: readonly RunColumns[]): Laid[] {
  return runs.flatMap((run, order) =>
    run.handRange || !run.throttle ? [] : bySweep(run).flatMap((sweep) => laidSweep(sweep, order) ?? []),
  )
}

function laidSweep(run: RunColumns, order: number): Laid | null {
  const { time, rpm, lambda, torque, power } = run
  const throttle = run.throttle!
  const closed = closedLimit(throttle)
  const stop = stopOf(Array.from(throttle).filter((one) => one > closed))
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
  const bins = [...sums].flatMap(([bin, { n, lambda: sum, counts, torque: made, torques }]): [number, LaidBin][] =>
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
export function meanLambda({ lambda }: LaidBin): number {
  const known = lambda.filter((one) => one === one)
  return known.length ? known.reduce((sum, one) => sum + one, 0) / known.length : NaN
}

/** Sweeps of one stop after another: what is compared with what. */
export function stopGroups(sweeps: readonly Laid[]): Laid[][] {
  const groups: Laid[][] = []
  for (const one of [...sweeps].sort((a, b) => a.stop - b.stop)) {
    const last = groups.at(-1)?.[0]
    if (last && isAtStop(one.stop, last.stop)) groups.at(-1)!.push(one)
    else groups.push([one])
  }
  return groups
}

/** How far a sweep lies from the others of its stop, over the bins that they share. */
export interface Departure {
  sweep: Laid
  /** median over bins, and how far bins lie from it */
  level: number
  spread: number
  bins: number
  /** share of the sweep's own bins that were compared */
  share: number
}

/** Each sweep against the median of the others of its stop. @param value of a bin, where differences tell; NaN for none */
export function departures(group: readonly Laid[], value: (bin: LaidBin) => number): Departure[] {
  return group.flatMap((sweep): Departure[] => {
    const others = group.filter((one) => one !== sweep)
    const off = [...sweep.bins].flatMap(([k, bin]) => {
      const there = others.flatMap((one) => {
        const at = one.bins.get(k)
        const read = at ? value(at) : NaN
        return read === read ? [read] : []
      })
      const own = value(bin)
      return there.length && own === own ? [own - median(there)] : []
    })
    if (off.length === 0) return []
    const level = median(off)
    return [
      {
        sweep,
        level,
        spread: 1.4826 * median(off.map((one) => Math.abs(one - level))),
        bins: off.length,
        share: off.length / sweep.bins.size,
      },
    ]
  })
}
