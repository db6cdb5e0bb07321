import { knownPull, recordPull } from '../../../trials/knownPull'
import { DEFAULT_CURVE, runCurve, type Curve } from '../lay/curve'
import { conditionsOf, correctSet, mismatches } from './conditions'
import { gainBegins } from './gainBegins'
import { gainsTable } from './gains'
import { findHoles } from '../lay/holes'
import { misfireSuspicion } from '../lay/misfire'
import { oddCurves } from '../lay/oddCurves'
import { quantityOf, spreadOf } from '../torque/quantity'
import { binsWithin, curveRuler, rulerRpm, type CurveRuler } from '../lay/ruler'
import { warmUpRuns } from '../lay/warmUp'
import type { Comparison } from './compare'
import type { RunFacts } from '../../run/facts'

const ruler: CurveRuler = { first: 3000, step: 100, count: 41 }
const curve = (of: (rpm: number, bin: number) => number): Float32Array => Float32Array.from(rulerRpm(ruler), of)
const flat = (value: number): Float32Array => curve(() => value)

describe('the ruler of curves', () => {
  it('has its bins on whole steps within the span', () => {
    expect(curveRuler(2950, 7010)).toEqual({ first: 3000, step: 100, count: 41 })
    expect(binsWithin(ruler, 3000, 3300)).toEqual([0, 4])
    expect(binsWithin(ruler, 100, 200)).toEqual([0, 0])
    expect(() => curveRuler(5000, 5000)).toThrow(RangeError)
  })
})

describe('spread of repeats', () => {
  it('is told where runs say something, and counts them', () => {
    const { mean, median, low, high, runs } = spreadOf(
      [flat(10), curve((rpm) => (rpm < 5000 ? NaN : 13)), flat(11)],
      ruler,
    )
    expect([mean[0], median[0], low[0], high[0], runs[0]]).toEqual([10.5, 10.5, 10, 11, 2])
    expect([median[40], low[40], high[40], runs[40]]).toEqual([11, 10, 13, 3])
    expect(spreadOf([], ruler).mean[0]).toBeNaN()
  })
  it('a run without torque tells neither torque nor power', () => {
    const { torque: _torque, ...blind } = recordPull(knownPull({}))
    const one = runCurve(blind, ruler, DEFAULT_CURVE)
    expect([...quantityOf(one, 'power', ruler, 1)].every(Number.isNaN)).toBe(true)
    expect([...quantityOf(one, 'lambda', ruler, 1)].slice(10).some(Number.isNaN)).toBe(false)
  })
})

describe('odd curves', () => {
  const noisy = (seed: number): Float32Array => curve((_, bin) => 30 * (1 + 0.003 * Math.sin(bin * 1.7 + seed)))
  it('a narrow dip, a small one, and a run that says nothing there are left alone', () => {
    const dip = (depth: number, from: number, to: number): Float32Array =>
      curve((rpm, bin) => noisy(9)[bin]! * (rpm >= from && rpm <= to ? 1 - depth : 1))
    expect(oddCurves([noisy(1), noisy(2), dip(0.2, 5000, 5100)], ruler)).toEqual([])
    expect(oddCurves([noisy(1), noisy(2), dip(0.015, 4500, 6000)], ruler)).toEqual([])
    expect(oddCurves([noisy(1), noisy(2), curve(() => NaN)], ruler)).toEqual([])
  })
  it('one that is off as a whole is odd as a whole', () => {
    const [band] = oddCurves([noisy(1), noisy(2), curve((_, bin) => 0.9 * noisy(3)[bin]!), noisy(4)], ruler)
    expect(band).toMatchObject({ run: 2 })
    expect(band!.toRpm - band!.fromRpm).toBeGreaterThan(3500)
    expect(band!.departurePct).toBeCloseTo(-10, 0)
  })
  it('two odd runs in different places are both named', () => {
    const hole = (from: number, seed: number): Float32Array =>
      curve((rpm, bin) => noisy(seed)[bin]! * (rpm >= from && rpm <= from + 800 ? 0.92 : 1))
    const bands = oddCurves([hole(3500, 1), hole(5500, 2), noisy(3), noisy(4)], ruler)
    expect(bands.map((band) => band.run).sort((a, b) => a - b)).toEqual([0, 1])
  })
})

describe('warm-up', () => {
  it('needs three runs, coolant or drift; equal runs are none', () => {
    expect(warmUpRuns([flat(28), flat(30)], [40, 80])).toEqual([])
    expect(warmUpRuns([flat(30), flat(30.02), flat(30)], [NaN, NaN, NaN])).toEqual([])
    expect(warmUpRuns([flat(28), flat(29), flat(30), flat(30)], [50, 68, 82, 83]).map((one) => one.run)).toEqual([0, 1])
    expect(warmUpRuns([flat(28), flat(30), flat(30.03)], [NaN, NaN, NaN])[0]!.why).toMatch(/6.7 % below the later runs/)
  })
})

