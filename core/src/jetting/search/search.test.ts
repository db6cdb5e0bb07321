import { readCarburettor, SHED_BODY, SHED_BOX, unknownCase } from '../../simulator/knownCarburettor'
import { calibrateJetting, type Calibration } from '../model/calibrate'
import { predictJetting } from '../model/predict'
import { EMPTY_BOX, type Box, type Fitted } from '../carburettor'
import { circuitShares, passages } from '../model/model'
import { JUDGED_OPENINGS } from '../model/judgedOpenings'
import { minutesOf, SLOT_MINUTES } from './minutes'
import type { Proposal } from './proposal'
import { searchBox } from './search'
import { CIRCUIT_TARGETS, usualTargets } from '../model/targets'

const CASES = [1, 2, 3, 4, 5, 6].map((seed) => {
  const { carb, fitted, random } = unknownCase(seed)
  return { seed, fitted, measured: [{ fitted, readings: readCarburettor(carb, fitted, random) }] }
})
const calibrated = (k: number, box: Box = SHED_BOX): Calibration => calibrateJetting(SHED_BODY, box, CASES[k]!.measured)
const best = (proposals: readonly Proposal[]): number => Math.min(Infinity, ...proposals.map((one) => one.off))

describe.each(CASES.map((one, k) => [one.seed, k] as const))('the search of the box, carburettor %i', (_seed, k) => {
  const { fitted } = CASES[k]!
  const list = searchBox(calibrated(k), fitted, CIRCUIT_TARGETS)

  it('changes as many slots as it says, to parts that are in the box', () => {
    list.byChanges.forEach((proposals, n) => {
      for (const { changed, fitted: next } of proposals) {
        expect(changed).toHaveLength(n + 1)
        const others = (Object.keys(fitted) as (keyof Fitted)[]).filter((slot) => !(changed as string[]).includes(slot))
        for (const slot of others) expect(next[slot]).toBe(fitted[slot])
        for (const slot of changed) expect(next[slot]).not.toBe(fitted[slot])
        if (changed.includes('main')) expect(SHED_BOX.main).toContain(next.main)
        if (changed.includes('pilot')) expect(SHED_BOX.pilot).toContain(next.pilot)
      }
    })
  })
  it('is better than what is fitted, and no worse with more changes', () => {
    const all = list.byChanges.map(best)
    for (const off of all) if (off < Infinity) expect(off).toBeLessThan(list.now)
    for (let n = 1; n < all.length; n++)
      if (all[n]! < Infinity) expect(all[n]!).toBeLessThanOrEqual(all[n - 1]! + 0.003)
  })
  it('tells the minutes of the work: stripped once, then by part', () => {
    for (const { changed, minutes } of list.byChanges.flat()) {
      expect(minutes).toBe(minutesOf(changed))
      expect(minutes).toBeGreaterThanOrEqual(Math.max(...changed.map((slot) => SLOT_MINUTES[slot].minutes)))
    }
  })
  it('predicts what the model predicts, at all judged openings', () => {
    const [first] = list.byChanges.flat()
    if (!first) return
    expect(first.predicted).toEqual(predictJetting(calibrated(k), first.fitted, JUDGED_OPENINGS))
    for (const one of first.predicted) {
      expect(one.low).toBeLessThan(one.lambda)
      expect(one.high).toBeGreaterThan(one.lambda)
    }
  })
  it('more parts in the box never make the best worse', () => {
    const small: Box = { ...SHED_BOX, main: SHED_BOX.main.filter((_, n) => n % 3 === 0), pilot: [] }
    const few = searchBox(calibrated(k, small), fitted, CIRCUIT_TARGETS)
    list.byChanges.forEach((proposals, n) => {
      // Both may keep to themselves what lies within 0.3 % of each other.
      if (best(few.byChanges[n]!) < Infinity)
        expect(best(proposals)).toBeLessThanOrEqual(best(few.byChanges[n]!) + 0.003)
    })
    expect(few.tried).toBeLessThan(list.tried)
  })
  it('an empty box leaves screws and the clip', () => {
    const bare: Box = { ...EMPTY_BOX, needles: SHED_BOX.needles.filter((one) => one.name === fitted.needle) }
    for (const { changed } of searchBox(calibrated(k, bare), fitted, CIRCUIT_TARGETS).byChanges.flat())
      for (const slot of changed) expect(['screw', 'clip']).toContain(slot)
  })
  it('is told how far it has come, to the end', () => {
    const shares: number[] = []
    searchBox(calibrated(k), fitted, CIRCUIT_TARGETS, (share) => shares.push(share))
    expect(shares.at(-1)).toBe(1)
    expect([...shares].sort((a, b) => a - b)).toEqual(shares)
  })
})

describe('calibration', () => {
  it('with more readings of the same is surer', () => {
    const { fitted, measured } = CASES[0]!
    const width = (times: number): number => {
      const many = calibrateJetting(
        SHED_BODY,
        SHED_BOX,
        Array.from({ length: times }, () => measured[0]!),
      )
      const [one] = predictJetting(many, fitted, [0.4])
      return one!.high - one!.low
    }
    expect(width(4)).toBeLessThan(width(1))
  })
  it('is sure of what was read and less of parts that move it far', () => {
    const { fitted } = CASES[0]!
    const width = (over: Fitted): number => {
      const [one] = predictJetting(calibrated(0), { ...fitted, ...over }, [0.2])
      return Math.log(one!.high / one!.low)
    }
    expect(width({})).toBeLessThan(width({ clip: fitted.clip === 5 ? 1 : 5 }))
  })
  it('keeps shares that add up, whatever was read', () => {
    for (const [k, { fitted }] of CASES.entries())
      for (const opening of [0.05, 0.3, 1]) {
        const { pilot, needle, main } = circuitShares(passages(SHED_BODY, SHED_BOX, fitted, opening, calibrated(k).law))
        expect(pilot + needle + main).toBeCloseTo(1, 9)
      }
  })
})

it.each(['slide', 'metering rods'] as const)('usual targets of %s cover the whole range once', (kind) => {
  const targets = usualTargets(kind)
  expect(targets[0]!.from).toBe(0)
  for (let k = 1; k < targets.length; k++) expect(targets[k]!.from).toBe(targets[k - 1]!.to)
  expect(targets.at(-1)!.to).toBeGreaterThan(1)
  // Full load is the richest and counts most.
  expect(targets.at(-1)!.lambda).toBe(Math.min(...targets.map((one) => one.lambda)))
  expect(targets.at(-1)!.weight).toBe(Math.max(...targets.map((one) => one.weight)))
})
