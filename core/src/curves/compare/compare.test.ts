import { humpTorque, knownPull, recordPull } from '../../../trials/knownPull'
import { torqueChoice, torqueSide } from '../../../trials/torqueSides'
import type { RunColumns } from '../../run/run'
import { compareSets, compareToReference, DEFAULT_COMPARE, referenceOf } from './compare'
import { compareSides, type SidesChoice } from './compareSides'
import type { Side } from './side'
import { DEFAULT_CURVE } from '../lay/curve'
import { overlay, rulerOver } from '../lay/overlay'
import type { CurveRuler } from '../lay/ruler'

const SAID = { rig: 'Shed drum', gear: 4, sensorPlace: null, weather: null }
const CHOICE = torqueChoice()
const pulls = (seed: number, count: number, over: Parameters<typeof knownPull>[0] = {}): RunColumns[] =>
  Array.from({ length: count }, (_, k) => recordPull(knownPull({ seed: 1000 * seed + k + 1, ...over }), `${seed}-${k}`))
/** Torque of some pulls by bin on one ruler. */
function torqueOf(runs: readonly RunColumns[], ruler: CurveRuler): Float32Array[] {
  return overlay(runs, ruler, { ...DEFAULT_CURVE, lag: 0 }, 1).values.torque
}

describe('two sets of three runs that differ only above 6,000 rpm by 4 %, over 200 seeded repetitions', () => {
  const better = (rpm: number): number => humpTorque(rpm) * (1 + 0.04 / (1 + Math.exp(-(rpm - 6300) / 60)))
  let falseShare = 0
  let foundShare = 0
  let anyFalse = 0
  const REPEATS = 200
  for (let seed = 1; seed <= REPEATS; seed++) {
    const sets = [
      pulls(seed, 3, { hz: 25, between: 0.003 }),
      pulls(seed + 500, 3, { hz: 25, between: 0.003, torque: better }),
    ]
    const ruler = rulerOver(sets.flat())!
    const { rpm, real, difference } = compareSets(torqueOf(sets[0]!, ruler), torqueOf(sets[1]!, ruler), ruler)
    const count = (from: number, to: number): [number, number] => {
      const bins = rpm.flatMap((at, k) => (at >= from && at <= to && difference[k] !== null ? [k] : []))
      return [bins.filter((k) => real[k]).length, bins.length]
    }
    const [wrong, there] = count(2500, 5700)
    const [right, wanted] = count(6700, 9200)
    const allReal = real.filter(Boolean).length
    falseShare += allReal ? wrong / allReal / REPEATS : 0
    foundShare += right / wanted / REPEATS
    if (wrong > 0.3 * there) anyFalse++
  }
  it('shades falsely no more than the chosen rate of what it shades', () => {
    expect(falseShare).toBeLessThanOrEqual(DEFAULT_COMPARE.rate)
  })
  it('shades most of where they do differ', () => {
    expect(foundShare).toBeGreaterThan(0.8)
  })
  it('hardly ever shades a third of where they do not', () => {
    expect(anyFalse).toBeLessThanOrEqual(0.05 * REPEATS)
  })
})

it('sets that do not differ at all are hardly ever shaded', () => {
  let shaded = 0
  for (let seed = 1; seed <= 100; seed++) {
    const sets = [pulls(3000 + seed, 3, { hz: 25 }), pulls(4000 + seed, 3, { hz: 25 })]
    const ruler = rulerOver(sets.flat())!
    if (compareSets(torqueOf(sets[0]!, ruler), torqueOf(sets[1]!, ruler), ruler).real.some(Boolean)) shaded++
  }
  expect(shaded).toBeLessThanOrEqual(8)
})

describe('what a comparison says of bad input', () => {
  const sets = [pulls(1, 3), pulls(2, 3)]
  it('a set with one run: the line is there, an interval is not', () => {
    const { comparison } = compareSides(
      [torqueSide('one', sets[0]!.slice(0, 1))],
      torqueSide('three', sets[1]!),
      CHOICE,
    )
    expect(comparison!.note).toMatch(/first set has one run: an interval needs two/)
    expect(comparison!.low.every((value) => value === null)).toBe(true)
    expect(comparison!.difference.some((value) => value !== null)).toBe(true)
    expect(comparison!.real.some(Boolean)).toBe(false)
  })
  it('no rpm in common', () => {
    const low = pulls(5, 3, { from: 1500, to: 4000 })
    const high = pulls(6, 3, { from: 5500, to: 9000 })
    const { comparison, gains } = compareSides([torqueSide('low', low)], torqueSide('high', high), CHOICE)
    expect(comparison!.note).toMatch(/no rpm in common/)
    expect(gains).toEqual([])
  })
  it('no runs, or none that tell the quantity', () => {
    expect(() => compareSides([torqueSide('none', [])], torqueSide('three', sets[1]!), CHOICE)).toThrow(
      /"none" has no runs/,
    )
    const blind = sets[0]!.map(({ torque: _torque, ...run }) => run)
    expect(() => compareSides([torqueSide('blind', blind)], torqueSide('three', sets[1]!), CHOICE)).toThrow(
      expect.objectContaining({ code: 'nothing-to-compare' }),
    )
  })
})

