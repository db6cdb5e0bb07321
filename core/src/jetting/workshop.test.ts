import type { Refusal } from '../refusal/refusal'
import { seededRandom } from '../numbers/random'
import type { Field } from '../field/field'
import type { RunColumns } from '../run/run'
import { EMPTY_BOX } from './carburettor'
import { densityCard, jetCorrection, nearestJet } from './model/density'
import { fitIdleMixture, fitIdlePeak, FROM_PEAK, sidesAgree, type IdleReading } from './idle/idle'
import { SHED_BOX } from '../simulator/knownCarburettor'
import { bankWarnings, openingReadings, zoneDepartures, type OpeningRow } from './openingReadings'
import { CIRCUIT_TARGETS } from './model/targets'
import { tipInOf } from './tipIn'
import { partsFromCsv, partsToCsv } from './partsCsv'

describe('idle', () => {
  const at = (peak: number, noise = 0, seed = 1): IdleReading[] => {
    const random = seededRandom(seed)
    return [0.5, 0.75, 1, 1.25, 1.5, 1.75, 2, 2.25, 2.5].map((turns) => ({
      turns,
      value: 1500 - 120 * (turns - peak) ** 2 + noise * random.normal(),
    }))
  }
  it('finds the peak of a parabola, and the quarter turn from it', () => {
    const fit = fitIdlePeak(at(1.6), 'richer', true)
    expect(fit.turns).toBeCloseTo(1.6, 9)
    expect(fit).toMatchObject({
      error: expect.closeTo(0, 6) as number,
      set: expect.closeTo(1.6 + FROM_PEAK, 6) as number,
    })
  })
  it.each([
    ['richer', true, 1],
    ['richer', false, -1],
    ['leaner', true, -1],
    ['leaner', false, 1],
  ] as const)('%s with richer out %s turns by %i', (side, out, sign) => {
    const fit = fitIdlePeak(at(1.5), side, out)
    expect(fit.turns !== null && Math.sign(fit.set - fit.turns)).toBe(sign)
  })
  it('its error is honest: nine of ten peaks lie within 1.645 of it', () => {
    let inside = 0
    for (let seed = 1; seed <= 200; seed++) {
      const fit = fitIdlePeak(at(1.4, 8, seed), 'richer', true)
      if (fit.turns !== null && Math.abs(fit.turns - 1.4) < 1.645 * fit.error) inside++
    }
    expect(inside / 200).toBeGreaterThan(0.8)
    expect(inside / 200).toBeLessThan(0.97)
  })
  it.each([
    ['too few settings', at(1.5).slice(0, 3), /4 settings/],
    ['no peak', [1, 1.25, 1.5, 1.75].map((turns) => ({ turns, value: 1400 + 30 * (turns - 1.4) ** 2 })), /no peak/],
    ['a peak beyond what was tried', at(3.2).slice(0, 6), /Go on turning out/],
    ['a peak below it', at(0.1).slice(3), /Go on turning in/],
  ])('%s is told', (_what, readings, text) => {
    const fit = fitIdlePeak(readings, 'richer', true)
    expect(fit.turns).toBeNull()
    expect(fit.note).toMatch(text)
  })
  it('by wideband the screw goes where the target is, or says that it does nothing', () => {
    const line = [1, 1.5, 2, 2.5].map((turns) => ({ turns, value: 0.84 + 0.06 * (turns - 1) }))
    expect(fitIdleMixture(line, 0.9).turns).toBeCloseTo(2, 9)
    expect(
      fitIdleMixture(
        line.map((one, k) => ({ ...one, value: 0.9 + 0.001 * (k % 2) })),
        0.8,
      ).note,
    ).toMatch(/does not move/)
    expect(fitIdleMixture(line, 1.3).note).toMatch(/Another pilot/)
  })
  it('two sides are done when neither moves any more', () => {
    expect(
      sidesAgree([
        [1.5, 1.75],
        [1.5, 1.5],
      ]),
    ).toBe(false)
    expect(
      sidesAgree([
        [1.5, 1.75, 1.75],
        [1.5, 1.6, 1.55],
      ]),
    ).toBe(true)
    expect(sidesAgree([[1.5], [1.5]])).toBe(false)
  })
})

