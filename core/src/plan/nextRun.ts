import { refused } from '../refusal/refusal'
import { grouped, plain } from '../numbers/format'
import type { LoadGrid } from '../table/table'
import { candidates, timesMade, type NextRun } from './candidates'
import type { Pace } from './choice'
import { doubtAt } from './doubtAt'
import { expectedAt, inWords, type Expected } from './expectedAt'
import { gainAt } from './gainAt'
import { helpfulRun, type HelpfulRun } from './helpfulRun'
import type { RangeField } from './rangeField'
import { pointsOf } from './rangePoints'
import type { Wanted } from './wanted'

/** After the whole of the change suggested now. */
export interface NextAnswer extends Expected {
  enough: boolean
  /** what the limits of one pass leave until it is measured again; null where they leave no more than is wanted */
  afterLimits: Expected | null
  next: NextRun | null
  why: string
  /** what of the range asked for does not count, in words: small openings are not held to reach there until a run does */
  leftOut: string | null
  /** the most helpful runs, best first; none where none is asked for */
  ranked: HelpfulRun[]
}

/** Difference that is not worth a word, %. */
const SMALL = 0.1
/** How often one run is asked for, on the same tables: what it has not told by then it does not tell. */
const TIMES = 4
/** Runs that are named at the most. */
const MOST = 5

/**
 * What to run next, so that the range rides well in the fewest minutes: of all sweeps (up and down) and holds the one that
 * takes most doubt away per minute, worked out from the posterior itself; none when what is expected lies within what is
 * wanted, though limits may spread the change over some passes: no run makes those wider.
 *
 * @param known of the cylinder that is known least
 * @throws Refusal 'no-field' when the table does not reach into the range
 * @see Krause, Singh and Guestrin (2008), near-optimal sensor placements in Gaussian processes, for choosing by the variance that is taken away
 */
export function nextRun(grid: LoadGrid, known: RangeField, wanted: Wanted, pace: Pace): NextAnswer {
  const { points, unreached } = pointsOf(grid, wanted, known)
  const leftOut = leftOutWords(grid, unreached, points.length)
  if (points.length === 0 && known.heldZones.length === 0)
    throw refused('no-field', 'The table does not reach into this range.', 'rpm')
  if (points.length === 0)
    return {
      enough: true,
      typicalPct: 0,
      worstPct: 0,
      afterLimits: null,
      next: null,
      why: 'Nothing of this range is free: a closed loop holds it.',
      leftOut,
      ranked: [],
    }
  const doubts = doubtAt(known, points)
  const expected = expectedAt(points, known.left, doubts)
  const { typicalPct, worstPct, where } = expected
  const limited = expectedAt(points, known.leftByLimits, doubts)
  const isWithin = (one: Expected): boolean => one.typicalPct <= wanted.typicalPct && one.worstPct <= wanted.worstPct
  const enough = isWithin(expected)
  const isMore = limited.typicalPct > typicalPct + SMALL || limited.worstPct > worstPct + SMALL
  const isHeldBack = isMore && !isWithin(limited)
  const afterLimits = isHeldBack ? { typicalPct: limited.typicalPct, worstPct: limited.worstPct } : null
  const said = `Expected after the change: ${inWords(expected)}, near ${grouped(Math.round(where.rpm / 100) * 100)} rpm${loadWords(grid, where.load, known)}.`
  const heldBack = afterLimits
    ? ` One pass goes no further than its limits: until it is measured again, ${inWords(afterLimits)} are left.`
    : ''
  const none = (why: string): NextAnswer => ({
    enough,
    typicalPct,
    worstPct,
    afterLimits,
    next: null,
    why: `${said} ${why}${heldBack}`,
    leftOut,
    ranked: [],
  })
  if (enough) return none('That is within what is wanted.')
  const gainOf = gainAt(grid, known, points, doubts, typicalPct > wanted.typicalPct ? null : wanted.worstPct / 100)
  const ranked = candidates(grid, wanted, pace, known.ever)
    .map((run) => ({ run, gain: gainOf(run) / (run.minutes * (1 + timesMade(known.made, run))) }))
    .sort((a, b) => b.gain - a.gain)
  if (timesMade(known.made, ranked[0]!.run) >= TIMES) return none('No run tells more of it: the best were made before.')
  return {
    enough,
    typicalPct,
    worstPct,
    afterLimits,
    next: ranked[0]!.run,
    why: `${said} Of all runs this one takes most doubt away per minute.${heldBack}`,
    leftOut,
    ranked: ranked.slice(0, MOST).map(({ run }) => helpfulRun(grid, { ...known, ...known.present }, wanted, run)),
  }
}

/** The load of a place; none where a pressure is told by what is usual alone. */
const loadWords = ({ loadAxis }: LoadGrid, load: number, { ever }: Pick<RangeField, 'ever'>): string =>
  loadAxis === 'throttle' ? ` and ${Math.round(load)} %` : ever.length ? ` and ${Math.round(load)} kPa` : ''

/** What of a range is held not to be reached, with its size; null where all of it is. */
function leftOutWords(
  { loadAxis }: LoadGrid,
  unreached: readonly { rpm: number; load: number }[],
  counted: number,
): string | null {
  if (unreached.length === 0) return null
  const share = (100 * unreached.length) / (unreached.length + counted)
  const least = Math.min(...unreached.map((one) => one.rpm))
  if (loadAxis !== 'throttle')
    return `Not counted: ${plain(share, 0)} % of the range asked for, pressures that no opening is held to make from ${grouped(Math.round(least / 100) * 100)} rpm up.`
  const most = Math.max(...unreached.map((one) => one.load))
  return `Not counted: ${plain(share, 0)} % of the range asked for, openings up to ${Math.ceil(most)} % from ${grouped(Math.round(least / 100) * 100)} rpm up, which an engine is not held to reach. A run that does makes them count.`
}

/** Of the answers of several cylinders the one to go by: where it is not enough, then where limits leave something, then the least known. */
export function mostWanting(answers: readonly NextAnswer[]): NextAnswer {
  const rank = (one: NextAnswer): number => (one.enough ? (one.afterLimits ? 1 : 0) : 2)
  return [...answers].sort((a, b) => rank(b) - rank(a) || b.typicalPct - a.typicalPct)[0]!
}
