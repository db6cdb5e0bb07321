import { isRefusal, type Refusal } from '../refusal/refusal'
import { controlsSchema, scriptSchema } from './bench'
import { fieldAnswer } from '../question/fieldAnswer'
import { fieldRuns, fieldSet } from '../question/fieldRuns'
import { settleFieldOptions, type FieldContext } from '../question/settleFieldOptions'
import { assembleRun, knownBeside, channelsFor, isLeftOut } from '../run/runColumns'
import { weatherSchema } from './air'
import { checkInput } from './checkInput'
import { compareRequestSchema } from './compare'
import { changeRequestSchema, fieldRequestSchema } from './field'
import { jobChangeSchema, jobFields, newJobSchema } from './job'
import { DEFAULT_TARGET } from '../field/target'
import { DEFAULT_MIXTURE, targetChoiceSchema } from './mixture'
import { planSchema } from './plan'
import type { RunInfo } from '../run/runInfo'
import { checkMapping, handReadingsSchema, leftOutSchema, runChangeSchema } from './run'
import { newSetSchema } from './set'
import { newRevisionSchema, newTableSchema } from './table'
import { DEFAULT_PLAN } from '../plan/choice'
import { GRID, knownCase, knownRuns } from '../../trials/knownTruthLog'
import { estimateField } from '../field/estimate'
import { DEFAULT_FIELD_OPTIONS } from '../field/field'

type Schema = Parameters<typeof checkInput>[0]
/** Fields at fault, or none. */
function faultsOf(schema: Schema, value: unknown): string[] {
  try {
    checkInput(schema, value)
    return []
  } catch (error) {
    if (isRefusal(error, 'input-refused')) return [...new Set(error.faults.map((fault) => fault.field!))]
    throw error
  }
}

