import type { Refusal } from '../refusal/refusal'
import { DEFAULT_TARGET, TARGET_PRESETS } from '../field/target'
import { DEFAULT_JETTING } from '../contract/jetting'
import { jobTarget } from '../question/jobTarget'
import { safeOffsets } from '../spark/sparkPlan'
import { CARBURETTOR_KINDS } from '../jetting/carburettor'
import { usualTargets } from '../jetting/model/targets'
import { RESTING, type RigControls } from '../rig/controls'
import { DEFAULT_SAFETY } from '../rig/safety'
import type { Table } from '../table/table'
import { controlDangers, scriptDangers } from './driving'
import { firstValues } from './firstValues'
import { historyDangers } from './history'
import { leanTargets } from './leanTargets'
import { loosenedLimits, loosenedMachine } from './loosened'
import { madeLater } from './madeLater'
import { asksForReason, passGate } from './passGate'
import { hardwareDangers } from './tableSteps'
import { unprovenStart } from './unproven'
import type { Danger } from './danger'

const kinds = (dangers: readonly Danger[]): string[] => dangers.map((one) => one.kind)

describe('the gate', () => {
  const asked: Danger = { kind: 'offset', field: 'x', text: 'Much.' }
  it('lets pass what is no danger, and a danger for a reason, both in words', () => {
    expect(passGate([], undefined)).toEqual([])
    expect(passGate([asked], ' on purpose ')).toEqual([{ act: 'a large offset', text: 'on purpose (Much.)' }])
  })
  it.each([
    ['without a reason', [asked], undefined, true],
    ['with an empty one', [asked], '  ', true],
    ['never, whatever is said', [asked, { ...asked, never: true } as Danger], 'on purpose', false],
  ])('refuses %s', (_what, dangers, reason, asks) => {
    let refusal: unknown
    try {
      passGate(dangers, reason, 'revisions[2].')
    } catch (error) {
      refusal = error
    }
    expect(refusal).toMatchObject({ code: 'offset', title: 'A large offset' })
    const { faults } = refusal as Refusal
    expect(asksForReason(refusal as Refusal)).toBe(asks)
    expect(faults[0]!.field).toBe(asks ? 'revisions[2].override' : 'revisions[2].x')
  })
})

describe('a wanted mixture', () => {
  const zoned = (fromLoad: number, toLoad: number, lambda: number) => ({
    ...DEFAULT_TARGET,
    zones: [{ fromRpm: 4130, toRpm: 4170, fromLoad, toLoad, lambda }],
  })
  it('of no preset is too lean, nor the usual one of any carburettor', () => {
    for (const { id } of TARGET_PRESETS) expect(leanTargets(null, { preset: id, zones: [] })).toEqual([])
    for (const kind of CARBURETTOR_KINDS) {
      const targets = usualTargets(kind).map((one) => one.lambda)
      const jetting = { ...DEFAULT_JETTING, body: { ...DEFAULT_JETTING.body, kind }, targets }
      expect(leanTargets(null, jobTarget({ mixture: { target: DEFAULT_TARGET } as never, jetting }))).toEqual([])
    }
  })
  it.each([
    ['under load, in a zone between all points looked at', zoned(71, 73, 0.96), 1],
    ['the same at 0.95', zoned(71, 73, 0.95), 0],
    ['at a cruise that is lean but usual', zoned(10, 30, 1.05), 0],
    ['at a cruise that stumbles', zoned(10, 30, 1.2), 1],
  ])('%s', (_what, target, found) => expect(leanTargets(null, target)).toHaveLength(found))
  it('that was as lean before is not asked about again; a leaner one is', () => {
    expect(leanTargets(zoned(80, 90, 1), zoned(80, 90, 1))).toEqual([])
    expect(leanTargets(zoned(80, 90, 1), zoned(80, 90, 0.97))).toEqual([])
    expect(kinds(leanTargets(zoned(80, 90, 1), zoned(80, 90, 1.01)))).toEqual(['lean target'])
  })
})

