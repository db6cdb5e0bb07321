import { changedByZone } from './changedByZone'
import { figureFrom, pointedAt } from './reportFigure'
import { curveWords, reportCurves } from './reportCurves'
import { USUAL_UNITS } from '../words/units'
import type { Table } from '../table/table'

describe('a JSON pointer', () => {
  // The examples of RFC 6901, section 5.
  const example = {
    foo: ['bar', 'baz'],
    '': 0,
    'a/b': 1,
    'c%d': 2,
    'e^f': 3,
    'g|h': 4,
    'i\\j': 5,
    'k"l': 6,
    ' ': 7,
    'm~n': 8,
  }
  it.each([
    ['', example],
    ['/foo', ['bar', 'baz']],
    ['/foo/0', 'bar'],
    ['/', 0],
    ['/a~1b', 1],
    ['/c%d', 2],
    ['/e^f', 3],
    ['/g|h', 4],
    ['/i\\j', 5],
    ['/k"l', 6],
    ['/ ', 7],
    ['/m~0n', 8],
    ['/nothing/here', undefined],
  ])('%j', (at, value) => expect(pointedAt(example, at)).toEqual(value))
  it('makes a figure of a number only', () => {
    const source = { method: 'GET' as const, path: '/x', body: null, answer: { a: 1.23456789, b: null, low: 1 } }
    expect(figureFrom(source, '/a', '%', { low: '/low', high: '/none' })).toEqual({
      value: 1.23456789,
      unit: '%',
      low: 1,
      high: null,
      from: { method: 'GET', path: '/x', body: null, at: '/a' },
    })
    expect(figureFrom(source, '/b', '%')).toBeNull()
  })
})

describe('what was changed, by zone', () => {
  const table = (kind: Table['kind'], values: number[][]): Table =>
    ({ kind, composition: 'multiply', loadAxis: 'throttle', rpm: [2000, 4000], load: [2, 20, 100], values }) as Table
  it('percent of fuel of a base and of a trim, degrees of spark; only cells that moved', () => {
    const first = [
      [10, 10],
      [10, 10],
      [10, 20],
    ]
    const last = [
      [10, 10],
      [11, 10],
      [10, 19],
    ]
    expect(changedByZone(table('fuel base', first), table('fuel base', last)).zones).toEqual([
      { zone: 'cruise', cells: 1, largest: expect.closeTo(10, 9), typical: expect.closeTo(10, 9) },
      { zone: 'full throttle', cells: 1, largest: expect.closeTo(-5, 9), typical: expect.closeTo(-5, 9) },
    ])
    expect(changedByZone(table('fuel trim', first), table('fuel trim', last)).zones[1]).toMatchObject({
      largest: expect.closeTo(100 * (1.19 / 1.2 - 1), 9),
    })
    // From 1.20 to 1.32 is 10 % more fuel.
    const twenty = first.map((row) => row.map(() => 20))
    const more = first.map((row) => row.map(() => 32))
    expect(changedByZone(table('fuel trim', twenty), table('fuel trim', more)).zones[0]!.largest).toBeCloseTo(10, 9)
    expect(changedByZone(table('spark base', first), table('spark base', last)).unit).toBe('°')
    expect(changedByZone(table('fuel base', first), table('fuel base', first)).zones).toEqual([])
  })
})

describe('the curves of a report', () => {
  const power = {
    before: 'Before',
    after: 'After',
    quantity: 'power',
    unit: 'kW',
    stop: 100,
    rpm: [2000, 3000, 4000, 5000],
    first: [null, 10, 20, 30],
    second: [5, 12, null, 33],
    real: [true, true, true, true],
    gains: [],
    refused: [],
  }
  it('lie in their box, break where nothing is known, and shade only what both reach', () => {
    const { first, second, real, width, height } = reportCurves(power, USUAL_UNITS, 300, 100)!
    expect(first.match(/M/g)).toHaveLength(1)
    expect(second.match(/M/g)).toHaveLength(2)
    expect(real).toBe('')
    for (const [, x, y] of `${first} ${second}`.matchAll(/[ML]([\d.]+) ([\d.]+)/g)) {
      expect(Number(x)).toBeLessThanOrEqual(width)
      expect(Number(y)).toBeLessThanOrEqual(height)
    }
  })
  it('of three states have a band each and a line of its own, in the units of who reads', () => {
    const state = (name: string, by: number) => {
      const mean = [5, 12, 20, 30].map((one) => one + by)
      return { name, runs: 3, rpm: power.rpm, mean, low: mean.map((one) => one - 1), high: mean.map((one) => one + 1) }
    }
    const states = [state('Before', 0), state('Short pipe', 2), state('After', 4)]
    const inHp = reportCurves({ ...power, states }, { ...USUAL_UNITS, power: 'hp', torque: 'lb·ft' }, 300, 100)!
    const inKw = reportCurves({ ...power, states }, USUAL_UNITS, 300, 100)!
    expect([inHp.unit, inKw.unit]).toEqual(['hp', 'kW'])
    expect(inKw.bands.map((band) => band.match(/Z/g)!.length)).toEqual([3, 3, 3])
    expect(inKw.between).toHaveLength(1)
    // The same lines, against another axis.
    expect(inHp.between).toEqual(inKw.between)
    expect(Number(inHp.yTicks.at(-1)!.text)).toBeGreaterThan(Number(inKw.yTicks.at(-1)!.text))
    expect(curveWords({ ...power, states })).toContain('Dotted: Short pipe.')
  })
  it('are none where nothing is known', () => {
    expect(
      reportCurves({ ...power, first: [null, null, null, null], second: [null, null, 4, null] }, USUAL_UNITS, 300, 100),
    ).toBeNull()
  })
})