describe('what is taken at the door', () => {
  it.each<[string, Schema, unknown]>([
    ['a job with only a title', newJobSchema, { title: 'x' }],
    [
      'a job with everything',
      newJobSchema,
      {
        title: 'x',
        machine: { name: 'Curlew', cylinders: 1, displacementCc: 437, strokes: 4 },
        fuel: { id: 'custom', stoichAfr: 13.2 },
        gaugeScale: 14.7,
        use: 'track',
        plan: DEFAULT_PLAN,
        power: { correction: 'iso-1585', smoothing: 200 },
        mixture: DEFAULT_MIXTURE,
      },
    ],
    ['nothing to change', jobChangeSchema, {}],
    ['a field of everything there is', fieldRequestSchema, {}],
    [
      'a field with a matrix for target',
      fieldRequestSchema,
      {
        rpm: [1000, 2000],
        load: [0, 50],
        target: [
          [0.9, 0.9],
          [0.88, 0.88],
        ],
      },
    ],
    ['a change', changeRequestSchema, { table: 'a', limits: { richest: 10, fill: true } }],
    ['a revision', newRevisionSchema, { values: [[1]], reason: 'x', parent: 1 }],
    ['a run left out in a band', runChangeSchema, { leftOut: { fromRpm: 3000, toRpm: 4000, reason: 'slip' } }],
    ['a set with a name', newSetSchema, { name: 'Baffle out' }],
    [
      'a set with weather',
      newSetSchema,
      { name: 'x', weather: { temperatureC: 20, pressureKpa: 100, humidityPct: 40 } },
    ],
    ['a set without weather', newSetSchema, { name: 'x', weather: null, figures: null }],
    ['a comparison', compareRequestSchema, { first: ['a'], second: 'b', stop: 100, quantity: 'torque' }],
    ['readings', handReadingsSchema, { readings: [{ rpm: 3000, load: 20, readings: ['13', ''] }] }],
    ['a brake that sweeps', controlsSchema, { brake: { kind: 'sweep', toRpm: 8000, rate: 500 } }],
    ['no control at all', controlsSchema, {}],
    ['a hold', scriptSchema, { kind: 'hold', stop: 20, rpm: 4000, seconds: 5, gear: 3 }],
  ])('%s', (_name, schema, value) => expect(faultsOf(schema, value)).toEqual([]))

  it.each<[string, Schema, unknown, string[]]>([
    ['a job without a title', newJobSchema, {}, ['title']],
    ['a blank title', newJobSchema, { title: '' }, ['title']],
    ['numbers as text', newJobSchema, { title: 'x', gaugeScale: '14.7' }, ['gaugeScale']],
    ['a custom fuel without its ratio', newJobSchema, { title: 'x', fuel: { id: 'custom' } }, ['fuel.stoichAfr']],
    ['a field nobody knows, deep inside', newJobSchema, { title: 'x', machine: { wheels: 2 } }, ['machine.wheels']],
    ['a correction that is none', jobFields.power, { correction: 'mine', smoothing: 100 }, ['correction']],
    ['one breakpoint', fieldRequestSchema, { rpm: [1000] }, ['rpm']],
    ['a lambda that is none', fieldRequestSchema, { target: 9 }, ['target']],
    ['a table without its values', newTableSchema, { name: 'x' }, ['table']],
    ['a revision without a reason', newRevisionSchema, { values: [[1]], parent: 1 }, ['reason']],
    [
      'a zone of a target that ends below where it begins',
      targetChoiceSchema,
      {
        preset: DEFAULT_TARGET.preset,
        zones: [{ fromRpm: 5000, toRpm: 3000, fromLoad: 40, toLoad: 20, lambda: 0.9 }],
      },
      ['zones[0].toRpm', 'zones[0].toLoad'],
    ],
    ['a band with one end', leftOutSchema, { fromRpm: 3000, toRpm: null, reason: 'x' }, ['body']],
    ['weather in hPa', weatherSchema, { temperatureC: 20, pressureKpa: 1013, humidityPct: 40 }, ['pressureKpa']],
    ['weather with a part missing', weatherSchema, { temperatureC: 20, humidityPct: 40 }, ['pressureKpa']],
    ['a plan whose span is none', planSchema, { ...DEFAULT_PLAN, fromRpm: 5000, toRpm: 5100 }, ['toRpm']],
    ['a plan without a kind', planSchema, { ...DEFAULT_PLAN, kinds: [] }, ['kinds']],
    [
      'a comparison of nothing',
      compareRequestSchema,
      { first: [], second: 'b', stop: 100, quantity: 'torque' },
      ['first'],
    ],
    [
      'five banks',
      handReadingsSchema,
      { readings: [{ rpm: 1, load: 1, readings: ['', '', '', '', ''] }] },
      ['readings[0].readings'],
    ],
    ['a throttle beyond open', controlsSchema, { throttle: 120 }, ['throttle']],
    ['a brake that is none', controlsSchema, { brake: { kind: 'rub' } }, ['brake.kind']],
    ['a script that is none', scriptSchema, { kind: 'wheelie' }, ['kind']],
    [
      'a sweep without its end',
      scriptSchema,
      { kind: 'sweep', stop: 20, fromRpm: 3000, rate: 500, gear: 3 },
      ['toRpm'],
    ],
  ])('%s is refused by name', (_name, schema, value, fields) => expect(faultsOf(schema, value)).toEqual(fields))

  it('a mapping names the header at fault', () => {
    expect(checkMapping({ a: { channel: 'rpm', unit: '' }, b: null })).toEqual({
      a: { channel: 'rpm', unit: '' },
      b: null,
    })
    for (const [raw, field] of [
      [[], 'mapping'],
      [{ a: { channel: 3, unit: '' } }, 'mapping["a"].channel'],
      [{ a: { channel: 'rpm' } }, 'mapping["a"].unit'],
    ] as const) {
      try {
        checkMapping(raw)
        throw new Error('was taken')
      } catch (error) {
        expect((error as Refusal).faults[0]!.field).toBe(field)
      }
    }
  })
})

const run = (over: Partial<RunInfo>): RunInfo => ({
  id: 'r',
  job: 'j',
  name: 'r',
  kind: 'sweep',
  samples: 3,
  duration: 1,
  channels: ['time', 'rpm', 'throttle', 'lambda1', 'torque'].map((channel) => ({
    channel,
    unit: '',
    count: 3,
    min: 0,
    max: 1,
  })),
  warnings: [],
  gaugeScale: null,
  set: 'a',
  sensorPlace: null,
  facts: null,
  leftOut: null,
  without: null,
  stretches: null,
  readAs: null,
  setting: null,
  revisions: {},
  createdAt: '',
  ...over,
})