describe('first values', () => {
  const table = (kind: Table['kind'], values: number[][]): Table => ({
    kind,
    composition: 'multiply',
    loadAxis: 'throttle',
    rpm: [1700, 6100],
    load: [4, 83],
    values,
  })
  it.each<[string, Table, string[]]>([
    [
      'no fuel',
      table('fuel base', [
        [3, 3],
        [4, 0],
      ]),
      ['values[1][1]'],
    ],
    [
      'none on the overrun alone',
      table('fuel base', [
        [0, 0],
        [4, 5],
      ]),
      [],
    ],
    [
      'advance that no engine has',
      table('spark base', [
        [30, 40],
        [70, 30],
      ]),
      ['values[1][0]'],
    ],
    [
      'a part-throttle advance',
      table('spark base', [
        [50, 52],
        [30, 30],
      ]),
      [],
    ],
    [
      'a trim that is an injector',
      table('fuel trim', [
        [0, -45],
        [0, 0],
      ]),
      ['values[0][1]'],
    ],
    [
      'a lean target under load',
      table('lambda target', [
        [1, 1.1],
        [0.9, 1.2],
      ]),
      ['values[1][1]'],
    ],
    [
      'a plate',
      table('plate', [
        [0, 0],
        [100, 100],
      ]),
      [],
    ],
  ])('%s', (_what, one, fields) => {
    expect(firstValues(one, '').flatMap((danger) => danger.lines!.map((line) => line.field))).toEqual(fields)
  })
})

describe('limits', () => {
  it('that are drawn in, or set back to the usual, are none', () => {
    expect(loosenedLimits(DEFAULT_SAFETY, DEFAULT_SAFETY, { lean: 1.04, knock: 1, rpm: 9000 })).toEqual([])
    const strict = { ...DEFAULT_SAFETY, lean: 1.02 }
    expect(loosenedLimits(strict, DEFAULT_SAFETY, { lean: 1.08 })).toEqual([])
    expect(kinds(loosenedLimits(strict, DEFAULT_SAFETY, { lean: 1.09 }))).toEqual(['limit loosened'])
  })
  it('of the machine: a ceiling raised or taken away, licensed work opened', () => {
    const before = { revCeiling: 8200, licensed: true }
    expect(kinds(loosenedMachine(before, { revCeiling: 8300, licensed: true }))).toHaveLength(1)
    expect(kinds(loosenedMachine(before, {}))).toHaveLength(2)
    expect(loosenedMachine(before, { revCeiling: 7900, licensed: true })).toEqual([])
    expect(loosenedMachine(undefined, { revCeiling: 7900 })).toEqual([])
    expect(loosenedMachine(before, undefined)).toEqual([])
  })
})

describe('hands at the bench', () => {
  const on: RigControls = { ...RESTING, ignition: true, fuel: true, throttle: 40 }
  it('that go back from a large offset are not asked', () => {
    const far = { ...on, throttle: 80, sparkOffset: 12 }
    expect(kinds(controlDangers(on, far, 80))).toEqual(['offset'])
    expect(controlDangers(far, { ...far, sparkOffset: 9 }, 80)).toEqual([])
    expect(kinds(controlDangers(far, { ...far, sparkOffset: 13 }, 80))).toEqual(['offset'])
  })
  it('opening on an offset that was small enough before is asked about', () => {
    const lean = { ...on, fuelOffset: -9 }
    expect(controlDangers(on, lean, 80)).toEqual([])
    expect(kinds(controlDangers(lean, { ...lean, throttle: 75 }, 80))).toEqual(['offset'])
  })
  it('a cold engine is not opened wide; a standing one may be, to calibrate its sensor', () => {
    expect(controlDangers(on, { ...on, throttle: 88 }, 41)).toMatchObject([{ never: true }])
    expect(controlDangers(on, { ...on, throttle: 88 }, 61)).toEqual([])
    expect(controlDangers(RESTING, { ...RESTING, throttle: 100 }, 3)).toEqual([])
    expect(controlDangers({ ...RESTING, throttle: 100 }, { ...on, throttle: 100 }, 3)).toHaveLength(1)
  })
})

