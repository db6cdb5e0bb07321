import { studentFactor } from '../../numbers/studentT'
import type { RunColumns } from '../../run/run'
import { alikeOpenings } from './alikeOpenings'
import { excursionOf, SETTLED, startsLike, type Estimate, type Excursion } from './excursion'
import type { ThrottleOpening } from './openingsOf'
import { isInferred, judgeRollOn, shownPeaks, type JudgedRollOn } from './rollOns'
import type { SensorKnown } from '../film/sensorOf'
import type { TracedOpening } from '../film/tracedOpening'
import { NINETY } from '../../numbers/ninety'

/** What to do with the acceleration fuel. */
export interface Advice {
  /** more or less of it, or a slower or quicker decay; none where the mixture stays within 2 % or within its spread */
  what: 'more' | 'less' | 'slower' | 'quicker' | 'none'
  /** by how much: percent of the fuel at the opening, or percent of the time in which it decays */
  pct: Estimate
}

/** Openings of one kind: about one start speed, from about one opening to another. */
export interface RollOnGroup {
  rpm: number
  fromLoad: number
  toLoad: number
  n: number
  leanPct: Estimate
  richPct: Estimate
  settleS: Estimate
  advice: Advice
  /** how many of them only bound their peaks */
  bounded: number
  members: JudgedRollOn[]
  excursion: Excursion
}

/** Percent of lambda that is worth a change. */
const WORTH = 100 * SETTLED
/** Least of the interval's lower end, percent: what is not beyond it is spread. */
const SURE = 0.8
/** A hole of the steady mixture is larger than what is usual there: so many times that is allowed for. */
const HOLE = 3
/** Members that a fit takes at most; more add nothing but time. */
const MOST = 8

/** Groups of openings, by start speed and step, each judged with what the others of its group tell of the film. */
export function groupRollOns(
  runs: ReadonlyMap<string, RunColumns>,
  traced: readonly TracedOpening[],
  sensor: SensorKnown,
): RollOnGroup[] {
  return alikeOpenings(traced).map((members) => groupOf(runs, members, sensor))
}

function groupOf(
  runs: ReadonlyMap<string, RunColumns>,
  traced: readonly TracedOpening[],
  sensor: SensorKnown,
): RollOnGroup {
  const together = traced.length > 1 ? excursionOf(clearFirst(traced), sensor) : null
  const starts = together ? startsLike(together) : undefined
  const members = traced.map((one) => judgeRollOn(runs.get(one.opening.run)!, one, sensor, starts))
  const clear = members.filter((one) => !one.rollOn.bounded)
  const excursion = together ?? members[0]!.excursion
  const told = (clear.length ? clear : members).map((one) => one.excursion)
  const shown = shownPeaks(excursion, sensor)
  const lean = atLeast(excursion.lean, shown.lean)
  const rich = atLeast(excursion.rich, shown.rich)
  const middle = (of: (one: ThrottleOpening) => number): number =>
    traced.reduce((sum, one) => sum + of(one.opening), 0) / traced.length
  return {
    rpm: middle((one) => one.rpm),
    fromLoad: middle((one) => one.fromLoad),
    toLoad: middle((one) => one.toLoad),
    n: members.length,
    leanPct: withRepeats(
      lean,
      told.map((one) => one.lean[0]),
    ),
    richPct: withRepeats(
      rich,
      told.map((one) => one.rich[0]),
    ),
    settleS: withRepeats(
      excursion.settle,
      told.map((one) => one.settle[0]),
    ),
    advice: adviceOf({ ...excursion, lean, rich }),
    bounded: members.length - clear.length,
    members,
    excursion,
  }
}

/** A peak that is mostly worked out counts with what the sensor shows of it. */
function atLeast(peak: Estimate, shown: number): Estimate {
  return isInferred(peak, shown) ? [shown, Math.min(shown, peak[1]), peak[2]] : peak
}

/** Openings that a fit takes: those whose readings do not rest on an end of the sensor's range, as long as there are any. */
function clearFirst(traced: readonly TracedOpening[]): TracedOpening[] {
  const clear = traced.filter((one) => !one.pinned)
  return (clear.length ? clear : traced).slice(0, MOST)
}

/** The interval of a fit, no narrower than what the repeats themselves leave. */
function withRepeats([estimate, low, high]: Estimate, repeats: readonly number[]): Estimate {
  const n = repeats.length
  if (n < 2) return [estimate, low, high]
  const middle = repeats.reduce((sum, value) => sum + value, 0) / n
  const variance = repeats.reduce((sum, value) => sum + (value - middle) ** 2, 0) / (n - 1)
  const half = studentFactor(0.9, n - 1) * Math.sqrt(variance / n)
  return [estimate, Math.max(0, Math.min(low, estimate - half)), Math.max(high, estimate + half)]
}

const NONE: Advice = { what: 'none', pct: [0, 0, 0] }

/** What an excursion asks of the acceleration fuel: by the kind of disturbance that explains it best. */
function adviceOf({ lean, rich, doubt, fits }: Excursion): Advice {
  const main = lean[0] >= rich[0] ? lean : rich
  if (main[0] < WORTH || main[1] < SURE || main[0] - 100 * HOLE * doubt < SURE) return NONE
  const votes = fits.map((one) => ({ ...askedBy(one), weight: one.weight }))
  const all = (['more', 'less', 'slower', 'quicker'] as const).map((what) => {
    const own = votes.filter((vote) => vote.what === what)
    return { what, weight: own.reduce((sum, vote) => sum + vote.weight, 0), own }
  })
  const best = all.reduce((most, one) => (one.weight > most.weight ? one : most))
  if (best.what === 'more' || best.what === 'less') {
    // From percent of lambda to percent of fuel.
    const fuel = (peak: number): number => (best.what === 'more' ? peak / (1 + peak / 100) : peak / (1 - peak / 100))
    return { what: best.what, pct: [fuel(main[0]), fuel(main[1]), fuel(main[2])] }
  }
  const middle = best.own.reduce((sum, vote) => sum + vote.weight * vote.pct, 0) / best.weight
  const between = best.own.reduce((sum, vote) => sum + vote.weight * (vote.pct - middle) ** 2, 0) / best.weight
  // The size of a change is known no better than that of the peak it is to take away.
  const share = Math.hypot(Math.sqrt(between) / middle, (main[2] - main[1]) / 2 / NINETY / main[0])
  return { what: best.what, pct: [middle, Math.max(0, middle * (1 - NINETY * share)), middle * (1 + NINETY * share)] }
}

/** What one fit asks for. */
function askedBy({ fit: { kind, amounts, tau, decay }, excess }: Excursion['fits'][number]): {
  what: Exclude<Advice['what'], 'none'>
  pct: number
} {
  const [amount] = amounts as [number]
  const peak = excess.reduce((most, value) => (Math.abs(value) > Math.abs(most) ? value : most), 0)
  const isLean = peak > 0
  const net = kind === 'decay' ? 0 : kind === 'amount' ? amount : amount - amounts[1]!
  if (kind === 'amount' || (kind === 'both' && Math.abs(net) > Math.abs(peak) / 2))
    // How much of it is told by the peak.
    return { what: isLean ? 'more' : 'less', pct: 0 }
  // Of the two decays the one that lasts is the film's where lean comes late, else the enrichment's.
  const [quick, slow] = [Math.min(tau, decay), Math.max(tau, decay)]
  return isLean ? { what: 'slower', pct: 100 * (slow / quick - 1) } : { what: 'quicker', pct: 100 * (1 - quick / slow) }
}
