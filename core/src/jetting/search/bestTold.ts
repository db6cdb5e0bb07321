import type { Slot } from '../carburettor'
import type { Proposal } from './proposal'
import { WORTH } from './worth'

const SCREWS: readonly Slot[] = ['screw', 'high', 'low']
/** Proposals of each number of changes. */
const TOLD = 3

/** Departure as it counts: what answers the range that reads worst may leave a quarter more elsewhere. */
const counted = ({ off, answers }: Proposal): number => (answers ? 0.8 * off : off)

/** What is told of proposals by number of changes: the best few, and more changes only where they are worth more. */
export function bestTold(judged: readonly Proposal[][]): Proposal[][] {
  let least = Infinity
  return judged.map((proposals) => {
    const seen = new Set<string>()
    const list = proposals
      .filter((one) => one.off < least - WORTH)
      // Of what cannot be told apart, the one that takes less time comes first; lean at full throttle never does.
      .sort(
        (a, b) =>
          Number(a.leanAtFull) - Number(b.leanAtFull) ||
          (Math.abs(counted(a) - counted(b)) < WORTH ? a.minutes - b.minutes : 0) ||
          counted(a) - counted(b),
      )
      // An eighth of a turn more or less is no other proposal.
      .filter(({ fitted, changed }) => {
        const key = JSON.stringify(changed.map((slot) => (SCREWS.includes(slot) ? slot : [slot, fitted[slot]])))
        return seen.has(key) ? false : seen.add(key)
      })
      .slice(0, TOLD)
    least = Math.min(least, ...list.map((one) => one.off))
    return list
  })
}
