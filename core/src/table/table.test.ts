import fc from 'fast-check'
import { cellsToText } from './cells'
import { readNumber } from '../numbers/typed'
import { tableFromCsv, tableToCsv } from '../contract/tableCsv'
import { addToCells, difference, editCells, evenOut, holdTop, keepSame, scaleCells, straightLine } from './edits'
import { checkTable, tableFromJson, tableToJson } from '../contract/tableJson'
import { pasteCells } from './paste'
import { interpolate, locate, nearest } from './lookup'
import { breakpointFault, shapeFault, type Table } from './table'

const table: Table = {
  kind: 'fuel trim',
  composition: 'multiply',
  loadAxis: 'throttle',
  rpm: [1000, 2000, 4000],
  load: [0, 20, 100],
  values: [
    [0, 1, 2],
    [3, 4, 5],
    [6, 7, 8.25],
  ],
}
const all = { row0: 0, column0: 0, row1: 2, column1: 2 }

describe('look-up', () => {
  it('gives nodes their own value, the middle its mean, and holds the ends', () => {
    expect(interpolate(table, table.values, 2000, 20)).toBe(4)
    expect(interpolate(table, table.values, 1500, 10)).toBe(2)
    expect(interpolate(table, table.values, -5, -5)).toBe(0)
    expect(interpolate(table, table.values, 9999, 9999)).toBe(8.25)
  })
  it('locates any value between its neighbours', () => {
    fc.assert(
      fc.property(
        fc.uniqueArray(fc.integer({ min: 0, max: 20000 }), { minLength: 2, maxLength: 40 }),
        fc.double({ min: -10, max: 20010, noNaN: true }),
        (points, value) => {
          const rising = [...points].sort((a, b) => a - b)
          const [index, fraction] = locate(rising, value)
          const back = rising[index]! + fraction * (rising[index + 1]! - rising[index]!)
          expect(back).toBeCloseTo(Math.min(rising.at(-1)!, Math.max(rising[0]!, value)), 6)
        },
      ),
    )
  })
  it('finds the nearest breakpoint and holds a value beyond the last', () => {
    expect([900, 1499, 1501, 5000].map((rpm) => nearest(table.rpm, rpm))).toEqual([0, 0, 1, 2])
    expect(interpolate(table, table.values, 3000, 100)).toBe(7.625)
    expect(interpolate(table, table.values, 99999, 999)).toBe(table.values.at(-1)!.at(-1))
  })
})

describe('edits', () => {
  it('add and scale only the selection and leave the old values as they were', () => {
    const before = JSON.stringify(table.values)
    const selection = { row0: 2, column0: 1, row1: 1, column1: 1 }
    expect(addToCells(table.values, selection, -1)[1]).toEqual([3, 3, 5])
    expect(scaleCells(table.values, selection, 50)[2]).toEqual([6, 10.5, 8.25])
    expect(JSON.stringify(table.values)).toBe(before)
  })
  it('draws a straight line by breakpoint distance', () => {
    const line = straightLine(table, table.values, { row0: 0, column0: 0, row1: 0, column1: 2 })
    expect(line[0]![1]).toBeCloseTo(2 / 3, 12)
    const plane = table.load.map((load) => table.rpm.map((rpm) => 0.01 * rpm + 0.2 * load))
    straightLine(table, plane, all)
      .flat()
      .forEach((value, k) => expect(value).toBeCloseTo(plane.flat()[k]!, 9))
  })
  it('evens out toward the neighbours and keeps a flat field flat', () => {
    const spiky = [
      [0, 0, 0],
      [0, 8, 0],
      [0, 0, 0],
    ]
    expect(evenOut(spiky, all)[1]![1]).toBe(4)
    const flat = editCells(spiky, all, () => 3)
    expect(evenOut(flat, all)).toEqual(flat)
  })
  it('holds the top rows flat', () => {
    expect(holdTop(table.values, 1)).toEqual([
      [0, 1, 2],
      [3, 4, 5],
      [3, 4, 5],
    ])
  })
  it('a table that was written and read back is the same but for what was changed', () => {
    const saved = [[1 / 3, 11.000000000000002, 0]]
    expect(keepSame([[0.3333333333, 11, 0]], saved)).toEqual(saved)
    expect(keepSame([[0.3334, 11, 1e-3]], saved)).toEqual([[0.3334, 11.000000000000002, 1e-3]])
  })
  it('takes differences', () => {
    expect(difference([[1, 2]], [[3, 1]])).toEqual([[2, -1]])
  })
})

