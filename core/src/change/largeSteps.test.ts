import type { Matrix, Table } from '../table/table'
import { dependsOnLean, largeSteps, largeStepsText, type StepGround } from './largeSteps'

const FUEL: Table = {
  loadAxis: 'throttle',
  rpm: [2000, 4000, 6000],
  load: [20, 60, 80],
  kind: 'fuel base',
  composition: 'multiply',
  values: [100, 100, 100].map((value) => [value, value, value]),
}
const SPARK: Table = {
  ...FUEL,
  kind: 'spark base',
  composition: 'add',
  values: FUEL.values.map((row) => row.map(() => 20)),
}

/** A table with one cell changed. */
const withCell = (table: Table, value: number, row = 0, column = 0): Table => ({
  ...table,
  values: table.values.map((cells, r) => cells.map((cell, k) => (r === row && k === column ? value : cell))),
})
const ground = (table: Table, over: Partial<StepGround> = {}): StepGround => ({
  measured: table,
  parent: table,
  ...over,
})
const sizes = (after: Table, over: Partial<StepGround> = {}, table = FUEL): number[] =>
  largeSteps(after, ground(table, over)).map((step) => Math.round(10 * step.size) / 10)
const LEAN = FUEL.values.map((row) => row.map(() => true))

describe('large steps of fuel', () => {
  it.each([
    ['4 % leaner at small load', 96, 0, []],
    ['4.2 % leaner', 95.8, 0, [-4.2]],
    ['4 % leaner from 70 % load', 96, 2, [-4]],
    ['2.5 % leaner from 70 % load', 97.5, 2, []],
    ['25 % richer', 125, 2, []],
    ['25.2 % richer', 125.2, 0, [25.2]],
    ['no fuel at all', 0, 1, [-100]],
  ])('%s', (_what, value, row, large) => expect(sizes(withCell(FUEL, value, row))).toEqual(large))

  it('a cell that reads lean already may go 2.5 % leaner at any load, and it is told when that matters', () => {
    expect(sizes(withCell(FUEL, 97))).toEqual([])
    expect(sizes(withCell(FUEL, 97), { lean: LEAN })).toEqual([-3])
    expect(dependsOnLean(withCell(FUEL, 97), ground(FUEL))).toBe(true)
    expect(dependsOnLean(withCell(FUEL, 99), ground(FUEL))).toBe(false)
    expect(dependsOnLean(withCell(FUEL, 130), ground(FUEL))).toBe(false)
  })
  it('ten small saves do not pass: the measured state counts, not the one before', () => {
    const parent = withCell(FUEL, 96)
    expect(sizes(withCell(FUEL, 92.5), { parent })).toEqual([-7.5])
    // Left as it was, or on its way back, it is not asked about again.
    const far = withCell(FUEL, 90)
    expect(sizes(far, { parent: far })).toEqual([])
    expect(sizes(withCell(FUEL, 93), { parent: far })).toEqual([])
  })
  it('a trim counts by the fuel, with its global percent', () => {
    const trim: Table = {
      ...FUEL,
      kind: 'fuel trim',
      composition: 'add',
      values: FUEL.values.map((row) => row.map(() => 20)),
    }
    // 15 in a cell of 20 is 1.15 / 1.20.
    expect(sizes(withCell(trim, 15), {}, trim)).toEqual([-4.2])
    expect(sizes({ ...trim, global: 40 }, {}, trim)).toHaveLength(9)
  })
  it('fuel where there was none is as far as can be', () => {
    const empty = withCell(FUEL, 0)
    expect(sizes(withCell(empty, 5), {}, empty)).toEqual([Infinity])
  })
  it('a declared change of hardware is taken out: injectors that give a quarter more want a fifth less', () => {
    const after = { ...FUEL, values: FUEL.values.map((row) => row.map(() => 80)) }
    expect(sizes(after)).toHaveLength(9)
    expect(sizes(after, { hardware: 0.8 })).toEqual([])
    expect(sizes(withCell(after, 70), { hardware: 0.8 })).toEqual([-12.5])
  })
  it('are told in words, the largest first, and how many more', () => {
    const values: Matrix = FUEL.values.map((row, r) => row.map((cell, k) => cell - 10 - r - k))
    expect(largeStepsText(largeSteps({ ...FUEL, values }, ground(FUEL)), 'revision 2')).toMatch(
      /^9 cells move far from revision 2: 6\s000 rpm, load 80: −14.0 %, at most −2.5 %;.*and 3 more.*destroys pistons/,
    )
  })
})

describe('large steps of spark', () => {
  it.each([
    [21.5, []],
    [21.6, [1.6]],
    [16, []],
    [15.5, [-4.5]],
  ])('20 to %d', (value, large) => expect(sizes(withCell(SPARK, value), {}, SPARK)).toEqual(large))
  it('are told in words', () => {
    expect(largeStepsText(largeSteps(withCell(SPARK, 24), ground(SPARK)), 'revision 1')).toMatch(
      /^1 cell moves far from revision 1: 2\s000 rpm, load 20: \+4.0 °, at most \+1.5 °.*knock/,
    )
  })
})

it('other tables have none', () =>
  expect(largeSteps(withCell({ ...FUEL, kind: 'plate' }, 0), ground({ ...FUEL, kind: 'plate' }))).toEqual([]))
