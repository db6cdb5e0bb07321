/**
 * Roll-ons against logs whose truth is known (knownRollOns, made for this test only): 1 % noise, 20 Hz, lag of 0.11 to
 * 0.32 s, sensor of 60 to 120 ms. Nobody says the lag.
 */
import { respond } from '../src/response/response'
import type { Advice } from '../src/response/rollOns/rollOnGroups'
import { knownRollOns, type KnownFilm } from './knownRollOns'
import { knownCase, knownRoad, knownRuns } from './knownTruthLog'
import { seeds } from './seeds'

const SEEDS = seeds(8, 1)
const CASES: [string, KnownFilm, Advice['what']][] = [
  ['a film and no enrichment', { share: 0.25, tau: 0.3, extra: 0, decay: 0.3 }, 'more'],
  ['half of what the film takes', { share: 0.35, tau: 0.3, extra: 0.17, decay: 0.3 }, 'more'],
  ['too much of it', { share: 0.2, tau: 0.25, extra: 0.4, decay: 0.25 }, 'less'],
  ['enrichment that lasts too long', { share: 0.3, tau: 0.15, extra: 0.3, decay: 0.6 }, 'quicker'],
  ['enrichment that decays too soon', { share: 0.3, tau: 0.5, extra: 0.3, decay: 0.12 }, 'slower'],
  ['enrichment that fits the film', { share: 0.3, tau: 0.3, extra: 0.3, decay: 0.3 }, 'none'],
  ['next to no film', { share: 0.02, tau: 0.3, extra: 0, decay: 0.3 }, 'none'],
]

/** Whether each roll-on of each case is right in its peaks, and in when it settles. */
const all: { peaks: boolean; settles: boolean }[] = []

describe.each(CASES)('%s', (_name, film, advice) => {
  const found = SEEDS.map((seed) => knownRollOns(seed, film)).map((one) => ({ ...one, response: respond([one.run]) }))
  const rollOns = found.flatMap(({ truth, response }) =>
    response.groups
      .flatMap((group) => group.members.map((member) => member.rollOn))
      .map((rollOn) => ({ rollOn, truth: truth.find((one) => Math.abs(one.at - rollOn.atS) < 0.1)! })),
  )

  test('every opening is found, where it began', () => {
    expect(rollOns).toHaveLength(3 * SEEDS.length)
    expect(rollOns.every((one) => one.truth !== undefined)).toBe(true)
  })

  const judged = rollOns.map(({ rollOn, truth }) => ({
    peaks:
      rollOn.bounded ||
      (Math.abs(rollOn.leanPct - 100 * truth.lean) <= 1.5 && Math.abs(rollOn.richPct - 100 * truth.rich) <= 1.5),
    settles: rollOn.settleS === null || Math.abs(rollOn.settleS - truth.settle) <= 0.15,
  }))
  all.push(...judged)
  const share = (what: keyof (typeof judged)[number]): number =>
    judged.filter((one) => one[what]).length / judged.length

  // A handful of seeds is a rough judge of one case; all cases together are held to 90 of 100 below.
  test('peaks lie within 1.5 % of lambda, or are told as bounds', () => {
    expect(share('peaks')).toBeGreaterThanOrEqual(0.75)
    const bounded = rollOns.filter(({ rollOn }) => rollOn.bounded)
    // Of a peak of 14 % noise of 1 % leaves more than 1.5 % open, now and then.
    expect(bounded.length / rollOns.length).toBeLessThanOrEqual(0.6)
    // A bound is none when the truth is less by more than the tolerance.
    for (const { rollOn, truth } of bounded) expect(rollOn.leanPct).toBeLessThanOrEqual(100 * truth.lean + 1.5)
  })

  test('settling is told within 0.15 s', () => {
    // A decay of 0.6 s crosses 2 % so slowly that noise of 1 % moves it: fewer there.
    expect(share('settles')).toBeGreaterThanOrEqual(film.decay > 0.5 ? 0.6 : 0.85)
  })

  test(`three of them together ask for: ${advice}`, () => {
    const asked = found.map(
      ({ response }) => response.groups.reduce((most, one) => (one.n > most.n ? one : most)).advice,
    )
    const wrong = asked.filter((one) => one.what !== advice).length
    // Where nobody says the lag, lean that comes late may be lean that arrives late: more there. Of two seeds one may.
    expect(wrong).toBeLessThanOrEqual(Math.max(1, asked.length * (advice === 'slower' ? 0.3 : 0.15)))
  })
})

test('over all cases nine of ten peaks and nine of ten times to settle are right', () => {
  expect(all).toHaveLength(3 * SEEDS.length * CASES.length)
  for (const what of ['peaks', 'settles'] as const)
    expect(all.filter((one) => one[what]).length / all.length).toBeGreaterThanOrEqual(0.9)
})

test('a log of 5 Hz bounds what it cannot follow', () => {
  const { run } = knownRollOns(1, { share: 0.3, tau: 0.2, extra: 0, decay: 0.3 }, { hz: 5 })
  const rollOns = respond([run]).groups.flatMap((group) => group.members.map((member) => member.rollOn))
  expect(rollOns.every((one) => one.bounded)).toBe(true)
})

test('a run without an opening says which one would show it', () => {
  const n = 400
  const still: Float32Array = new Float32Array(n).fill(20)
  const run = {
    id: 'still',
    time: Float32Array.from({ length: n }, (_, i) => i / 50),
    rpm: new Float32Array(n).fill(4000),
    throttle: still,
    lambda: [new Float32Array(n).fill(0.95)],
  }
  const { groups, notes } = respond([run])
  expect(groups).toEqual([])
  expect(notes.join(' ')).toMatch(/No opening of the throttle.*three times from each speed/)
})

describe('a machine whose mixture is uneven along speed', () => {
  /** 12 % lean about 5,200 rpm, as after another exhaust. */
  const hole = (rpm: number): number => 0.12 * Math.exp(-(((rpm - 5200) / 900) ** 2))
  const ridden = seeds(3, 1).map((seed) => respond([knownRoad(knownCase(seed, { truth: hole, held: [], hz: 20 }), 10)]))

  test('passes its hole as it picks up, which is no lack of acceleration fuel', () => {
    const groups = ridden.flatMap((one) => one.groups)
    expect(groups.length).toBeGreaterThan(20 * ridden.length)
    const wrong = groups.filter((one) => one.advice.what !== 'none')
    expect(wrong.length / groups.length).toBeLessThan(0.12)
  })
  test('is told where its steady mixture is not known', () => {
    for (const { notes } of ridden) expect(notes.join(' ')).toMatch(/mixture in steady running is not known/)
  })
  test('has the film found that it lacks fuel for, where the steady mixture is steep', () => {
    const steep = (rpm: number): number => (0.05 * (rpm - 5000)) / 1000
    const of = (truth: (rpm: number) => number) =>
      respond(knownRuns(knownCase(1, { truth, held: [], misfire: null, stops: [20, 40, 60, 80] }))).groups
    const [level, uneven] = [of(() => 0.02), of(steep)]
    expect(uneven).toHaveLength(level.length)
    for (const [k, one] of uneven.entries()) {
      expect(one.advice.what).toBe('more')
      const [peak] = level.find((other) => Math.abs(other.toLoad - one.toLoad) < 2)!.leanPct
      expect(Math.abs(one.leanPct[0] - peak)).toBeLessThan(1.5)
      expect(one.leanPct[1]).toBeLessThan(peak)
      expect(one.leanPct[2]).toBeGreaterThan(peak)
      expect(level[k]!.advice.what).toBe('more')
    }
  })
})