describe('signs of a misfire', () => {
  const of = (lambda: number, scatter: number, torque: number | null): Curve => ({
    run: 'x',
    torque: torque === null ? null : flat(torque),
    torqueFrom: '',
    torqueFault: '',
    plate: null,
    lambda: [flat(0.88), flat(lambda)],
    scatter: [flat(0.006), flat(scatter)],
    coolant: 85,
  })
  const others = [of(0.88, 0.006, 30), of(0.88, 0.006, 30.1)]
  const band = { fromRpm: 4000, toRpm: 5000 }
  it('all of them together, in the cylinder that shows them', () => {
    expect(misfireSuspicion(of(0.94, 0.03, 28), others, band, ruler)).toMatchObject({ cylinder: 2 })
  })
  it('without torque two signs are enough; any one missing is no misfire', () => {
    expect(misfireSuspicion(of(0.94, 0.03, null), others, band, ruler)).toMatchObject({ torquePct: null })
    expect(misfireSuspicion(of(0.94, 0.006, 28), others, band, ruler)).toBeNull()
    expect(misfireSuspicion(of(0.88, 0.03, 28), others, band, ruler)).toBeNull()
    expect(misfireSuspicion(of(0.94, 0.03, 30), others, band, ruler)).toBeNull()
  })
})

describe('holes', () => {
  const hump = (rpm: number): number => 30 - ((rpm - 5000) / 900) ** 2
  const dip = (depth: number, width: number) =>
    curve((rpm) => hump(rpm) * (1 - depth * Math.exp(-(((rpm - 5000) / width) ** 2))))
  it('a rich one, and one whose mixture nobody knows', () => {
    const [rich] = findHoles(dip(0.08, 300), flat(0.8), flat(0.88), ruler)
    expect(rich).toMatchObject({ verdict: 'rich' })
    expect(findHoles(dip(0.08, 300), flat(NaN), flat(0.88), ruler)[0]).toMatchObject({
      verdict: 'mixture not known',
      mixturePct: null,
    })
  })
  it('a shallow dip, one at the end of the data, and a flat curve are none', () => {
    expect(findHoles(dip(0.01, 300), flat(0.88), flat(0.88), ruler)).toEqual([])
    expect(
      findHoles(
        curve((rpm) => (rpm > 6700 ? 25 : 30)),
        flat(0.88),
        flat(0.88),
        ruler,
      ),
    ).toEqual([])
    expect(findHoles(flat(30), flat(0.88), flat(0.88), ruler)).toEqual([])
  })
})