describe('what two sets do not share', () => {
  const [first, second] = [pulls(11, 3), pulls(12, 3)]
  const weather = { temperatureC: 25, pressureKpa: 99, humidityPct: 40 }
  const compare = (over: Partial<Side>, choice: Partial<SidesChoice> = {}, firstOver: Partial<Side> = {}) =>
    compareSides([torqueSide('before', first, firstOver)], torqueSide('after', second, over), { ...CHOICE, ...choice })
  it.each([
    ['rig', { rig: 'Town drum' }, /Different rigs: Shed drum and Town drum/],
    ['gear', { gear: 5 }, /Different gears: 4 and 5/],
  ] as const)('a %s is refused until it is accepted, and stays called out', (what, setFacts, message) => {
    const refused = compare({ setFacts: { ...SAID, ...setFacts } })
    expect(refused.comparison).toBeNull()
    expect(refused.refused.map((one) => one.what)).toEqual([what])
    expect(refused.refused[0]!.message).toMatch(message)
    const accepted = compare({ setFacts: { ...SAID, ...setFacts } }, { accepted: [what] })
    expect(accepted.comparison).not.toBeNull()
    expect(accepted.mismatches.map((one) => one.what)).toEqual([what])
  })
  it('a correction that only one side can carry', () => {
    const { refused } = compare({ setFacts: { ...SAID, weather } }, { correction: 'sae-j1349' })
    expect(refused.map((one) => one.what)).toEqual(['correction'])
  })
  it('uncorrected figures of different air are called out', () => {
    const { mismatches, comparison } = compare(
      { setFacts: { ...SAID, weather: { ...weather, temperatureC: 5 } } },
      {},
      { setFacts: { ...SAID, weather } },
    )
    expect(mismatches[0]).toMatchObject({ what: 'correction', weight: 'note' })
    expect(comparison).not.toBeNull()
  })
  it('another place of the sensor is called out, also for mixture', () => {
    const { mismatches } = compare(
      { setFacts: { ...SAID, sensorPlace: 'tailpipe' } },
      { quantity: 'lambda' },
      { setFacts: { ...SAID, sensorPlace: 'header' } },
    )
    expect(mismatches.map((one) => [one.what, one.weight])).toEqual([['sensor place', 'note']])
  })
  it('runs of one set in two gears', () => {
    const facts = [3, 4, 4].map((gear) => ({ gear, weather: null })) as unknown as Side['facts']
    const { refused } = compare({ facts })
    expect(refused.some((one) => /gears 3 and 4/.test(one.message))).toBe(true)
  })
  it('figures carry the correction and its factor, and a warning outside its range', () => {
    const hot = { temperatureC: 44, pressureKpa: 88, humidityPct: 60 }
    const setFacts = { ...SAID, weather: hot }
    const { second: after } = compare({ setFacts }, { correction: 'sae-j1349' }, { setFacts })
    expect(after.correction).toMatch(/SAE J1349 × 1\.2\d\d/)
    expect(after.warning).toMatch(/more than 7 % from 1/)
  })
})

describe('against stock machines', () => {
  const machines = [21, 22, 23].map((seed) =>
    torqueSide(`stock ${seed}`, pulls(seed, 2, { torque: (rpm) => humpTorque(rpm) * (1 + 0.01 * (seed - 22)) })),
  )
  it('computed from several sets: mean and spread over machines', () => {
    const better = torqueSide('tuned', pulls(31, 3, { torque: (rpm) => 1.12 * humpTorque(rpm) }))
    const { comparison, first } = compareSides(machines, better, CHOICE)
    expect(first.name).toBe('3 machines')
    const at = comparison!.rpm.indexOf(6000)
    expect(comparison!.difference[at]! / comparison!.first[at]!).toBeCloseTo(0.12, 1)
    expect(comparison!.real[at]).toBe(true)
    const usual = torqueSide('usual', pulls(32, 3))
    expect(compareSides(machines, usual, CHOICE).comparison!.real.some(Boolean)).toBe(false)
  })
  it('entered as figures, with their correction minded', () => {
    const figures = {
      quantity: 'torque' as const,
      correction: 'none' as const,
      rpm: [3000, 6000, 9000],
      mean: [20, 35, 28],
      spread: [0.5, 0.5, 0.5],
      machines: 4,
    }
    const entered = torqueSide('figures', [], { figures })
    const { comparison } = compareSides([entered], torqueSide('mine', pulls(33, 3)), CHOICE)
    const at = comparison!.rpm.indexOf(4500)
    expect(comparison!.first[at]).toBeCloseTo(27.5, 5)
    expect(comparison!.first[comparison!.rpm.indexOf(2700)] ?? null).toBeNull()
    const other = torqueSide('figures', [], { figures: { ...figures, correction: 'din-70020' } })
    expect(compareSides([other], torqueSide('mine', pulls(33, 3)), CHOICE).refused.map((one) => one.what)).toEqual([
      'correction',
    ])
    expect(() => compareSides([entered], torqueSide('mine', pulls(33, 3)), { ...CHOICE, quantity: 'power' })).toThrow(
      /entered figures are torque/,
    )
  })
  it('one machine is no reference', () => {
    const ruler = { first: 3000, step: 100, count: 3 }
    const one = [Float32Array.of(30, 31, 32)]
    const compared = compareToReference(referenceOf(one, ruler), one, ruler)
    expect(compared.note).toMatch(/One machine is no reference for the type: that needs three or more/)
    const two = compareToReference(referenceOf([one[0]!, one[0]!], ruler), one, ruler)
    expect(two.note).toMatch(/Two machines are no reference/)
    expect(two.real).toEqual([false, false, false])
  })
  it('one machine each is told as these two machines; sets of one machine are not', () => {
    const [a, b] = [torqueSide('a', pulls(71, 2)), torqueSide('b', pulls(72, 2), { machine: 'other' })]
    expect(compareSides([a], b, CHOICE).scope).toMatch(
      /holds for these two machines. A statement about the type needs three/,
    )
    expect(compareSides([a], torqueSide('c', pulls(73, 2)), CHOICE).scope).toBeNull()
    expect(compareSides([a, b], torqueSide('c', pulls(73, 2)), CHOICE).scope).toMatch(/The others are two machines/)
    expect(compareSides(machines, b, CHOICE).scope).toBeNull()
  })
})

