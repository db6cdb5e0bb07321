import type { RunFacts } from '../run/facts'
import { DEFAULT_PLAN, planFor, type PlanChoice } from './choice'
import { cutToTime, makePlan } from './makePlan'
import { reachOf } from './reach'
import { runFault } from '../run/runFault'
import { tickPlan, type DoneRun } from './tickPlan'

const choice = (over: Partial<PlanChoice> = {}): PlanChoice => ({ ...DEFAULT_PLAN, ...over })
const stops = (over: Partial<PlanChoice>): number[] => makePlan(choice(over)).steps.map((step) => step.stop)

describe('a run plan', () => {
  it('takes its order from the order', () => {
    expect(stops({ order: 'wide open first', service: 'full work' })).toEqual([100, 80, 60, 40, 30, 20, 10, 5])
    expect(stops({ order: 'small openings first' })).toEqual([10, 20, 40, 80, 100])
  })
  it('is as deep as what was sold, with three repeats for a trend and six for a comparison', () => {
    expect(stops({ service: 'base map check' })).toEqual([20, 100])
    expect(makePlan(choice()).steps.every((step) => step.repeats === 3)).toBe(true)
    expect(makePlan(choice({ purpose: 'comparison' })).steps.every((step) => step.repeats === 6)).toBe(true)
  })
  it('holds and roll-ons come after the sweeps, at points within reach of the opening', () => {
    const { steps } = makePlan(choice({ kinds: ['sweep', 'hold', 'roll-on'], service: 'full work' }))
    const kinds = steps.map((step) => step.kind)
    expect(kinds.lastIndexOf('sweep')).toBeLessThan(kinds.indexOf('hold'))
    expect(kinds.lastIndexOf('hold')).toBeLessThan(kinds.indexOf('roll-on'))
    expect(new Set(steps.map((step) => step.key)).size).toBe(steps.length)
    for (const step of steps)
      if (step.kind === 'hold') expect(step.fromRpm).toBeLessThanOrEqual(reachOf(step.stop, step))
  })
  it('counts its minutes: warm-up, running, and cooling by how hard it was run', () => {
    const plan = makePlan(choice({ service: 'base map check' }))
    // 8 + 3 x (0.5 + 1.5) + 3 x (0.5 + 0.3)
    expect(plan.minutes).toBeCloseTo(16.4, 6)
    expect(plan.overBy).toBeNull()
  })
  it('says by how much it is longer than the day, and what to cut', () => {
    const asked = choice({ service: 'full work', kinds: ['sweep', 'hold', 'roll-on'], minutesAtHand: 30 })
    const plan = makePlan(asked)
    expect(plan.overBy).toBeCloseTo(plan.minutes - 30, 6)
    const cut = cutToTime(asked, plan)
    expect(cut.plan.overBy).toBeNull()
    expect(cut.plan.minutes).toBeLessThanOrEqual(30)
    expect(cut.dropped[0]).toMatch(/^roll-on/)
    expect(cut.plan.steps.map((step) => step.key)).toContain('sweep 100')
    expect(cut.plan.steps.some((step) => step.kind !== 'sweep')).toBe(false)
  })
  it('what cannot be cut to the time stays too long, with one run left', () => {
    const asked = choice({ minutesAtHand: 5 })
    const { plan } = cutToTime(asked, makePlan(asked))
    expect(plan.steps).toHaveLength(1)
    expect(plan.steps[0]!.repeats).toBe(1)
    expect(plan.overBy).toBeGreaterThan(0)
  })
  it('takes its span from the runs there are', () => {
    const facts = [
      { facts: { stop: 100, fromRpm: 2140, toRpm: 9380 } },
      { facts: { stop: null, fromRpm: 500, toRpm: 12000 } },
    ]
    expect(planFor(DEFAULT_PLAN, facts)).toMatchObject({ fromRpm: 2200, toRpm: 9300 })
    expect(planFor(DEFAULT_PLAN, [])).toBe(DEFAULT_PLAN)
  })
})

