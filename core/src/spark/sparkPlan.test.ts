import type { RunFacts } from '../run/facts'
import { DEFAULT_SPARK_PLAN } from './choice'
import { safeOffsets, sparkPlan, tickSparkPlan } from './sparkPlan'

describe('plan of spark steps', () => {
  it('settings: the present one first and last, from the least advance upward between', () => {
    expect(safeOffsets({ step: 2, below: 2, above: 2 })).toEqual([0, -4, -2, 2, 4, 0])
  })
  it('least throttle first, then rising speed; what moved is checked again before all', () => {
    const choice = { ...DEFAULT_SPARK_PLAN, stops: [100, 40], rpm: [6000, 3000] }
    const again = {
      what: 'spark',
      stop: 60,
      fromRpm: 5000,
      toRpm: 5000,
      moved: 4,
      since: '2026-03-02T10:00:00.000Z',
    } as const
    const plan = sparkPlan(choice, [again, { ...again, what: 'mixture' }])
    expect(plan.steps.map((one) => [one.stop, one.fromRpm, one.since !== null])).toEqual([
      [60, 5000, true],
      [40, 3000, false],
      [40, 6000, false],
      [100, 3000, false],
      [100, 6000, false],
    ])
    expect(plan.steps[0]!.offsets).toEqual([0, -3, 3, 0])
    expect(plan.runs).toBe(2 + 4 * 3)
    expect(plan.minutes).toBeGreaterThan(plan.runs * 0.4)
  })
  it('sweeps are one step a setting, the present one once more than the others', () => {
    const { steps } = sparkPlan({ ...DEFAULT_SPARK_PLAN, way: 'sweeps', stops: [60], rpm: [3000, 8000] })
    expect(steps.map((one) => [one.offsets[0], one.repeats])).toEqual([
      [0, 4],
      [-6, 3],
      [-3, 3],
      [3, 3],
      [6, 3],
    ])
    expect(steps[0]).toMatchObject({ fromRpm: 3000, toRpm: 8000 })
  })
  it('is ticked off by runs at its places', () => {
    const facts = (over: Partial<RunFacts>): RunFacts => ({
      stop: 60,
      fromRpm: 3000,
      toRpm: 8000,
      seconds: 20,
      gear: null,
      ratio: null,
      weather: null,
      coolantFrom: null,
      coolantTo: null,
      ...over,
    })
    const steps = sparkPlan({ ...DEFAULT_SPARK_PLAN, stops: [60], rpm: [3000, 4500] }).steps
    const made = [3050, 3020, 4480].map((fromRpm) => ({
      kind: 'spark step' as const,
      facts: facts({ fromRpm }),
      setting: null,
      createdAt: '2026-03-02T09:00:00.000Z',
    }))
    expect([...tickSparkPlan(steps, made, null).values()]).toEqual([2, 1])
    // What was run before the mixture moved does not count for what is asked for again.
    const again = { what: 'spark', stop: 60, fromRpm: 3000, toRpm: 3000, moved: 4 } as const
    for (const [since, count] of [
      ['2026-03-02T08:00:00.000Z', 2],
      ['2026-03-02T10:00:00.000Z', 0],
    ] as const) {
      const [first] = sparkPlan({ ...DEFAULT_SPARK_PLAN, stops: [60] }, [{ ...again, since }]).steps
      expect(tickSparkPlan([first!], made, null).get(first!.key)).toBe(count)
    }
    const sweeps = sparkPlan({ ...DEFAULT_SPARK_PLAN, way: 'sweeps', stops: [60] }).steps
    const swept = [10, 4, 7, 13, 10].map((advance) => ({
      kind: 'sweep' as const,
      facts: facts({}),
      setting: { advance, knock: false },
      createdAt: '2026-03-02T09:00:00.000Z',
    }))
    expect([...tickSparkPlan(sweeps, swept, null).values()]).toEqual([2, 1, 1, 1, 0])
  })
})