it('warm-up runs are kept out of a comparison, and counted', () => {
  const warming = recordPull(knownPull({ seed: 61, coolant: 55, torque: (rpm) => 0.9 * humpTorque(rpm) }), 'cold')
  const { second } = compareSides([torqueSide('a', pulls(62, 3))], torqueSide('b', [warming, ...pulls(63, 3)]), CHOICE)
  expect(second).toMatchObject({ runs: 3, warmUps: 1 })
})

describe('gains', () => {
  const stronger = (rpm: number): number => humpTorque(rpm) * (rpm > 6000 ? 1.05 : 1)
  const { gains, gainBegins } = compareSides(
    [torqueSide('a', pulls(41, 3, { between: 0.001 }))],
    torqueSide('b', pulls(42, 3, { between: 0.001, torque: stronger })),
    {
      ...CHOICE,
      bands: [
        { fromRpm: 6500, toRpm: 9000 },
        { fromRpm: 3500, toRpm: 5500 },
      ],
      at: [8000],
    },
  )
  const of = (what: string, fromRpm?: number) =>
    gains.find((one) => one.what === what && (!fromRpm || one.band?.fromRpm === fromRpm))!
  it('peak and where, mean, area and value at an rpm, in units and percent with interval', () => {
    expect(of('peak').percent).toBeCloseTo(5, 0)
    expect(Math.abs(of('peak').rpm![1] - 6800)).toBeLessThan(500)
    expect(of('mean over a band', 6500).percent).toBeCloseTo(5, 0)
    expect(Math.abs(of('mean over a band', 3500).percent!)).toBeLessThan(0.6)
    expect(of('at an rpm').difference).toBeCloseTo(0.05 * humpTorque(8000), 0)
    expect(of('mean over a band', 6500).low).toBeGreaterThan(0)
    const { first } = of('area over a band', 6500)
    expect(first / of('mean over a band', 6500).first).toBeCloseTo(2.5, 3)
  })
  it('says from which rpm there is a gain', () => {
    expect(Math.abs(gainBegins!.rpm - 6000)).toBeLessThan(300)
    expect(gainBegins!.low!).toBeLessThan(6000)
    expect(gainBegins!.high!).toBeGreaterThan(6000)
  })
})

describe('holes in torque', () => {
  const dip = (rpm: number): number => humpTorque(rpm) * (1 - 0.09 * Math.exp(-(((rpm - 5500) / 350) ** 2)))
  const lean = (rpm: number): number => 0.88 * (1 + 0.08 * Math.exp(-(((rpm - 5500) / 450) ** 2)))
  const holesOf = (over: Parameters<typeof knownPull>[0]) =>
    compareSides([torqueSide('a', pulls(51, 3))], torqueSide('b', pulls(52, 3, over)), CHOICE).second.holes
  it('one that coincides with a lean zone is named with its span and depth', () => {
    const holes = holesOf({ torque: dip, lambda: lean })
    expect(holes).toHaveLength(1)
    expect(holes[0]).toMatchObject({ verdict: 'lean' })
    expect(Math.abs(holes[0]!.deepestRpm - 5500)).toBeLessThan(250)
    expect(holes[0]!.depthPct).toBeGreaterThan(5)
    expect(holes[0]!.fromRpm).toBeLessThan(5300)
    expect(holes[0]!.toRpm).toBeGreaterThan(5700)
  })
  it('one with the mixture on target is no mixture fault', () => {
    expect(holesOf({ torque: dip, lambda: () => 0.885 }).map((one) => one.verdict)).toEqual(['mixture on target'])
  })
  it('a sound curve has none', () => {
    expect(holesOf({})).toEqual([])
  })
})