describe('scripts', () => {
  it('of every usual spark plan pass', () => {
    for (const choice of [
      { step: 2, below: 2, above: 3 },
      { step: 1, below: 3, above: 5 },
      { step: 3, below: 2, above: 3 },
    ]) {
      const script = { kind: 'spark step', stop: 100, rpm: 6200, seconds: 4, gear: 4 } as const
      expect(scriptDangers({ ...script, offsets: safeOffsets(choice) }, 84, Infinity)).toEqual([])
    }
  })
  it.each([
    ['begins lean', [-8, 0]],
    ['goes far lean', [0, -6, -14]],
    ['jumps', [20, -7]],
  ])('a mixture step that %s is asked about', (_what, offsets) => {
    const script = { kind: 'mixture step', stop: 30, rpm: 4100, seconds: 4, gear: 4, offsets } as const
    expect(kinds(scriptDangers(script, 84, Infinity))).toEqual(['offset'])
  })
  it('above the ceiling are refused, whichever way they go', () => {
    const sweep = { kind: 'sweep', stop: 30, fromRpm: 9100, toRpm: 3000, rate: 400, gear: 4 } as const
    expect(scriptDangers(sweep, 84, 9000)).toMatchObject([{ kind: 'above the ceiling', never: true }])
    expect(scriptDangers(sweep, 84, 9100)).toEqual([])
    expect(scriptDangers({ kind: 'hold', stop: 30, rpm: 9200, seconds: 3, gear: 4 }, 84, 9100)).toHaveLength(1)
    expect(scriptDangers({ kind: 'warm-up', coolantC: 80 }, 3, 100)).toEqual([])
  })
})

describe('what comes from outside', () => {
  const at = (minute: number): string => `2026-05-04T09:${String(minute).padStart(2, '0')}:00.000Z`
  const table: Table = {
    kind: 'fuel base',
    composition: 'multiply',
    loadAxis: 'throttle',
    rpm: [2300, 7700],
    load: [17, 88],
    values: [],
  }
  const all = (value: number): number[][] => [
    [value, value],
    [value, value],
  ]
  const state = (n: number, value: number, override: string | null = null) => ({
    n,
    createdAt: at(10 * n),
    values: all(value),
    override,
  })
  it('a history is judged as it was when it was saved', () => {
    // In steps with runs between them.
    const runs = [15, 25].map((minute) => ({ createdAt: at(minute), revision: null }))
    const steps = [state(1, 50), state(2, 49), state(3, 48)]
    expect(historyDangers(table, 'T', steps, runs)).toEqual([])
    // The same without a run between: too far from the first.
    expect(historyDangers(table, 'T', steps, runs.slice(0, 1))).toMatchObject([
      { kind: 'fuel step', field: 'revisions[2].values' },
    ])
    // A run that claims a state younger than itself makes no ground.
    const claimed = [{ createdAt: at(5), revision: 2 }]
    expect(historyDangers(table, 'T', steps, claimed)).toHaveLength(1)
  })
  it('a step with a reason passes, a cut without one is named', () => {
    expect(historyDangers(table, 'T', [state(1, 50), state(2, 20, 'smaller engine')], [])).toEqual([])
    const [danger] = historyDangers(table, 'T', [state(1, 50), state(2, 20)], [])
    expect(danger!.text).toMatch(/^Revision 2 of "T" gives no reason: 4 cells move far from revision 1/)
  })
  it('a run is not taken for made on a state younger than itself', () => {
    const info = { id: 't', name: 'T', revisions: [state(1, 1), state(2, 1)] } as never as Parameters<
      typeof madeLater
    >[1][0]
    const run = { name: 'R', createdAt: at(15), revisions: {} }
    expect(madeLater(run, [info], { t: 1 })).toEqual([])
    expect(kinds(madeLater(run, [info], { t: 2 }))).toEqual(['made on a younger state'])
    // The state that it counts for by itself, where the table came later than the run.
    expect(madeLater({ ...run, createdAt: at(1) }, [info], { t: 1 })).toEqual([])
  })
  it('hardware and shelf', () => {
    expect(hardwareDangers({ what: 'injectors', factor: 0.5 })).toHaveLength(1)
    expect(hardwareDangers({ what: 'injectors', factor: 0.97 })).toEqual([])
    const proven = { runs: 0, rmsPct: null, worstPct: null }
    expect(unprovenStart({ name: 'S', table, proven })).toHaveLength(1)
    expect(unprovenStart({ name: 'S', table: null, proven })).toEqual([])
    expect(unprovenStart({ name: 'S', table, proven: { ...proven, runs: 4 } })).toEqual([])
  })
})
