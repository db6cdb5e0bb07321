import { flatteredBanks } from '../fuel/flattered'
import { estimateField } from '../field/estimate'
import { DEFAULT_FIELD_OPTIONS } from '../field/field'
import { filled, type LoadGrid } from '../table/table'
import { handColumns, readReading, type HandReading } from './handReadings'
import type { RunColumns } from '../run/run'

describe('a reading as typed', () => {
  it.each([
    ['12.8', 12.8 / 14.7, 12.8 / 14.7],
    ['13.1-13.3', 13.1 / 14.7, 13.3 / 14.7],
    ['13.3 to 13.1', 13.1 / 14.7, 13.3 / 14.7],
    ['13,1–13,4', 13.1 / 14.7, 13.4 / 14.7],
    ['.88', 0.88, 0.88],
    ['0.87..0.89', 0.87, 0.89],
  ])('"%s"', (text, low, high) => {
    const range = readReading(text, 14.7) as { low: number; high: number }
    expect(range.low).toBeCloseTo(low, 9)
    expect(range.high).toBeCloseTo(high, 9)
  })
  it('nothing is no reading; words, three numbers and what no gauge shows are refused in words', () => {
    expect(readReading('  ', 14.7)).toBeNull()
    for (const text of ['rich', '13.1-13.3-13.4', '-', '13.1-x', '13.3-', '-1', '-13.1', '..13'])
      expect(readReading(text, 14.7)).toMatch(/is no reading/)
    expect(readReading('45', 14.7)).toMatch(/outside 0.5 to 1.6/)
    expect(readReading('15-12', 14.7)).toMatch(/too wide for one reading/)
  })
})

describe('a grid of readings', () => {
  const take = (rows: HandReading[]) => handColumns(rows, { scale: 14.7, loadAxis: 'throttle' })
  it('becomes columns, with the widest range of a line', () => {
    const made = take([
      { rpm: 3000, load: 20, readings: ['13.2', '13.3-13.7'] },
      { rpm: 4000, load: 20, readings: ['13.0', ''] },
    ])
    if ('faults' in made) throw new Error('faults')
    const { lambda, handRange, time } = made.columns
    expect(lambda).toHaveLength(2)
    expect(lambda[1]![0]).toBeCloseTo(13.5 / 14.7, 5)
    expect(lambda[1]![1]).toBeNaN()
    expect(handRange[0]).toBeCloseTo(0.2 / 14.7, 6)
    expect([...time]).toEqual([0, 20])
  })
  it('names every cell at fault', () => {
    const made = take([
      { rpm: 30, load: 20, readings: ['13'] },
      { rpm: 3000, load: 200, readings: ['fast'] },
      { rpm: 3000, load: 20, readings: [''] },
    ])
    expect('faults' in made && made.faults.map((one) => [one.row, one.field, one.bank])).toEqual([
      [0, 'rpm', null],
      [1, 'load', null],
      [1, 'readings', 0],
      [2, 'readings', 0],
    ])
    expect('faults' in take([])).toBe(true)
  })
})

describe('hand readings in the field', () => {
  const grid: LoadGrid = { loadAxis: 'throttle', rpm: [2000, 3000, 4000, 5000], load: [20, 60, 100] }
  const run = (readings: string[]): RunColumns => {
    const rows = grid.load.flatMap((load) => grid.rpm.map((rpm) => ({ rpm, load, readings })))
    const made = handColumns(rows, { scale: 14.7, loadAxis: 'throttle' })
    if ('faults' in made) throw new Error('faults')
    const { load, ...columns } = made.columns
    return { id: readings.join(), throttle: load, ...columns }
  }
  const solve = (...runs: RunColumns[]) =>
    estimateField(runs, { ...DEFAULT_FIELD_OPTIONS, grid, target: filled(grid, 0.9), lag: 0 }).cylinders
  it('tell the change at their points, per bank', () => {
    const [one, two] = solve(run(['14.2', '13.1']))
    expect(one!.changePct[1]![1]).toBeCloseTo(100 * (14.2 / 14.7 / 0.9 - 1), 1)
    expect(two!.changePct[1]![1]).toBeCloseTo(100 * (13.1 / 14.7 / 0.9 - 1), 1)
  })
  it('a range widens the interval, a second round narrows it', () => {
    const width = (...runs: RunColumns[]): number => {
      const [one] = solve(...runs)
      return one!.highPct[1]![1]! - one!.lowPct[1]![1]!
    }
    expect(width(run(['13.1-14.1']))).toBeGreaterThan(width(run(['13.5'])))
    expect(width(run(['13.5']), run(['13.6']))).toBeLessThan(width(run(['13.5'])))
  })
  it('are never taken for a loop that holds the mixture, even at lambda 1', () => {
    expect(
      solve(run(['14.7']))[0]!
        .held.flat()
        .some(Boolean),
    ).toBe(false)
  })
})

describe('banks that differ while their average flatters', () => {
  it('are called out with both', () => {
    expect(flatteredBanks([0.94, 0.86], 0.9)).toMatchObject({ leanest: 1, richest: 2 })
    expect(flatteredBanks([0.94, 0.86], 0.9)!.leanestPct).toBeCloseTo(4.44, 1)
  })
  it('an average that is off, banks that agree, or one bank hide nothing', () => {
    expect(flatteredBanks([0.97, 0.93], 0.9)).toBeNull()
    expect(flatteredBanks([0.905, 0.895], 0.9)).toBeNull()
    expect(flatteredBanks([0.9, NaN], 0.9)).toBeNull()
  })
})

it('a few exact readings on a slope all count: none is an outlier to its neighbours', () => {
  const grid: LoadGrid = { loadAxis: 'throttle', rpm: [2000, 2500, 3000, 3500, 4000, 4500, 5000], load: [20, 40, 60] }
  const made = handColumns(
    [
      { rpm: 3000, load: 40, readings: ['14.6'] },
      { rpm: 4000, load: 40, readings: ['13.9'] },
      { rpm: 5000, load: 40, readings: ['13.5'] },
    ],
    { scale: 14.7, loadAxis: 'throttle' },
  )
  if ('faults' in made) throw new Error('faults')
  const { load, ...columns } = made.columns
  const [one] = estimateField([{ id: 'hand', throttle: load, ...columns }], {
    ...DEFAULT_FIELD_OPTIONS,
    grid,
    target: filled(grid, 0.9),
    lag: 0,
  }).cylinders
  const wanted = [14.6, 13.9, 13.5].map((afr) => 100 * (afr / 14.7 / 0.9 - 1))
  const got = [2, 4, 6].map((column) => one!.changePct[1]![column]!)
  got.forEach((value, k) => expect(Math.abs(value - wanted[k]!)).toBeLessThan(0.5))
})
