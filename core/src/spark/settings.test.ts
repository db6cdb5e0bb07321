import { runScript } from '../simulator/runScript'
import { volumetricEfficiency } from '../simulator/air'
import { DEFAULT_LIVE, liveRig } from '../simulator/liveRig'
import { rigOf, SIMULATED_MACHINES } from '../simulator/machinesById'
import { steadyLambda } from '../simulator/rig'
import { bestAdvance } from '../simulator/spark'
import { runFacts } from '../run/facts'
import type { SparkRun } from './bin'
import { judgeBin, type JudgedBin } from './judge'
import { oneKnob, RANGE_USES } from './oneKnob'
import { settingsOfSweeps, stopsAtSettings } from './setting'
import { sweepBins } from './sweepBins'

const rig = rigOf(SIMULATED_MACHINES.find((one) => one.id === 'curlew-437-stock')!)
const STOP = 30
const OFFSETS = [0, -6, -3, 3, 6, 0, -6, -3, 3, 6, 0]

/** Sweeps at one setting after the other; by hand, the log has no channel of the advance but somebody noted it. */
function swept(byHand: boolean, offsets = OFFSETS): SparkRun[] {
  const live = liveRig(rig, { ...DEFAULT_LIVE, coolant: 86 }, 11)
  return offsets.map((sparkOffset, k): SparkRun => {
    const script = { kind: 'sweep', stop: STOP, fromRpm: 3000, toRpm: 8500, rate: 700, gear: 4, sparkOffset } as const
    const whole = runScript(live, script, `sweep ${k}`)
    const { spark: _, ...blind } = whole
    const columns = byHand ? blind : whole
    return {
      columns,
      run: {
        id: columns.id,
        kind: 'sweep',
        facts: runFacts({ ...columns }, 'sweep'),
        setting: byHand ? { advance: 10 + sparkOffset, knock: false } : null,
        createdAt: `2026-03-02T10:${String(k).padStart(2, '0')}:00.000Z`,
      },
    }
  })
}
const byHand = swept(true)
const byChannel = swept(false)
const judged = (runs: SparkRun[]): JudgedBin[] => sweepBins(runs).map((bin) => judgeBin(bin, []))
const truth = (rpm: number): number =>
  bestAdvance(rpm, volumetricEfficiency(rig.engine, rig.breathing, 0, rpm, STOP), steadyLambda(rig, 0, rpm, STOP))

describe('sweeps at settings', () => {
  it('are grouped by what somebody noted, or by the channel', () => {
    expect(settingsOfSweeps(byHand.map((one) => one.run)).map((one) => [one.advance, one.runs.length])).toEqual([
      [4, 2],
      [7, 2],
      [10, 3],
      [13, 2],
      [16, 2],
    ])
    const groups = settingsOfSweeps(byChannel.map((one) => one.run))
    expect(groups.map((one) => one.runs.length)).toEqual([2, 2, 3, 2, 2])
    expect(groups[3]!.advance - groups[2]!.advance).toBeCloseTo(3, 0)
    expect(stopsAtSettings(byHand.slice(0, 1).map((one) => one.run))).toEqual([])
  })
  it('the channel gives the advance of each speed, with its best within 1.5 degrees', () => {
    const bins = judged(byChannel).filter(({ fit }) => fit.best)
    expect(bins.length).toBeGreaterThan(6)
    for (const { bin, fit } of bins) expect(Math.abs(fit.best!.advance - truth(bin.rpm))).toBeLessThan(1.5)
  })
  it('noted settings give the same gains, on their own scale', () => {
    const own = judged(byHand)
    for (const one of judged(byChannel)) {
      const same = own.find(({ bin }) => bin.rpm === one.bin.rpm)!
      expect(same.bin.isStatic).toBe(true)
      expect(same.bin.present).toBe(10)
      if (one.fit.best && same.fit.best)
        expect(same.fit.best.advance - 10).toBeCloseTo(one.fit.best.advance - one.bin.present, 0)
    }
  })
  it('the setting in use can be said; a channel tells for itself', () => {
    expect(sweepBins(byHand, undefined, 13).every((one) => one.present === 13)).toBe(true)
    expect(sweepBins(byChannel, undefined, 13)).toEqual(sweepBins(byChannel))
  })
  it('one setting only makes no bin, and without torque there is none either', () => {
    expect(sweepBins(byHand.filter(({ run }) => run.setting!.advance === 10))).toEqual([])
    const silent = byHand.map(({ columns: { torque: _, ...columns }, run }) => ({ run, columns }))
    expect(sweepBins(silent)).toEqual([])
  })
})

