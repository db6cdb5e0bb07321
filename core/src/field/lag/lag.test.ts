import { knownCase, knownRuns, type KnownCase } from '../../../trials/knownTruthLog'
import { findOpenings } from '../../run/openings'
import { median } from '../../numbers/median'
import { DEFAULT_FILTERS, type RunColumns } from '../../run/run'
import { estimateLag, weighed } from './lag'
import { seeds } from '../../../trials/seeds'
import { estimateField } from '../estimate'
import { DEFAULT_FIELD_OPTIONS } from '../field'
import { lagByFlow } from './lagByFlow'
import type { LagSource } from './lagSources'

const lagOf = (over: Partial<KnownCase>) => {
  const c = knownCase(3, over)
  return { c, lag: estimateLag(c.grid, knownRuns(c), 'throttle', DEFAULT_FILTERS) }
}

describe('openings of the throttle', () => {
  it.each([
    [0.1, 50],
    [0.2, 20],
    [0.35, 100],
  ])('a lag of %f s and 60 ms of sensor is found within 30 ms at %i Hz', (delay, hz) => {
    const openings = knownRuns(knownCase(4, { delay, hz })).flatMap(findOpenings)
    expect(openings.length).toBeGreaterThan(8)
    expect(Math.abs(median(openings.map((one) => one.lag)) - delay - 0.06)).toBeLessThan(0.03)
  })
  it('without a spike there is nothing to go by', () => {
    expect(knownRuns(knownCase(4, { tipIn: 0, stops: [20, 40, 60, 80] })).flatMap(findOpenings)).toEqual([])
  })
})

const byFlowOf = (runs: RunColumns[]) => lagByFlow(runs.flatMap(findOpenings), runs)

describe('a lag that falls with flow', () => {
  it.each([
    [3000, 20],
    [6000, 50],
    [12_000, 20],
  ])('is told by openings at several stops: %i s x rpm x %% at %i Hz', (perFlow, hz) => {
    for (const seed of [1, 2, 3]) {
      const runs = knownRuns(knownCase(seed, { perFlow, delay: 0.12, hz, held: [], misfire: null }))
      const found = byFlowOf(runs)!
      expect(Math.abs(found.lag.perFlow / perFlow - 1)).toBeLessThan(0.35)
      // Delay and time constant, and what of a spike is late.
      expect(Math.abs(found.lag.base - 0.18)).toBeLessThan(0.05)
    }
  })
  it('leaves a field as good as one lag would where there is one lag', () => {
    const errorOf = (perFlow: number): { rms: number; worst: number } => {
      const c = knownCase(2, { perFlow, delay: 0.12, hz: 20, held: [], misfire: null })
      const field = estimateField(knownRuns(c), { ...DEFAULT_FIELD_OPTIONS, grid: c.grid, target: c.target })
      expect(field.lag.byFlow !== null).toBe(perFlow > 0)
      const [one] = field.cylinders
      const off = one!.changePct.flatMap((row, r) =>
        row.flatMap((value, k) =>
          one!.evidence[r]![k] === 'solid'
            ? [value! - 100 * (Math.exp(c.truth(c.grid.rpm[k]!, c.grid.load[r]!)) - 1)]
            : [],
        ),
      )
      return {
        rms: Math.sqrt(off.reduce((sum, one) => sum + one * one, 0) / off.length),
        worst: Math.max(...off.map(Math.abs)),
      }
    }
    for (const perFlow of [0, 6000, 12_000]) {
      expect(errorOf(perFlow).rms).toBeLessThan(0.4)
      expect(errorOf(perFlow).worst).toBeLessThan(1.5)
    }
  })
  it('is not made of one lag for all, in 97 of 100', () => {
    const all = seeds(100, 10)
    const wrong = all.filter((seed) => byFlowOf(knownRuns(knownCase(seed, { delay: 0.15, hz: 25, repeats: 2 }))))
    expect(wrong.length).toBeLessThanOrEqual(0.03 * all.length)
  })
})

describe('a chop that does not cut at once', () => {
  it.each([
    ['cut 0.3 s after the plate is shut', { cutAfter: 0.3 }],
    ['a hand that shuts it in half a second', { closing: 0.5 }],
    ['both', { cutAfter: 0.3, closing: 0.5 }],
  ])('does not move the lag: %s', (_what, over) => {
    const { c, lag } = lagOf(over)
    expect(Math.abs(lag.lag - c.delay - c.timeConstant)).toBeLessThan(0.03)
  })
  it('is said, with what each kind of evidence tells, and leaves more doubt', () => {
    const { lag } = lagOf({ cutAfter: 0.3 })
    expect(lag.disagree).toBe(true)
    expect(lag.note).toMatch(/throttle chops \(\d+ ms\) come later: fuel seems to be cut late/)
    expect(lag.sources.map((one) => one.what)).toEqual(expect.arrayContaining(['throttle chops', 'throttle openings']))
    expect(lag.error!).toBeGreaterThan(lagOf({}).lag.error!)
  })
})

describe('what evidence of several kinds tells together', () => {
  const source = (what: LagSource['what'], lag: number, error = 0.01): LagSource => ({ what, lag, error, count: 9 })
  it('is its mean by error where it agrees', () => {
    const lag = weighed([source('throttle chops', 0.25, 0.01), source('throttle openings', 0.28, 0.02)])
    expect(lag.lag).toBeCloseTo(0.25 + 0.03 / 5, 9)
    expect(lag).toMatchObject({ from: 'estimated', disagree: false })
  })
  it('sweeps of a flat field do not overrule a chop, but leave doubt', () => {
    const lag = weighed([source('throttle chops', 0.25), source('scatter of sweeps', 0.05)])
    expect(lag.lag).toBeCloseTo(0.25, 9)
    expect(lag.disagree).toBe(true)
    expect(lag.error!).toBeGreaterThan(0.025)
    expect(lag.note).toMatch(/would say 50 ms/)
  })
  it('a spike later than the chop is of a slow film', () => {
    expect(weighed([source('throttle chops', 0.2), source('throttle openings', 0.4)]).lag).toBeCloseTo(0.2, 9)
  })
})

describe('a time in which the plate or the speed was not read', () => {
  const [from, to] = [3, 4.2]
  it.each(['throttle', 'rpm'] as const)('%s: the lag is sought with the readings that are not of it', (channel) => {
    const c = knownCase(5, {
      stops: [20, 40, 60, 80],
      repeats: 2,
      misfire: null,
      sweep: { ...knownCase(5).sweep, downEvery: 2 },
    })
    const runs = knownRuns(c).map((run) => ({
      ...run,
      [channel]: run[channel]!.map((value, i) => (run.time[i]! > from && run.time[i]! < to ? NaN : value)),
    }))
    const lag = estimateLag(c.grid, runs, 'throttle', DEFAULT_FILTERS)
    expect(lag.sources.some((one) => one.what === 'scatter of sweeps')).toBe(true)
    expect(Math.abs(lag.lag - c.delay - c.timeConstant)).toBeLessThan(0.03)
  })
})
