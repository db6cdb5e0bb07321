import { median } from '../numbers/median'
import { isSameStop } from '../run/stopOf'
import type { BinnedSweep, SweepBin } from './binnedSweep'

/** Sweeps of one stop after another: what is compared with what. */
export function stopGroups(sweeps: readonly BinnedSweep[]): BinnedSweep[][] {
  const groups: BinnedSweep[][] = []
  for (const one of [...sweeps].sort((a, b) => a.stop - b.stop)) {
    const last = groups.at(-1)?.[0]
    if (last && isSameStop(one.stop, last.stop)) groups.at(-1)!.push(one)
    else groups.push([one])
  }
  return groups
}

/** How far a sweep lies from the others of its stop, over the bins that they share. */
export interface Departure {
  sweep: BinnedSweep
  /** median over bins, and how far bins lie from it */
  level: number
  spread: number
  bins: number
  /** share of the sweep's own bins that were compared */
  share: number
}

/** Each sweep against the median of the others of its stop. @param value of a bin, where differences tell; NaN for none */
export function departures(group: readonly BinnedSweep[], value: (bin: SweepBin) => number): Departure[] {
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
