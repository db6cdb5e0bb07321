import fc from 'fast-check'
import { resample } from './resample'
import type { Table } from './table'

const table = (rpm: number[], load: number[], of: (rpm: number, load: number) => number): Table =>
  ({
    kind: 'fuel base',
    composition: 'multiply',
    loadAxis: 'throttle',
    rpm,
    load,
    values: load.map((at) => rpm.map((speed) => of(speed, at))),
  }) as Table
const plane = (rpm: number, load: number): number => 3 + rpm / 1000 + load / 50

describe('a table on other breakpoints', () => {
  it('is exact where the table is a plane, wherever the new breakpoints lie inside', () => {
    const axis = (least: number, most: number) =>
      fc
        .uniqueArray(fc.integer({ min: least, max: most }), { minLength: 2, maxLength: 8 })
        .map((all) => all.sort((a, b) => a - b))
    fc.assert(
      fc.property(axis(1000, 9000), axis(0, 100), (rpm, load) => {
        const { table: made } = resample(table([1000, 4000, 9000], [0, 30, 100], plane), {
          loadAxis: 'throttle',
          rpm,
          load,
        })
        made.values.forEach((row, r) =>
          row.forEach((value, c) => expect(value).toBeCloseTo(plane(rpm[c]!, load[r]!), 9)),
        )
      }),
    )
  })
  it('says what was lost, and nothing where nothing was', () => {
    const own = table([1000, 3000, 5000], [0, 100], plane)
    expect(resample(own, own).lost).toEqual([])
    const { lost, table: made } = resample(own, { loadAxis: 'throttle', rpm: [1000, 4000, 6000], load: [0, 100] })
    expect(lost).toEqual([
      '2 of its rpm breakpoints fall between the new ones',
      '1 rpm breakpoint beyond its reach: held flat there',
    ])
    expect(made.values[0]!.at(-1)).toBeCloseTo(plane(5000, 0), 9)
    expect(resample(own, { loadAxis: 'throttle', rpm: [1000, 3000], load: [0, 100] }).lost).toEqual([
      'what it holds above 3000 rpm is left away',
    ])
  })
  it('refuses to take throttle for pressure', () => {
    expect(() =>
      resample(table([1000, 2000], [0, 100], plane), { loadAxis: 'manifold', rpm: [1000, 2000], load: [30, 100] }),
    ).toThrow(RangeError)
  })
})
