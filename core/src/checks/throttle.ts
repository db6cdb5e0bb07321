import { plain } from '../numbers/format'
import { median } from '../numbers/median'
import type { RunColumns } from '../run/run'
import type { Doubt, Ground } from './doubt'
import type { BinnedSweep } from './binnedSweep'
import { named } from './named'

/** % within which lowest openings of files are one stop of the plate, and the least that is no shut plate. */
const SAME = 0.9
const SHUT = { least: 3.5, most: 25 }
/** Share of the files that must come down to it, and how many there must be. */
const COME_DOWN = 0.8
const LEAST_RUNS = 3
/** Openings that runs are held at lie on such a step (common practice), % and how near. */
const ROUND = { step: 5, near: 0.8 }
/** Stops that must be there, and shares of them that lie on steps: as logged at the most, as stretched at the least. */
const STOPS = { least: 4, logged: 0.5, stretched: 0.85 }
const FULL = { least: 55, most: 97 }
/** % beyond which an opening cannot be. */
const MOST = 104

/** A throttle that is not taught: its shut, or its full opening, reads something else. */
export function throttleDoubts(runs: readonly RunColumns[], sweeps: readonly BinnedSweep[], ground: Ground): Doubt[] {
  const logged = runs.filter((run) => run.throttle && !run.handRange)
  if (logged.length === 0) return []
  const ends = logged.map((run) => endsOf(run.throttle!))
  const top = Math.max(...ends.map((one) => one.high))
  const stops = [...new Set(sweeps.map((one) => one.stop))]
  const shut = shutAt(
    ends.map((one) => one.low),
    stops,
  )
  const open = openAt(stops, shut ?? 0, top)
  if (shut === null && open === null && top <= MOST) return []
  const [from, to] = [shut ?? 0, open ?? (top > MOST ? top : 100)]
  const said = [
    shut === null ? '' : `never reads below ${plain(shut, 1)} %`,
    open !== null || top > MOST ? `never reads above ${plain(to, 1)} %` : '',
  ].filter(Boolean)
  const ids = logged.map((run) => run.id)
  return [
    {
      kind: 'throttle',
      runs: ids,
      text: `The throttle of ${named(ids, ground.names, runs.length)} ${said.join(' and ')}. Teach its ends at the controller, or stretch it for these runs.`,
      offer: {
        label: `Read ${plain(from, 1)} to ${plain(to, 1)} % as 0 to 100`,
        readAs: { throttle: { shut: Math.round(10 * from) / 10, open: Math.round(10 * to) / 10 } },
      },
    },
  ]
}

/** Lowest and highest opening of a run, a hundredth of its rows at either end left out. */
function endsOf(throttle: Float32Array): { low: number; high: number } {
  const stride = Math.max(1, Math.ceil(throttle.length / 5000))
  const sorted = Array.from(throttle)
    .filter((one, i) => one === one && i % stride === 0)
    .sort((a, b) => a - b)
  const at = (share: number): number => sorted[Math.round(share * (sorted.length - 1))] ?? NaN
  return { low: at(0.01), high: at(0.99) }
}

/** Opening that nearly all files come down to, though they were held elsewhere; null for none, or for a plate that shuts. */
function shutAt(lows: readonly number[], stops: readonly number[]): number | null {
  const level = median(lows)
  const there = lows.filter((one) => Math.abs(one - level) <= SAME)
  const isStop = stops.some((one) => one < level + 2)
  return lows.length >= LEAST_RUNS &&
    level >= SHUT.least &&
    level <= SHUT.most &&
    there.length >= COME_DOWN * lows.length &&
    !isStop
    ? level
    : null
}

/** Reading of a plate that is fully open, where stops lie on whole steps only if the highest of them is; null else. */
function openAt(stops: readonly number[], shut: number, top: number): number | null {
  const groups = [...stops].sort((a, b) => a - b).filter((one, k, all) => k === 0 || one - all[k - 1]! > 1.5)
  const highest = groups.at(-1)
  if (highest === undefined || groups.length < STOPS.least || highest < FULL.least || highest > FULL.most) return null
  if (top > highest + 3) return null
  const onSteps = (values: readonly number[]): number =>
    values.filter((one) => Math.abs(one - ROUND.step * Math.round(one / ROUND.step)) <= ROUND.near).length /
    values.length
  // The highest lands on 100 whatever is true: it tells nothing.
  const others = groups.slice(0, -1)
  const stretched = others.map((one) => (100 * (one - shut)) / (highest - shut))
  return onSteps(groups) <= STOPS.logged && onSteps(stretched) >= STOPS.stretched ? highest : null
}
