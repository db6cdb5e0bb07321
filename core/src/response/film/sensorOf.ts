import { findChops, fitResponse } from '../../run/chops'
import { median } from '../../numbers/median'
import type { RunColumns } from '../../run/run'
import { alikeOpenings } from '../rollOns/alikeOpenings'
import { fitFilm, STARTS } from './fitFilm'
import { FREE, fitFree } from './freeCurve'
import type { SensorResponse } from './sensorTrace'
import type { TracedOpening } from './tracedOpening'

/** A response of the sensor that the readings allow, and how much they speak for it. */
interface LikelySensor extends SensorResponse {
  /** of all that are likely; together 1 */
  weight: number
}

/** What is known of the way from charge to reading. */
export interface SensorKnown {
  likely: LikelySensor[]
  /** s, whole lag: travel and time constant together */
  lag: number
  /** standard error of it, s */
  error: number
  from: 'openings' | 'chops' | 'given' | 'assumed'
}

/** Longest travel that is tried, s. */
const LONGEST_DELAY = 0.5
/** Time constants of a wideband with its cap, s (common practice), and how usual each is. */
const TAUS = [0.04, 0.06, 0.075, 0.09, 0.105, 0.12, 0.14]
const USUAL_TAU = { middle: 0.09, spread: 0.022 }
/** Whole lag before anything is known, s. */
const USUAL_LAG = { middle: 0.21, spread: 0.1 }
/** Openings that the search uses at most; those that the mixture follows most come first. */
const MOST_OPENINGS = 8
/** Steps of the travel, s: to find about where it lies, and about there; and how far from there is looked. */
const DELAY_STEPS = { coarse: 0.04, fine: 0.02, around: 0.06 }
/** s by which a given lag may be off, and how likely it is meant without the sensor's own time: readings tell which. */
const GIVEN_ERROR = 0.012
const GIVEN_BARE = 0.1
/** s by which chops may mislead: fuel is not cut in the moment when the plate shuts. */
const CHOP_ERROR = 0.03
/** Chops that sharpen that; what is wrong with all of them stays. */
const MOST_CHOPS = 6
/** Rounds of a fit that only has to tell one response from another. */
const FEW_ROUNDS = 4
/** Logarithm of how much less likely than the best a candidate is not looked at further. */
const HOPELESS = 15
/** Candidates that are kept, and the least weight of one beside the best. */
const KEPT = 7
const LEAST_WEIGHT = 0.02

/**
 * Travel and time constant of the sensor, from how the reading follows all openings together, from throttle chops, and
 * from what is usual.
 *
 * @param lag s, when somebody says it: travel and time constant together
 */
export function sensorOf(
  traced: readonly TracedOpening[],
  runs: readonly RunColumns[],
  lag: number | null,
): SensorKnown {
  const openings = [...traced].sort((a, b) => stir(b) - stir(a)).slice(0, MOST_OPENINGS)
  const chops = lag === null ? runs.flatMap(findChops) : []
  const chop = chops.length ? fitResponse(chops.slice(0, MOST_OPENINGS)) : null
  const pinned = chops.some((one) => one.pinned)
  // Repeats share their film: each by itself would be taken for the simplest that explains it.
  const groups = alikeOpenings(openings)
  const clearest = groups.map(() => -Infinity)
  let best = -Infinity
  const judged = (tau: number, delay: number): LikelySensor & { log: number } => {
    let log = wished({ delay, tau }, lag, chop, pinned, chops.length)
    for (const [p, group] of groups.entries()) {
      // Whatever the groups left say, it will not come near the best.
      const rest = clearest.slice(p).reduce((sum, value) => sum + value, 0)
      if (clearest.every(Number.isFinite) && log + rest < best - HOPELESS) {
        log = -Infinity
        break
      }
      const own = evidence(group, { delay, tau })
      clearest[p] = Math.max(clearest[p]!, own)
      log += own
    }
    best = Math.max(best, log)
    return { delay, tau, weight: 0, log }
  }
  const candidates = delaysOf(lag, judged).flatMap(({ tau, delays }) => delays.map((delay) => judged(tau, delay)))
  const weighed = candidates
    .map(({ delay, tau, log }) => ({ delay, tau, weight: Math.exp(log - best) }))
    .filter((one) => one.weight > LEAST_WEIGHT)
  const total = weighed.reduce((sum, one) => sum + one.weight, 0)
  const meanOf = (of: (one: LikelySensor) => number): number =>
    weighed.reduce((sum, one) => sum + (one.weight * of(one)) / total, 0)
  const middle = meanOf((one) => one.delay + one.tau)
  const error = Math.sqrt(meanOf((one) => (one.delay + one.tau - middle) ** 2) + 0.005 ** 2)
  const kept = weighed.sort((a, b) => b.weight - a.weight).slice(0, KEPT)
  const keptTotal = kept.reduce((sum, one) => sum + one.weight, 0)
  const from = lag !== null ? 'given' : openings.some((one) => stir(one) > 4) ? 'openings' : chop ? 'chops' : 'assumed'
  return {
    likely: kept.map((one) => ({ ...one, weight: one.weight / keptTotal })),
    lag: middle,
    // What is merely usual is known no better than that.
    error: from === 'assumed' ? USUAL_LAG.spread : error,
    from,
  }
}