describe('one knob for the whole range', () => {
  const bins = judged(byHand)
  const presents = new Map(sweepBins(byChannel).map((one) => [one.rpm, one.present]))
  const lost = (offset: number, use: (rpm: number) => number): number =>
    bins.reduce((sum, { bin }) => {
      // Torque in truth at that setting, as a share of the best at this speed.
      return sum + use(bin.rpm) * (presents.get(bin.rpm)! + offset - truth(bin.rpm)) ** 2
    }, 0)
  const ideal = (use: (rpm: number) => number): number =>
    Array.from({ length: 201 }, (_, k) => -10 + k / 10).reduce((best, one) =>
      lost(one, use) < lost(best, use) ? one : best,
    )
  it('lies within a degree and a half of the setting that costs least in truth', () => {
    const quiet = bins.map((one) => ({
      ...one,
      bin: { ...one.bin, points: one.bin.points.map((point) => ({ ...point, knock: false })) },
    }))
    const { best, verdict, gain } = oneKnob(quiet, RANGE_USES.even, 2)
    expect(verdict).toBe('best torque')
    expect(Math.abs(best!.offset - ideal(() => 1))).toBeLessThan(1.5)
    expect(gain!.low).toBeGreaterThan(0)
  })
  it('goes where the range is used most', () => {
    const speeds = bins.map(({ bin }) => bin.rpm)
    const [from, to] = [Math.min(...speeds), Math.max(...speeds)]
    const at = (use: typeof RANGE_USES.even): number => oneKnob(bins, use, 2).best!.offset
    const low = at({ low: 1, middle: 0, high: 0 })
    const high = at({ low: 0, middle: 0, high: 1 })
    expect(Math.sign(low - high)).toBe(
      Math.sign(
        ideal((rpm) => Number(rpm < from + (to - from) / 3)) -
          ideal((rpm) => Number(rpm >= from + (2 * (to - from)) / 3)),
      ),
    )
  })
  it('tells what it gives away at each speed: nothing below zero, but for rounding', () => {
    for (const { givenAway } of oneKnob(bins, RANGE_USES.road, 2).byRpm)
      if (givenAway !== null) expect(givenAway).toBeGreaterThan(-0.01)
  })
  it('knock at one speed holds the whole range back', () => {
    const knocking = bins.map((one) =>
      one.bin.rpm === 5000 ? { ...one, bin: { ...one.bin, knockFrom: one.bin.present + 1 } } : one,
    )
    expect(oneKnob(knocking, RANGE_USES.even, 2)).toMatchObject({ verdict: 'knock', recommended: -1 })
  })
  it('so does knock where it cut the stepping short, before a curve could be fitted', () => {
    const [one, ...others] = bins
    const short = judgeBin(
      { ...one!.bin, points: one!.bin.points.filter((point) => point.advance === 10), knockFrom: one!.bin.present + 1 },
      [],
    )
    expect(short.fit.curve).toBeNull()
    expect(oneKnob([short, ...others], RANGE_USES.even, 2)).toMatchObject({ verdict: 'knock', recommended: -1 })
  })
  it('knock at the least setting tried: no number, but words', () => {
    const all = bins.map((each) => ({ ...each, bin: { ...each.bin, knockFrom: each.bin.present - 6 } }))
    const { verdict, recommended, note } = oneKnob(all, RANGE_USES.even, 4)
    expect([verdict, recommended]).toEqual(['knock', null])
    expect(note).toMatch(/go back, and measure from there/)
  })
  it('two settings, or nothing at all, are too few; no use is refused', () => {
    expect(oneKnob([], RANGE_USES.even, 2).verdict).toBe('too few settings')
    const two = byHand.filter(({ run }) => [10, 13].includes(run.setting!.advance))
    expect(oneKnob(judged(two), RANGE_USES.even, 2).verdict).toBe('too few settings')
    expect(() => oneKnob(bins, { low: 0, middle: 0, high: 0 }, 2)).toThrow(RangeError)
  })
})