describe('gains', () => {
  it('leave out what one of the sets does not reach', () => {
    const short = curve((rpm) => (rpm > 6000 ? NaN : 30))
    const lines = gainsTable([short, short], [flat(31), flat(31)], ruler, {
      quantity: 'torque',
      bands: [
        { fromRpm: 5000, toRpm: 7000 },
        { fromRpm: 4000, toRpm: 5000 },
      ],
      at: [6500, 4500, 20000],
    })
    expect(lines.map((line) => [line.what, line.band?.fromRpm ?? line.rpm?.[0]])).toEqual([
      ['highest speed of both', 6000],
      ['mean over a band', 4000],
      ['area over a band', 4000],
      ['at an rpm', 4500],
    ])
    expect(lines[1]!.percent).toBeCloseTo(100 / 30, 5)
  })
  it('of single runs have no interval', () => {
    const [one] = gainsTable([flat(30)], [flat(31)], ruler, { quantity: 'torque', bands: [], at: [] })
    expect(one).toMatchObject({ low: null, high: null })
  })
  it('a set that was stopped early has no peak: both are told at the highest speed both reached', () => {
    const hump = (top: number) => (rpm: number) => 40 - ((rpm - top) / 1000) ** 2
    const stopped = curve((rpm) => (rpm > 4500 ? NaN : hump(5000)(rpm)))
    const whole = curve(hump(5000))
    const choice = { quantity: 'torque', bands: [], at: [] } as const
    const [line] = gainsTable([whole, whole], [stopped, stopped], ruler, choice)
    expect(line).toMatchObject({
      what: 'highest speed of both',
      rpm: [4500, 4500],
      ends: ['still rising', 'still rising'],
    })
    expect(line!.percent).toBeCloseTo(0, 6)
    const [peaks] = gainsTable([whole, whole], [curve(hump(4700)), curve(hump(4700))], ruler, choice)
    expect(peaks).toMatchObject({ what: 'peak', rpm: [5000, 4700] })
    // Falls by less than 1 % on one side, inside the span: no peak.
    const late = curve(hump(6800))
    expect(gainsTable([late], [whole], ruler, choice)[0]).toMatchObject({ ends: ['still rising', 'has a peak'] })
    expect(gainsTable([curve(hump(2500))], [whole], ruler, choice)[0]!.ends![0]).toBe('falling all along')
  })
  it('of mixture there is neither peak nor area', () => {
    const bands = [{ fromRpm: 4000, toRpm: 5000 }]
    const lines = gainsTable([flat(0.9)], [flat(0.95)], ruler, { quantity: 'lambda', bands, at: [4500] })
    expect(lines.map((line) => line.what)).toEqual(['mean over a band', 'at an rpm'])
  })
  it('begin where the largest stretch begins, not at a stray bin', () => {
    const rpm = rulerRpm(ruler)
    const comparison = {
      rpm,
      first: rpm.map(() => 40),
      real: rpm.map((at) => at === 3500 || at >= 5500),
      difference: rpm.map((at) => (at === 3500 ? 0.2 : at >= 5500 ? 2 : 0)),
      low: rpm.map(() => 0),
      high: rpm.map(() => 1),
    } as unknown as Comparison
    expect(gainBegins(comparison, [], [], ruler, 150)).toEqual({ rpm: 5450, low: null, high: null })
    expect(gainBegins({ ...comparison, real: rpm.map(() => false) }, [], [], ruler, 150)).toBeNull()
  })
  it('begin at the lowest speed where all is above, and at zero where less comes first', () => {
    const rpm = rulerRpm(ruler)
    const of = (difference: (at: number) => number): Comparison =>
      ({
        rpm,
        first: rpm.map(() => 40),
        real: rpm.map((at) => Math.abs(difference(at)) > 0.3),
        difference: rpm.map(difference),
        low: rpm.map(() => 0),
        high: rpm.map(() => 1),
      }) as unknown as Comparison
    expect(
      gainBegins(
        of(() => 2),
        [],
        [],
        ruler,
        150,
      )!.rpm,
    ).toBe(3000)
    const crossing = of((at) => Math.min(2, Math.max(-2, (at - 5000) / 250)))
    expect(Math.abs(gainBegins(crossing, [], [], ruler, 150)!.rpm - 5000)).toBeLessThan(60)
  })
})

describe('conditions', () => {
  const said = { rig: ' Shed drum ', gear: 4, sensorPlace: null, weather: null }
  const facts = (over: Partial<RunFacts>): RunFacts => ({ gear: null, weather: null, ...over }) as RunFacts
  const air = (temperatureC: number) => ({ temperatureC, pressureKpa: 100, humidityPct: 40 })
  it('are what was said, else what the logs tell', () => {
    expect(conditionsOf(said, [facts({ gear: 3 }), facts({ gear: 3 })], 'x')).toMatchObject({
      rig: 'Shed drum',
      gear: 3,
      mixed: null,
    })
    expect(conditionsOf(said, [null], 'x').gear).toBe(4)
    const logged = conditionsOf(said, [facts({ weather: air(20) }), facts({ weather: air(24) }), null], 'x')
    expect(logged).toMatchObject({ weatherLogged: true, weather: { temperatureC: 22 } })
    expect(conditionsOf({ ...said, weather: air(10) }, [facts({ weather: air(20) })], 'x')).toMatchObject({
      weatherLogged: false,
      weather: { temperatureC: 10 },
    })
  })
  it('alike, there is nothing to say; of mixture only the sensor counts', () => {
    const one = conditionsOf(said, [], 'torque column')
    expect(mismatches(one, one, 'none', 'torque')).toEqual([])
    const other = { ...one, rig: 'Town', gear: 2, torqueFrom: 'drum' }
    expect(mismatches(one, other, 'none', 'lambda')).toEqual([])
    expect(mismatches(one, other, 'none', 'power').map((found) => found.what)).toEqual(['rig', 'torque source', 'gear'])
  })
  it('a correction without weather is none, and says so', () => {
    expect(correctSet('din-70020', null)).toMatchObject({
      factor: 1,
      label: 'uncorrected',
      warning: expect.stringMatching(/needs the weather/) as string,
    })
    expect(correctSet('none', null).warning).toBeNull()
    expect(correctSet('din-70020', air(20)).label).toMatch(/^DIN 70020 × 1\.013$/)
  })
})