/** Travels that are tried, by time constant: about a lag that is given, else about where a coarse look finds them. */
function delaysOf(
  lag: number | null,
  judged: (tau: number, delay: number) => { log: number },
): { tau: number; delays: number[] }[] {
  if (lag !== null)
    return TAUS.map((tau) => ({
      tau,
      delays: [lag - tau, lag]
        .flatMap((delay) => [-GIVEN_ERROR, 0, GIVEN_ERROR].map((off) => delay + off))
        .filter((delay) => delay >= 0),
    }))
  const { coarse, fine, around } = DELAY_STEPS
  const all = Array.from({ length: Math.round(LONGEST_DELAY / coarse) }, (_, k) => (k + 0.5) * coarse)
  const logs = all.map((delay) => judged(USUAL_TAU.middle, delay).log)
  const middle = all[logs.indexOf(Math.max(...logs))]!
  const steps = Math.round(around / fine)
  const about = Array.from({ length: 2 * steps + 1 }, (_, k) => middle + (k - steps) * fine)
  return TAUS.map((tau) => ({
    tau,
    // A sensor that answers sooner has gas that travels longer.
    delays: about.map((delay) => delay + USUAL_TAU.middle - tau).filter((delay) => delay > 0),
  }))
}

/** Logarithm of how likely the readings about openings of one kind are at one response, over all kinds of film that are tried, and without any. */
function evidence(group: readonly TracedOpening[], sensor: SensorResponse): number {
  const films = STARTS.filter((one) => one.kind !== 'both').map(
    (start) => fitFilm(group, sensor, start, FEW_ROUNDS).log,
  )
  const logs = [...films, Math.log(FREE.weight) + fitFree(group, sensor, FREE).log]
  const most = Math.max(...logs)
  return most + Math.log(logs.reduce((sum, log) => sum + Math.exp(log - most), 0) / logs.length)
}

/** Logarithm of what is known beforehand. */
function wished(
  { delay, tau }: SensorResponse,
  lag: number | null,
  chop: { delay: number; timeConstant: number } | null,
  isPinned: boolean,
  chops: number,
): number {
  const off = (value: number, middle: number, spread: number): number => -(((value - middle) / spread) ** 2) / 2
  let log = off(tau, USUAL_TAU.middle, USUAL_TAU.spread)
  log +=
    lag === null
      ? off(delay + tau, USUAL_LAG.middle, USUAL_LAG.spread)
      : Math.log(
          (1 - GIVEN_BARE) * Math.exp(off(delay + tau, lag, GIVEN_ERROR)) +
            GIVEN_BARE * Math.exp(off(delay, lag, GIVEN_ERROR)) +
            1e-12,
        )
  if (chop) {
    log += off(delay, chop.delay, CHOP_ERROR / Math.sqrt(Math.min(chops, MOST_CHOPS)))
    // Behind an end stop the true step is not seen, and the time constant looks shorter than it is.
    if (!isPinned) log += off(tau, chop.timeConstant, USUAL_TAU.spread)
  }
  return log
}

/** By how many standard deviations the mixture is stirred by an opening. */
function stir({ time, lambda, noise }: TracedOpening): number {
  const after = lambda.filter((_, k) => time[k]! > 0)
  const late = median(after.slice(-Math.max(3, Math.floor(after.length / 3))))
  const sorted = after.map((value) => Math.abs(value - late)).sort((a, b) => b - a)
  return (sorted[2] ?? 0) / noise
}