describe('density', () => {
  const here = { temperatureC: 15, pressureKpa: 101.325, humidityPct: 0 }
  const up = { temperatureC: 5, pressureKpa: 84.6, humidityPct: 0 }
  it('the same air asks for nothing; thinner air for a smaller jet', () => {
    expect(jetCorrection(here, here, 'diameter')).toEqual({ density: 1, area: 1, number: 1 })
    expect(jetCorrection(here, up, 'diameter').number).toBeLessThan(1)
  })
  it('there and back is where it was', () => {
    const there = jetCorrection(here, up, 'flow').number
    expect(there * jetCorrection(up, here, 'flow').number).toBeCloseTo(1, 12)
  })
  it('a card names the jet at hand, the richer of two that are as near', () => {
    const [card] = densityCard(here, 120, 'diameter', [112.5, 115, 117.5, 120], [up])
    expect(card!.number).toBeLessThan(118)
    expect(card!.jet).toBe(115)
    expect(nearestJet([115, 120], 117.5)).toBe(120)
    expect(nearestJet([], 117.5)).toBeNull()
  })
})

describe('parts as CSV', () => {
  const fitted = { main: 117.5, pilot: 40, needle: 'T2', clip: 3, screw: 1.75, cutaway: 2.5 }
  it('what goes out comes back in', () => {
    const box = { ...SHED_BOX, springs: [0.9, 1.1], rods: [{ name: 'R,1', cruise: 1.7, power: 1.2 }] }
    expect(partsFromCsv(partsToCsv(box, fitted))).toEqual({ box, fitted })
    expect(partsFromCsv('\uFEFFwhat,name,value,value 2\n\n')).toEqual({ box: EMPTY_BOX, fitted: {} })
  })
  it.each([
    ['main,,wide,', 2, /no size/],
    ['main,,-5,', 2, /no size/],
    ['carrot,,5,', 2, /no kind of part/],
    ['fitted,wing,5,', 2, /no slot/],
    ['needle,N,0,2.4\nneedle,N,5,2.5', 2, /grows/],
  ])('"%s" is refused by its line', (line, at, text) => {
    try {
      partsFromCsv(`what,name,value,value 2\n${line}\n`)
      throw new Error('was read')
    } catch (error) {
      expect(error).toMatchObject({ code: 'no-parts' })
      expect((error as Refusal).faults[0]!.line).toBe(at)
      expect((error as Refusal).message).toMatch(text)
    }
  })
})