describe('runs tick a plan off by what they are', () => {
  const { steps } = makePlan(choice({ kinds: ['sweep', 'hold', 'roll-on'], gear: 4 }))
  const run = (
    id: string,
    kind: DoneRun['kind'],
    facts: Partial<RunFacts> | null,
    gear: number | null = 4,
  ): DoneRun => ({
    id,
    kind,
    gear,
    fault: null,
    facts: facts && ({ stop: 100, fromRpm: 2050, toRpm: 8900, ...facts } as RunFacts),
  })
  const tick = (...runs: DoneRun[]) => new Map(tickPlan(steps, runs).map((one) => [one.key, one]))
  it('one that tells too little ticks nothing, and says why', () => {
    const dull = { ...run('dull', 'sweep', {}), fault: '0.6 readings a second: too few, ten are needed' }
    const [of] = [...tick(dull).values()].filter((one) => one.almost.length)
    expect(of!.runs).toEqual([])
    expect(of!.almost).toEqual([{ run: 'dull', why: dull.fault }])
  })
  it('of its own: too few readings a second, or none that is settled and valid', () => {
    const measured = { kind: 'sweep', samples: 500, duration: 10, facts: null } as const
    const facts = (settled: number): RunFacts => ({ settled }) as RunFacts
    expect(runFault(measured)).toBeNull()
    expect(runFault({ ...measured, duration: 50 })).toBeNull()
    expect(runFault({ ...measured, samples: 115, duration: 190 * 60 })).toMatch(/^0.01 readings a second/)
    expect(runFault({ ...measured, facts: facts(0) })).toMatch(/none of its readings is settled/)
    expect(runFault({ ...measured, facts: facts(3) })).toBeNull()
    expect(runFault({ ...measured, kind: 'roll-on', facts: facts(0) })).toBeNull()
    expect(runFault({ ...measured, kind: 'hand readings', samples: 9, duration: 160 })).toBeNull()
  })
  it('a sweep of that stop over most of the span', () => {
    const ticks = tick(run('a', 'sweep', {}), run('b', 'sweep', { stop: 98.2 }), run('c', 'sweep', { stop: 41 }))
    expect(ticks.get('sweep 100')).toMatchObject({ runs: ['a', 'b'], left: 1 })
    expect(ticks.get('sweep 40')).toMatchObject({ runs: ['c'], left: 2 })
  })
  it('one that told nothing of its lower half, being opened on the way, does not count', () => {
    const { left, almost } = tick(run('late', 'sweep', { settledFromRpm: 5200, settledToRpm: 8900 })).get('sweep 100')!
    expect(left).toBe(3)
    expect(almost[0]!.why).toBe(
      'settled from 5\u202f200 to 8\u202f900 rpm, 53 % of the 2\u202f000 to 9\u202f000 asked for',
    )
  })
  it('one that ended early or in another gear does not count, and says why', () => {
    const { almost, left } = tick(run('a', 'sweep', { toRpm: 5500 }), run('b', 'sweep', {}, 3)).get('sweep 100')!
    expect(left).toBe(3)
    expect(almost).toEqual([
      { run: 'a', why: 'settled from 2\u202f050 to 5\u202f500 rpm, 49 % of the 2\u202f000 to 9\u202f000 asked for' },
      { run: 'b', why: 'gear 3, planned 4' },
    ])
  })
  it('holds and roll-ons by their point, more repeats than asked do not spill over, blind runs count for nothing', () => {
    const hold = steps.find((step) => step.kind === 'hold')!
    const roll = steps.find((step) => step.kind === 'roll-on')!
    const ticks = tick(
      run('h', 'hold', { stop: hold.stop, fromRpm: hold.fromRpm - 40, toRpm: hold.fromRpm + 60 }),
      run('far', 'hold', { stop: hold.stop, fromRpm: hold.fromRpm + 900, toRpm: hold.fromRpm + 950 }),
      run('r', 'roll-on', { stop: 100, fromRpm: roll.fromRpm + 50, toRpm: 8000 }),
      ...['1', '2', '3', '4'].map((id) => run(id, 'sweep', {})),
      run('blind', 'sweep', null),
    )
    expect(ticks.get(hold.key)!.runs).toEqual(['h'])
    expect(ticks.get(roll.key)!.runs).toEqual(['r'])
    expect(ticks.get('sweep 100')).toMatchObject({ runs: ['1', '2', '3'], left: 0 })
    expect([...ticks.values()].flatMap((one) => one.runs)).not.toContain('blind')
  })
})
