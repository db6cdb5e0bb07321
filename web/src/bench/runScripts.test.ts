import { safeOffsets, sparkPlan, type PlanStep } from '@yuzumix/core'
import { rollOnScriptOf, scriptOf, sparkScriptOf } from './runScripts'

const STEP = { key: 'k', stop: 60, fromRpm: 3000, toRpm: 8000, repeats: 3, gear: null } as unknown as PlanStep

describe('scripts of a plan', () => {
  it('a sweep goes at the rate asked for, a hold and a roll-on last their time', () => {
    expect(scriptOf({ ...STEP, kind: 'sweep' }, 4, 700)).toEqual({
      kind: 'sweep',
      stop: 60,
      fromRpm: 3000,
      toRpm: 8000,
      rate: 700,
      gear: 4,
    })
    expect(scriptOf({ ...STEP, kind: 'hold' }, 4, 700)).toMatchObject({ kind: 'hold', rpm: 3000, seconds: 8 })
    expect(scriptOf({ ...STEP, kind: 'roll-on' }, 4, 700)).toMatchObject({ kind: 'roll-on', stop: 60, fromRpm: 3000 })
  })
  it('a roll-on of the response plan goes from its opening to the other, and stays there for three seconds', () => {
    const planned = { rpm: 3500, fromLoad: 5, toLoad: 40, done: 1, wanted: 3, why: '' }
    expect(rollOnScriptOf(planned, 3)).toEqual({
      kind: 'roll-on',
      fromRpm: 3500,
      fromStop: 5,
      stop: 40,
      seconds: 3,
      gear: 3,
    })
  })
  it('a gear that the plan names goes before the one at hand', () => {
    expect(scriptOf({ ...STEP, kind: 'sweep', gear: 2 }, 4, 700)).toMatchObject({ gear: 2 })
  })
  it('spark steps keep their order of settings, sweeps have one', () => {
    const choice = { stops: [60], rpm: [4000, 6000], step: 3, below: 2, above: 2, repeats: 3, seconds: 4 }
    const [held] = sparkPlan({ ...choice, way: 'steps' }).steps
    expect(sparkScriptOf(held!, 4, 700, 5)).toEqual({
      kind: 'spark step',
      stop: 60,
      rpm: 4000,
      offsets: safeOffsets(choice),
      seconds: 5,
      gear: 4,
    })
    const swept = sparkPlan({ ...choice, way: 'sweeps' }).steps.map((step) => sparkScriptOf(step, 4, 700, 5))
    expect(swept.map((one) => one.kind === 'sweep' && one.sparkOffset)).toEqual([0, -6, -3, 3, 6])
    expect(swept[0]).toMatchObject({ fromRpm: 4000, toRpm: 6000, rate: 700 })
  })
})
