import type { Table } from '../../table/table'
import type { RollOnGroup } from './rollOnGroups'

/** A changed table of acceleration fuel, and the cells that groups spoke for. */
export interface AccelerationChange {
  values: number[][]
  changed: number
}

/** How far a group speaks, in logarithms of speed and of plate speed. */
const REACH = { rpm: 0.22, rate: 0.8 }
/** Times what is missing: part of what is added lands on the wall first. */
const LANDS = 1.1
/** Percent that a pass may add to or take from a cell. */
const MOST_STEP = 40

/**
 * A table of acceleration fuel (percent, by rpm and by % of plate per second) after what groups of roll-ons ask for. Part of
 * what is added lands on the wall and comes later, so that a pass takes away most of a lean peak and not all of it.
 *
 * @throws RangeError for a table of another kind
 */
export function accelerationChange(
  { rpm, load, values, kind }: Table,
  groups: readonly RollOnGroup[],
): AccelerationChange {
  if (kind !== 'acceleration fuel') throw new RangeError('Only a table of acceleration fuel is changed by roll-ons.')
  const asked = groups
    .filter((one) => one.members.some((member) => !member.rollOn.bounded))
    .map((one) => ({ rpm: one.rpm, rate: rateOf(one), step: stepOf(one), weight: one.n }))
  let changed = 0
  const next = values.map((row, r) =>
    row.map((value, c) => {
      let [sum, total] = [0, 0]
      for (const one of asked) {
        const far = Math.hypot(
          Math.log(rpm[c]! / one.rpm) / REACH.rpm,
          Math.log(load[r]! / Math.max(load[0]!, Math.min(load.at(-1)!, one.rate))) / REACH.rate,
        )
        const weight = one.weight * Math.exp(-(far ** 2) / 2)
        sum += weight * one.step
        total += weight
      }
      // Far from all roll-ons nothing is changed: a hundredth of one is none.
      const step = total > 0.05 ? Math.min(MOST_STEP, Math.max(-MOST_STEP, (LANDS * sum) / Math.max(1, total))) : 0
      const after = Math.max(0, Math.round(10 * (value + step)) / 10)
      if (after !== value) changed++
      return after
    }),
  )
  return { values: next, changed }
}

function rateOf({ members }: RollOnGroup): number {
  return members.reduce((sum, one) => sum + one.rollOn.ratePctS, 0) / members.length
}

/** Percent of fuel that a group asks for. */
function stepOf({ advice }: RollOnGroup): number {
  return advice.what === 'more' ? advice.pct[0] : advice.what === 'less' ? -advice.pct[0] : 0
}