describe('readings by opening', () => {
  const cells = <T>(value: T): T[][] => [
    [value, value],
    [value, value],
  ]
  const field = {
    grid: { loadAxis: 'throttle', rpm: [3000, 5000], load: [10, 100] },
    cylinders: [
      {
        cylinder: 1,
        lambda: [
          [0.9, 0.94],
          [0.85, null],
        ],
        lowPct: cells(-2),
        highPct: cells(2),
        samples: cells(20),
        evidence: [
          ['solid', 'thin'],
          ['solid', 'none'],
        ],
      },
    ],
  } as unknown as Field
  it('are means over speed with their spread; rows without evidence are left out', () => {
    const rows = openingReadings(field, [1])
    expect(rows.map((row) => [row.opening, row.nodes])).toEqual([
      [0.1, 2],
      [1, 1],
    ])
    expect(rows[0]!.lambda).toBeCloseTo(Math.sqrt(0.9 * 0.94), 6)
    expect([rows[0]!.richest, rows[0]!.leanest]).toEqual([0.9, 0.94])
    expect(openingReadings(field, [2])).toEqual([])
  })
  it('each circuit’s range is lean, rich, on target or not read', () => {
    const at = (opening: number, lambda: number) => ({ opening, lambda, error: 0.01 })
    const [idle, pilot, needle, full] = CIRCUIT_TARGETS
    const verdicts = zoneDepartures(
      [
        at(0.1, pilot!.lambda * 1.06),
        at(0.4, needle!.lambda * 1.01),
        at(0.5, needle!.lambda * 0.99),
        at(1, full!.lambda * 0.95),
      ],
      CIRCUIT_TARGETS,
    )
    expect(verdicts.map((one) => one.verdict)).toEqual(['not read', 'lean', 'on target', 'rich'])
    expect(verdicts[0]).toMatchObject({ id: idle!.id, pct: null })
    expect(verdicts[1]!.pct).toBeCloseTo(6, 9)
  })
  it('a lean and a rich reading in one range do not cancel: the worst beyond its interval has the say', () => {
    const [, , needle] = CIRCUIT_TARGETS
    const at = (opening: number, factor: number, error = 0.01) => ({ opening, lambda: needle!.lambda * factor, error })
    const [, , one] = zoneDepartures([at(0.3, 1.07), at(0.5, 0.94), at(0.6, 1)], CIRCUIT_TARGETS)
    expect(one).toMatchObject({
      verdict: 'lean',
      opening: 0.3,
      pct: expect.closeTo(7, 9),
      against: expect.closeTo(-6, 9),
    })
    // One that is off by less than it can be known to is no verdict.
    const [, , sure] = zoneDepartures([at(0.3, 1.07, 0.05), at(0.5, 0.96)], CIRCUIT_TARGETS)
    expect(sure).toMatchObject({ verdict: 'rich', opening: 0.5, against: null })
    expect(zoneDepartures([at(0.3, 1.07, 0.05)], CIRCUIT_TARGETS)[2]!.verdict).toBe('on target')
  })
  it('banks apart at small openings are told to be synchronised first', () => {
    const row = (opening: number, lambda: number): OpeningRow => ({
      opening,
      lambda,
      error: 0.01,
      leanest: lambda,
      richest: lambda,
      nodes: 1,
    })
    expect(bankWarnings([[row(0.1, 0.9)], [row(0.1, 0.98)]])[0]).toMatch(/Carburettor 2 reads \+9 % .* Synchronise/)
    expect(bankWarnings([[row(0.1, 0.9)], [row(0.1, 0.91)]])).toEqual([])
    expect(bankWarnings([[row(0.8, 0.9)], [row(0.8, 0.99)]])).toEqual([])
    // Alike at all openings: jetted otherwise, which a proposal for it mends.
    const openings = [0.1, 0.2, 0.5, 1]
    const first = openings.map((one) => row(one, 0.9))
    expect(bankWarnings([first, openings.map((one) => row(one, 0.98))])).toEqual([])
    const late = openings.map((one) => row(one, one < 0.5 ? 0.98 : 0.905))
    expect(bankWarnings([first, late])[0]).toMatch(
      /^Carburettor 2 reads .* Synchronise them before anything is jetted\.$/,
    )
    expect(bankWarnings([[row(0.1, 0.9)]])).toEqual([])
  })
})

describe('tip-in', () => {
  const run = (opens: number[], dip: number): RunColumns => {
    const time = Float32Array.from({ length: 500 }, (_, i) => i / 50)
    const since = (t: number): number => Math.min(...opens.map((at) => (t >= at ? t - at : Infinity)))
    return {
      id: 'r',
      time,
      rpm: time.map(() => 4000),
      throttle: time.map((t) => (since(t) < 1 ? 60 : 15)),
      lambda: [time.map((t) => (since(t) > 0.2 && since(t) < 0.5 ? dip : 0.9))],
    }
  }
  it('is the leanest reading after each fast opening, median over them', () => {
    expect(tipInOf([run([2, 5, 8], 1.05)], 0.15, 0)).toMatchObject({
      count: 3,
      leanest: expect.closeTo(1.05, 5) as number,
    })
  })
  it('is nothing where the throttle was never opened fast, or by hand', () => {
    expect(tipInOf([run([], 1)], 0.15, 0)).toBeNull()
    expect(tipInOf([{ ...run([2], 1), handRange: new Float32Array(500) }], 0.15, 0)).toBeNull()
    expect(tipInOf([run([2], 1)], 0.15, 1)).toBeNull()
  })
})