describe('which runs make the field', () => {
  const blind = run({ id: 'blind', set: 'c', channels: run({}).channels.slice(0, 3) })
  const runs = [run({ id: '1' }), run({ id: '2', set: 'b' }), blind]
  const sets = [{ id: 'a' }, { id: 'b' }, { id: 'c' }]
  it('those of the newest set that tells a mixture, or of the one chosen', () => {
    expect(fieldSet(DEFAULT_MIXTURE, sets, runs)).toBe('b')
    expect(fieldSet({ ...DEFAULT_MIXTURE, set: 'a' }, sets, runs)).toBe('a')
    expect(fieldSet({ ...DEFAULT_MIXTURE, set: 'gone' }, sets, runs)).toBe('b')
    expect(fieldSet(DEFAULT_MIXTURE, sets, [blind])).toBeNull()
  })
  it('without what was left out, by choice or by judgement', () => {
    const whole = { fromRpm: null, toRpm: null, reason: 'cold' }
    const some = [
      run({ id: '1' }),
      run({ id: '2' }),
      run({ id: '3', leftOut: whole }),
      run({ id: '4', leftOut: { fromRpm: 1, toRpm: 2, reason: 'x' } }),
    ]
    const chosen = fieldRuns({ ...DEFAULT_MIXTURE, runsLeftOut: ['2'] }, 'a', some)
    expect(chosen.map((one) => one.id)).toEqual(['1', '4'])
    expect(some.map(isLeftOut)).toEqual([false, false, true, false])
  })
})

describe('columns of a run', () => {
  it('only those that are there and wanted, with what is known beside them', () => {
    expect(channelsFor(run({}), 'field')).toEqual(['time', 'rpm', 'throttle', 'lambda1', 'torque'])
    expect(channelsFor(run({}), 'curves')).toContain('torque')
    const known = run({ sensorPlace: 'tailpipe', leftOut: { fromRpm: 3000, toRpm: 4000, reason: 'slip' } })
    const made = assembleRun(known, (channel) => (channel === 'torque' ? null : Float32Array.of(1, 2, 3)))
    expect(made).toMatchObject({ id: 'r', sensorPlace: 'tailpipe', leftOut: { fromRpm: 3000, toRpm: 4000 } })
    expect(made.lambda).toHaveLength(4)
    expect('torque' in made).toBe(false)
    expect(knownBeside(run({}))).toEqual({})
  })
})

describe('options of a field', () => {
  const context = (over: Partial<FieldContext> = {}): FieldContext => ({
    mixture: DEFAULT_MIXTURE,
    target: DEFAULT_MIXTURE.target,
    table: null,
    highestRpm: 9300,
    revCeiling: null,
    hasThrottle: true,
    ...over,
  })
  it('come from the request, else from the job, else from its table, else usual ones', () => {
    expect(settleFieldOptions({}, context()).grid.rpm.at(-1)).toBe(9500)
    const table = { loadAxis: 'throttle' as const, rpm: [1000, 5000], load: [0, 100] }
    expect(settleFieldOptions({}, context({ table })).grid).toEqual(table)
    const breakpoints = { loadAxis: 'throttle' as const, rpm: [2000, 6000], load: [10, 90] }
    expect(settleFieldOptions({}, context({ table, mixture: { ...DEFAULT_MIXTURE, breakpoints } })).grid).toEqual(
      breakpoints,
    )
    const asked = settleFieldOptions(
      { rpm: [1500, 2500], target: 0.9, lagMs: 180, options: { alpha: 0.1 } },
      context({ table }),
    )
    expect(asked).toMatchObject({
      lag: 0.18,
      solve: { alpha: 0.1 },
      target: [
        [0.9, 0.9],
        [0.9, 0.9],
      ],
    })
  })
  it('without a throttle the rows are manifold pressure', () => {
    expect(settleFieldOptions({}, context({ hasThrottle: false })).grid.loadAxis).toBe('manifold')
  })
  it('that do not fit are refused by name', () => {
    for (const [request, field] of [
      [{ rpm: [3000, 2000] }, 'rpm'],
      [{ target: [[0.9]] }, 'target'],
    ] as const) {
      expect(() => settleFieldOptions(request as never, context())).toThrow(
        expect.objectContaining({ code: 'input-refused' }),
      )
      try {
        settleFieldOptions(request as never, context())
      } catch (error) {
        expect((error as Refusal).faults[0]!.field).toBe(field)
      }
    }
  })
  it('the answer carries milliseconds and nulls, and nothing of the inside', () => {
    const c = knownCase(1, { stops: [40], repeats: 2, misfire: null })
    const answer = fieldAnswer(estimateField(knownRuns(c), { ...DEFAULT_FIELD_OPTIONS, grid: GRID, target: c.target }))
    expect(answer.lagMs).toBeGreaterThan(150)
    expect(answer.cylinders[0]).not.toHaveProperty('noise')
    expect(answer.cylinders[0]!.changePct.flat()).toContain(null)
    expect(JSON.stringify(answer)).not.toMatch(/NaN|Infinity/)
  })
})
