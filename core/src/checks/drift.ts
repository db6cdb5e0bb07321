import { signed } from '../numbers/format'
import { studentTail } from '../numbers/studentT'
import type { Doubt, Ground } from './doubt'
import { meanLambda, type BinnedSweep } from './binnedSweep'
import { departures, stopGroups } from './departures'
import { nameOf } from './named'

/** Drift over all runs that is named (ln), and how unlikely it must be by chance. */
const DRIFT = { least: 0.014, chance: 2e-4, freedom: 3 }

/** Repeats that step or drift with time: a probe that ages, or is dirty. */
export function driftDoubts(sweeps: readonly BinnedSweep[], { names }: Ground): Doubt[] {
  const levels = stopGroups(sweeps).flatMap((group) => {
    if (group.length < 2) return []
    const off = departures(group, meanLambda)
    // Each was held against the others: against the mean of all it lies nearer.
    const share = (group.length - 1) / group.length
    return off.map((one) => ({
      id: one.sweep.id,
      at: one.sweep.order,
      y: share * one.level,
      group: group[0]!.stop,
    }))
  })
  const free = levels.length - new Set(levels.map((one) => one.group)).size - 1
  if (free < DRIFT.freedom) return []
  const slopeOf = (pick: (one: (typeof levels)[number]) => number): { size: number; chance: number } => {
    const own = levels.map((one) => ({ x: pick(one), y: one.y, group: one.group }))
    const centred = own.map((one) => {
      const mates = own.filter((other) => other.group === one.group)
      const mean = (of: 'x' | 'y'): number => mates.reduce((sum, other) => sum + other[of], 0) / mates.length
      return { x: one.x - mean('x'), y: one.y - mean('y') }
    })
    const xx = centred.reduce((sum, one) => sum + one.x ** 2, 0)
    if (xx === 0) return { size: 0, chance: 1 }
    const slope = centred.reduce((sum, one) => sum + one.x * one.y, 0) / xx
    const left = centred.reduce((sum, one) => sum + (one.y - slope * one.x) ** 2, 0)
    const error = Math.sqrt(left / free / xx)
    return { size: slope, chance: error > 0 ? studentTail(slope / error, free) : 0 }
  }
  const orders = levels.map((one) => one.at)
  // As far as repeats of one stop lie apart: beyond that a drift is a guess.
  const range = Math.max(
    ...levels.map(
      (one) => one.at - Math.min(...levels.filter((other) => other.group === one.group).map(({ at }) => at)),
    ),
  )
  const drift = slopeOf((one) => one.at)
  const total = drift.size * range
  if (Math.abs(total) >= DRIFT.least && drift.chance < DRIFT.chance)
    return [
      {
        kind: 'probe drifts',
        runs: [],
        text: `Repeats read ever ${total > 0 ? 'leaner' : 'richer'}: ${signed(100 * total)} % from the first repeat of a stop to the last. A probe that ages or gets dirty does that. Check it in free air and run the first stop again; until then figures are off by up to that much.`,
        offer: null,
      },
    ]
  // A step: every place it may be at, so that chance is counted by their number.
  const places = [...new Set(orders)].sort((a, b) => a - b).slice(1)
  const steps = places.map((place) => ({ place, ...slopeOf((one) => (one.at >= place ? 1 : 0)) }))
  const best = steps.reduce<(typeof steps)[number] | null>((a, b) => (a && a.chance <= b.chance ? a : b), null)
  if (!best || Math.abs(best.size) < DRIFT.least || best.chance * places.length > DRIFT.chance) return []
  const from = levels.find((one) => one.at === best.place)!
  return [
    {
      kind: 'probe drifts',
      runs: [],
      text: `From "${nameOf(from.id, names)}" on repeats read ${signed(100 * best.size)} % ${best.size > 0 ? 'leaner' : 'richer'} than before. A probe that took a knock, another gauge, or something that was changed does that. Check it in free air, and put what came after a change into a set of its own.`,
      offer: null,
    },
  ]
}
