import { build, type LoadGrid, type Matrix } from '../../table/table'
import type { Evidence } from '../evidence'
import type { Corrected, FieldOptions } from '../field'
import type { HeldZone } from './heldZones'
import { takenBack } from './takenBack'

const GRID: LoadGrid = { loadAxis: 'throttle', rpm: [2000, 3000, 4000, 5000, 6000], load: [5, 10, 15, 20, 40] }
const ZONE: HeldZone = { row: 1, load: 10, fromRpm: 2900, toRpm: 4100, isLate: true }
/** 10 % were added everywhere. */
const ADDED: Corrected[] = [{ cylinder: null, factor: build(GRID, () => 1.1) }]
const BACK = 100 * (1 / 1.1 - 1)
const isHeld = (row: number, column: number): boolean => row === 1 && (column === 1 || column === 2)
/** Readings at 40 % from 3,000 rpm up and at 10 % outside the zone; 15 and 20 % are bridged from 3,000 rpm up. */
const gradeAt = (row: number, column: number) =>
  isHeld(row, column) || row === 0 || column === 0 ? 'none' : row === 2 || row === 3 ? 'bridged' : 'solid'

/** A loop at lambda 1 asks 5 % of such a target every pass. */
const target = build(GRID, () => 0.95)
const backOf = (
  over: Partial<FieldOptions>,
  need = Math.log(0.95),
  zone = ZONE,
  grade: (row: number, column: number) => Evidence = gradeAt,
): (number | null)[][] =>
  takenBack(
    { grid: GRID, target, corrected: ADDED, correctedBefore: [], ...over } as FieldOptions,
    1,
    [zone],
    (row, column) => ({ held: isHeld(row, column), grade: grade(row, column), need }),
  ) as Matrix

describe('what passes before corrected on the mixture of a loop', () => {
  it('goes back where the loop holds, and where nothing is told about it goes where the smooth field has it', () => {
    const back = backOf({})
    expect([back[1]![1], back[1]![2]]).toEqual([expect.closeTo(BACK, 9), expect.closeTo(BACK, 9)])
    // One column beside the zone, up and down as far as no row has readings.
    expect([1, 2, 3].map((row) => back[row]![0])).toEqual([1, 2, 3].map(() => expect.closeTo(-5, 9)))
    expect(back[0]).toEqual([...Array<unknown>(4).fill(expect.closeTo(-5, 9)), null])
    expect(back[4]!.every((one) => one === null)).toBe(true)
    expect(back[2]!.slice(1).every((one) => one === null)).toBe(true)
  })
  it('goes back beside the zone where a row near it was read at other speeds only', () => {
    // 15 and 20 % are read at 6,000 rpm alone.
    const elsewhere = (row: number, column: number) =>
      (row === 2 || row === 3) && column < 4 ? 'none' : row > 1 && row < 4 ? 'solid' : gradeAt(row, column)
    const back = backOf({}, undefined, ZONE, elsewhere)
    const told = [...Array<unknown>(4).fill(expect.closeTo(-5, 9)), null]
    expect([back[2], back[3]]).toEqual([told, told])
    expect(back[4]!.every((one) => one === null)).toBe(true)
    // Read at 3,000 rpm, 15 % bounds what lies above it there.
    const read = backOf({}, undefined, ZONE, (row, column) =>
      row === 2 && column === 1 ? 'thin' : elsewhere(row, column),
    )
    expect([read[2]![1], read[3]![1]]).toEqual([null, null])
    expect(read[3]![2]).toBeCloseTo(-5, 9)
  })
  it('goes no further than back, and not the other way', () => {
    expect(backOf({}, Math.log(0.8))[2]![0]).toBeCloseTo(BACK, 9)
    expect(backOf({}, Math.log(1.05))[2]![0]).toBeNull()
    expect(backOf({}, NaN)[2]![0]).toBeCloseTo(BACK, 9)
  })
  it('is only what was added since the first of them, for that cylinder', () => {
    const before: Corrected[] = [{ cylinder: null, factor: build(GRID, () => 1.04) }]
    expect(backOf({ correctedBefore: before })[1]![1]).toBeCloseTo(100 * (1.04 / 1.1 - 1), 9)
    expect(backOf({ correctedBefore: ADDED })[1]![1]).toBeNull()
    expect(backOf({ corrected: [{ ...ADDED[0]!, cylinder: 2 }] })[1]![1]).toBeNull()
  })
  it('stays where the first pass showed the zone, and where no pass was before', () => {
    const none = (one: (number | null)[][]) => one.flat().every((pct) => pct === null)
    expect(none(backOf({}, undefined, { ...ZONE, isLate: false }))).toBe(true)
    expect(none(backOf({ correctedBefore: null }))).toBe(true)
  })
  it('stays where no loop asked for it: where lambda 1 is the target, the other way, or far beyond', () => {
    const none = (over: Partial<FieldOptions>) =>
      backOf(over)
        .flat()
        .every((one) => one === null)
    expect(none({ target: build(GRID, () => 1) })).toBe(true)
    expect(none({ target: build(GRID, () => 1.02) })).toBe(true)
    expect(none({ corrected: [{ cylinder: null, factor: build(GRID, () => 1.3) }] })).toBe(true)
    expect(none({ corrected: [{ cylinder: null, factor: build(GRID, () => 0.9) }] })).toBe(true)
    expect(none({})).toBe(false)
  })
})