describe('cells of a spreadsheet', () => {
  it('come back as they went, highest load first', () => {
    const text = cellsToText(table.values, 6)
    expect(text.split('\n')[0]).toBe('6\t7\t8.25')
    const empty = table.values.map((row) => row.map(() => 0))
    const top = { row0: 2, column0: 0, row1: 2, column1: 0 }
    expect(pasteCells(table, empty, top, text).values).toEqual(table.values)
  })
  it.each([
    ['−3', -3],
    ['+2,5', 2.5],
    [' 12 % ', 12],
    ['1e2', 100],
    ['.5', 0.5],
  ])('reads %s', (text, value) => expect(readNumber(text)).toBe(value))
  it.each(['', 'x', '1,2,3', '0x10', '--1', '1.2.3'])('refuses %s', (text) => expect(readNumber(text)).toBeNaN())
})

describe('open formats', () => {
  it('read back equal', () => {
    expect(tableFromCsv(tableToCsv(table))).toEqual(table)
    expect(tableFromJson(tableToJson(table, { name: 'x', revision: 2, reason: 'y' }))).toEqual(table)
  })
  it('CSV writes no noise of binary sums', () => {
    const text = tableToCsv({ ...table, values: table.values.map((row) => row.map(() => 10 * 1.1)) })
    expect(text).not.toMatch(/0000/)
    expect(text).toMatch(/,11,11,11\n/)
  })
  it('a trim that adds keeps the global one beside it; nothing else has one', () => {
    const adds: Table = { ...table, composition: 'add', global: 4 }
    expect(tableFromCsv(tableToCsv(adds))).toEqual(adds)
    expect(tableFromJson(tableToJson(adds))).toEqual(adds)
    expect(() => checkTable({ ...table, global: 4 })).toThrow(/Only a fuel trim that adds/)
    expect(() => tableFromCsv(tableToCsv(adds).replace('global,4', 'global,four'))).toThrow(/not a number/)
  })
  it('any table comes back from CSV and JSON as it was', () => {
    const values = fc.array(
      fc.array(
        fc.double({ min: -90, max: 250, noNaN: true }).map((v) => (Object.is(v, -0) ? 0 : v)),
        { minLength: 3, maxLength: 3 },
      ),
      { minLength: 3, maxLength: 3 },
    )
    fc.assert(
      fc.property(values, (cells) => {
        const one = { ...table, values: cells }
        const read = tableFromCsv(tableToCsv(one))
        read.values.flat().forEach((value, k) => expect(value).toBeCloseTo(cells.flat()[k]!, 7))
        expect(tableFromJson(tableToJson(one))).toEqual(one)
      }),
    )
  })
  it.each([
    ['empty', '', /says what kind of table it is/],
    ['text in a cell', 'kind,fuel trim\nload,1000,2000\n100,1,x\n0,1,2\n', /line 3, column 3/],
    ['a ragged row', 'kind,fuel trim\nload,1000,2000\n100,1\n0,1,2\n', /Line 3 has 2 cells/],
    ['falling rpm', 'kind,fuel trim\nload,2000,1000\n100,1,2\n0,1,2\n', /must be above the one before/],
    ['an unknown kind', 'kind,boost\nload,1000,2000\n100,1,2\n0,1,2\n', /kind must be one of/],
    ['a value out of range', 'kind,fuel trim\nload,1000,2000\n100,1,2\n0,1,900\n', /takes -95 to 300/],
  ])('CSV with %s says so', (_name, text, message) => expect(() => tableFromCsv(text)).toThrow(message))
  it('JSON that is none, is another format or has unknown fields is refused by name', () => {
    expect(() => tableFromJson('{')).toThrow(/not JSON/)
    expect(() => tableFromJson('{"format":"other"}')).toThrow(/not a table/)
    expect(() => tableFromJson(JSON.stringify({ ...JSON.parse(tableToJson(table)), extra: 1 }))).toThrow(/extra/)
    expect(() => checkTable({ ...table, values: [[1]] })).toThrow(expect.objectContaining({ code: 'no-table' }))
    expect(() => checkTable({ ...table, values: table.values.map((row) => row.map(() => NaN)) })).toThrow(
      expect.objectContaining({ code: 'no-table' }),
    )
  })
})

it('breakpoints and shapes that cannot be used are named', () => {
  expect(breakpointFault('rpm', [1])).toMatch(/at least two/)
  expect(
    breakpointFault(
      'rpm',
      Array.from({ length: 65 }, (_, k) => k),
    ),
  ).toMatch(/at most 64/)
  expect(breakpointFault('load', [0, 0])).toMatch(/above the one before/)
  expect(breakpointFault('load', [0, 500])).toMatch(/from 0 to 400/)
  expect(breakpointFault('rpm', [0, 100])).toBeNull()
  expect(shapeFault(table, [[1, 2, 3]])).toMatch(/1 rows/)
  expect(shapeFault(table, table.values)).toBeNull()
})
