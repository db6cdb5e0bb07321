import { stripDay, type DayPass, type DayState } from './stripDay'
import { comparedWords, nextStepWords } from '../words/stripWords'

const STATES: DayState[] = [
  { set: 'a', name: 'As it came', main: 140 },
  { set: 'b', name: 'Main 145', main: 145 },
]
const jets = { at: [135, 140, 145, 150, 155], area: (number: number) => number ** 2 }

/** A quarter at a time and an end speed, with its 60 ft. */
const pass = (set: string, timeS: number, speedKmh: number, more: Partial<DayPass> = {}): DayPass => ({
  set,
  lifted: false,
  liftedAtM: null,
  density: null,
  wantedPct: [],
  splits: [
    { distanceM: 18.288, timeS: 2 + (timeS - 13) / 4, speedKmh: null },
    { distanceM: 402.336, timeS, speedKmh },
  ],
  ...more,
})
const day = (passes: DayPass[]) => stripDay(passes, STATES, jets)

describe('a day at the strip', () => {
  it('without a pass tells nothing, and of one state asks for another pass of it', () => {
    expect(day([])).toEqual({ states: [], against: [], next: null })
    const { next } = day([pass('a', 13.1, 160)])
    expect(next!.kind).toBe('again')
    expect(nextStepWords(next!)).toMatch(/^Nothing is told yet: \d more pass/)
  })

  it('one pass a side is never a verdict', () => {
    const { against } = day([pass('a', 13.4, 158), pass('b', 13.0, 165)])
    expect(against[0]!.verdict).toBe('unknown')
    expect(comparedWords(against[0]!)).toMatch(/One pass a side/)
  })

  it('faster and quicker alike is power, and one jet further the same way', () => {
    const told = day([
      ...[13.42, 13.4, 13.44].map((t, k) => pass('a', t, [158.1, 158.3, 157.9][k]!)),
      ...[13.16, 13.14, 13.18].map((t, k) => pass('b', t, [161.3, 161.5, 161.1][k]!)),
    ])
    expect(told.against[0]!.verdict).toBe('power')
    expect(told.against[0]!.powerPct!.difference).toBeCloseTo(100 * ((161.3 / 158.1) ** 3 - 1), 3)
    expect(told.next).toMatchObject({ kind: 'jet', from: 145, to: 150 })
  })

  it('quicker with the same end speed is traction, not power', () => {
    const { against, next } = day([
      ...[13.42, 13.4, 13.44].map((t, k) => pass('a', t, [158.1, 158.4, 157.9][k]!)),
      ...[13.12, 13.1, 13.14].map((t, k) => pass('b', t, [158.2, 158.3, 157.8][k]!)),
    ])
    expect(against[0]!.verdict).toBe('traction')
    expect(comparedWords(against[0]!)).toMatch(/not power/)
    expect(next!.kind).toBe('again')
  })

  it('faster at the end but slower over all: they disagree, and that is said', () => {
    const { against } = day([
      ...[13.1, 13.12, 13.08].map((t, k) => pass('a', t, [158.1, 158.4, 157.9][k]!)),
      ...[13.3, 13.32, 13.28].map((t, k) => pass('b', t, [161.2, 161.5, 160.9][k]!)),
    ])
    expect(against[0]!.verdict).toBe('apart')
  })

  it('quicker beyond doubt, with end speeds that scatter, is quicker and no more than that', () => {
    const { against } = day([
      ...[13.42, 13.4, 13.44].map((t, k) => pass('a', t, [158.1, 161.4, 154.9][k]!)),
      ...[13.12, 13.1, 13.14].map((t, k) => pass('b', t, [164.2, 158.3, 161.8][k]!)),
    ])
    expect(against[0]!.verdict).toBe('quicker')
    expect(comparedWords(against[0]!)).toMatch(/do not tell/)
  })

  it('faster and quicker by more than that is both, and slower but quicker is told as what it is', () => {
    const both = day([
      ...[13.42, 13.4, 13.44].map((t, k) => pass('a', t, [158.1, 158.3, 157.9][k]!)),
      ...[12.6, 12.62, 12.58].map((t, k) => pass('b', t, [161.3, 161.5, 161.1][k]!)),
    ]).against[0]!
    expect(both.verdict).toBe('both')
    const hidden = day([
      ...[13.42, 13.4, 13.44].map((t, k) => pass('a', t, [161.3, 161.5, 161.1][k]!)),
      ...[13.2, 13.22, 13.18].map((t, k) => pass('b', t, [158.1, 158.3, 157.9][k]!)),
    ]).against[0]!
    expect(hidden.verdict).toBe('apart')
    expect(comparedWords(hidden)).toMatch(/less power, time was gained/)
  })

  it('a leaner jet that was faster is followed by no leaner one before the mixture is read', () => {
    const leaner: DayState[] = [
      { set: 'a', name: 'Main 150', main: 150 },
      { set: 'b', name: 'Main 145', main: 145 },
    ]
    const passes = [
      ...[13.42, 13.4, 13.44].map((t, k) => pass('a', t, [158.1, 158.3, 157.9][k]!)),
      ...[13.16, 13.14, 13.18].map((t, k) => pass('b', t, [161.3, 161.5, 161.1][k]!)),
    ]
    const { next } = stripDay(passes, leaner, jets)
    expect(next!.kind).toBe('read')
    expect(nextStepWords(next!)).toMatch(/before the mixture is read wide open/)
    // Read, and rich by 7 %: a smaller one, but none that is leaner than what is wanted (wanted is 139.8).
    const rich = [-7.1, -6.9, -7.0].map((pct) => pass('b', 13, 160, { wantedPct: [pct] }))
    expect(stripDay(rich, leaner, jets).next).toMatchObject({ kind: 'fuel', jet: { from: 145, to: 140 } })
    const less = [-5.1, -4.9, -5.0].map((pct) => pass('b', 13, 160, { wantedPct: [pct] }))
    expect(stripDay(less, leaner, jets).next).toMatchObject({ kind: 'fuel', jet: null })
  })

  it('a slip that was lifted nobody knows where is compared with nothing', () => {
    const { against } = day([
      ...[13.42, 13.4, 15.9].map((t, k) => pass('a', t, [158, 158.2, 121][k]!, { lifted: k === 2 })),
      ...[13.41, 13.42].map((t) => pass('b', t, 158)),
    ])
    expect(Math.abs(against[0]!.marks.at(-1)!.timeS.difference)).toBeLessThan(0.03)
  })

  it('a change that lost is put back', () => {
    const { next } = day([
      ...[13.1, 13.12, 13.08].map((t, k) => pass('a', t, [161.1, 161.4, 160.9][k]!)),
      ...[13.4, 13.42, 13.38].map((t, k) => pass('b', t, [157.2, 157.5, 156.9][k]!)),
    ])
    expect(next).toMatchObject({ kind: 'back', to: 140 })
  })

  it('thinner air is taken out where both sides noted it', () => {
    const same = (set: string, speed: number, density: number) =>
      [0, 0.2, -0.2].map((by) => pass(set, 13, speed + by, { density }))
    // Power goes with density and speed with its cube root: the same engine in air 5 % thinner.
    const thin = 160 * Math.cbrt(0.95)
    const [told] = day([...same('a', 160, 1.2), ...same('b', thin, 1.14)]).against
    expect(told!.atLikeAir).toBe(true)
    expect(Math.abs(told!.powerPct!.difference)).toBeLessThan(0.05)
  })

  it('a mixture that was read says how many percent, and which jet of the box', () => {
    const { next } = day([4.1, 4.4, 3.9].map((pct) => pass('a', 13, 160, { wantedPct: [pct] })))
    expect(next).toMatchObject({ kind: 'fuel', jet: { from: 140, to: 145 } })
    expect(nextStepWords(next!)).toMatch(/\+4\.1 %.*richer.*Main jet 140\.0 to 145\.0/)
    const { next: enough } = day([0.1, -0.2, 0.2].map((pct) => pass('a', 13, 160, { wantedPct: [pct] })))
    expect(enough).toMatchObject({ kind: 'keep', why: 'mixture' })
  })

  it('marks behind where it was shut are not compared', () => {
    const { against } = day([
      ...[13.42, 13.4].map((t) => pass('a', t, 158, { lifted: true, liftedAtM: 250 })),
      ...[13.16, 13.14].map((t) => pass('b', t, 161)),
    ])
    expect(against[0]!.marks.map((one) => one.distanceM)).toEqual([18.288])
  })
})
