/**
 * Proof on known truth: carburettors of every kind whose flow follows laws of another form than those that calibrate (compressible
 * air, plates, holes, bleeds; `simulator/carburettors`). Invented; figures of a longer trial stand in `docs/method`.
 */
import type { CarburettorKind, Fitted } from '../src/jetting/carburettor'
import { predictJetting } from '../src/jetting/model/predict'
import { targetAt, usualTargets } from '../src/jetting/model/targets'
import { proposeParts, type FittingRead } from '../src/jetting/search/propose'
import type { Proposal } from '../src/jetting/search/proposal'
import { trueCarburettor, type TrueCarburettor } from '../src/simulator/carburettors/trueCarburettor'
import { seeds } from './seeds'

const KINDS = ['slide', 'constant-vacuum', 'metering rods', 'two screws'] as const
const SEEDS = seeds(20, 3)
const FITTINGS = 3

const between = ({ openings }: TrueCarburettor): number[] =>
  Array.from({ length: 30 }, (_, k) => openings[0]! + ((openings.at(-1)! - openings[0]!) * k) / 29)

/** Weighted departure from target in truth, RMS of ln. */
function offOf(carb: TrueCarburettor, kind: CarburettorKind, fitted: Fitted): number {
  let [sum, total] = [0, 0]
  for (const opening of between(carb)) {
    const target = targetAt(usualTargets(kind), opening)
    const off = Math.log(carb.lambda(fitted, opening) / target.lambda)
    sum += target.weight * off * off * (off > 0 ? 2 : 1)
    total += target.weight
  }
  return Math.sqrt(sum / total)
}

/** Furthest that an opening goes past its target, or past where it was already, ln. */
const leaned = (carb: TrueCarburettor, kind: CarburettorKind, before: Fitted, after: Fitted): number =>
  Math.max(
    ...between(carb).map((opening) => {
      const { lambda } = targetAt(usualTargets(kind), opening)
      const off = (fitted: Fitted): number => Math.log(carb.lambda(fitted, opening) / lambda)
      return off(after) - Math.max(0, off(before))
    }),
  )

/** An owner's three fittings: what is proposed first is fitted, and read again. */
function season(kind: CarburettorKind, seed: number) {
  const carb = trueCarburettor(kind, seed)
  const measured: FittingRead[] = [{ fitted: carb.fitted, readings: carb.read(carb.fitted) }]
  const steps: { before: Fitted; proposals: Proposal[]; covered: boolean[] }[] = []
  let fitted = carb.fitted
  for (let k = 0; k < FITTINGS; k++) {
    const { list, calibration } = proposeParts(carb.body, carb.box, measured, fitted, usualTargets(kind))
    const proposals = list?.byChanges.flat() ?? []
    const next = list?.byChanges[1]?.[0] ?? proposals[0]
    const covered = next
      ? predictJetting(calibration, next.fitted, carb.openings).map(({ opening, low, high }) => {
          const truth = carb.lambda(next.fitted, opening)
          return truth >= low && truth <= high
        })
      : []
    steps.push({ before: fitted, proposals, covered })
    if (!next) break
    fitted = next.fitted
    measured.push({ fitted, readings: carb.read(fitted) })
  }
  return { carb, steps, end: fitted }
}

describe.each(KINDS)('a carburettor that nobody knows: %s', (kind) => {
  const seasons = SEEDS.map((seed) => season(kind, seed))
  const all = seasons.flatMap(({ carb, steps }) =>
    steps.flatMap(({ before, proposals }) => proposals.map((one) => ({ carb, before, one }))),
  )
  it('of all that is proposed next to nothing leans an opening past 4 %', () => {
    const harmful = all.filter(({ carb, before, one }) => leaned(carb, kind, before, one.fitted) > 0.05)
    expect(harmful.length).toBeLessThanOrEqual(0.02 * all.length)
  })
  it('a fitting is not worse in truth than the one before, and the last is better than the first', () => {
    const steps = all.filter(({ one }) => one.changed.length > 0)
    const worse = steps.filter(
      ({ carb, before, one }) => offOf(carb, kind, one.fitted) > offOf(carb, kind, before) + 0.01,
    )
    expect(worse.length).toBeLessThanOrEqual(0.05 * steps.length)
    const mean = (of: (one: (typeof seasons)[number]) => number): number =>
      seasons.reduce((sum, one) => sum + of(one), 0) / seasons.length
    expect(mean(({ carb, end }) => offOf(carb, kind, end))).toBeLessThan(
      mean(({ carb }) => offOf(carb, kind, carb.fitted)),
    )
  })
  it('what is told of a gain lies within its interval for most', () => {
    const held = all.filter(({ carb, before, one }) => {
      const gain = offOf(carb, kind, before) - offOf(carb, kind, one.fitted)
      return gain >= one.gain.low - 0.01 && gain <= one.gain.high + 0.01
    })
    expect(held.length).toBeGreaterThanOrEqual(0.8 * all.length)
  })
  it('predictions hold in their intervals', () => {
    const covered = seasons.flatMap(({ steps }) => steps.flatMap((step) => step.covered))
    expect(covered.filter(Boolean).length).toBeGreaterThanOrEqual(0.8 * covered.length)
  })
  it('full throttle that was never read is not leaned, and it is said to read it first', () => {
    for (const seed of SEEDS.slice(0, 8)) {
      const carb = trueCarburettor(kind, seed)
      const part = carb.openings.filter((opening) => opening <= 0.7)
      const { list, advice } = proposeParts(
        carb.body,
        carb.box,
        [{ fitted: carb.fitted, readings: carb.read(carb.fitted, part) }],
        carb.fitted,
        usualTargets(kind),
      )
      expect(advice[0]).toMatch(/not read.*[Rr]ead it first/)
      for (const { fitted, leanAtFull } of list?.byChanges.flat() ?? []) {
        expect(leanAtFull).toBe(false)
        expect(Math.log(carb.lambda(fitted, 1) / carb.lambda(carb.fitted, 1))).toBeLessThan(0.02)
      }
    }
  })
})
