import { GRID, knownCase, knownRuns } from '../../trials/knownTruthLog'
import type { RunColumns } from '../run/run'
import { estimateField } from './estimate'
import { DEFAULT_FIELD_OPTIONS, type Field } from './field'

const c = knownCase(9, {
  stops: [10, 30, 60, 100],
  hz: 25,
  truth: (rpm, load) => 0.1 + 0.05 * Math.sin(rpm / 1500) - 0.0004 * load,
  misfire: null,
  held: [],
})
const runs = knownRuns(c)
const solve = (these: RunColumns[] = runs, over: object = {}): Field =>
  estimateField(these, { ...DEFAULT_FIELD_OPTIONS, grid: GRID, target: c.target, lag: 0.26, ...over })
const whole = solve()
const nodes = (field: Field, of: 'changePct' | 'lambda' = 'changePct'): (number | null)[] =>
  field.cylinders[0]!.changePct.flatMap((_, row) => field.cylinders[0]![of][row]!)
const width = (field: Field, row: number, k: number): number =>
  field.cylinders[0]!.highPct[row]![k]! - field.cylinders[0]!.lowPct[row]![k]!

function expectNear(one: (number | null)[], other: (number | null)[], within: number): void {
  expect(one.map((value) => value === null)).toEqual(other.map((value) => value === null))
  one.forEach((value, k) => value === null || expect(Math.abs(value - other[k]!)).toBeLessThan(within))
}

describe('a field', () => {
  it('leaner readings by 3 % everywhere ask for 3 % more everywhere', () => {
    const leaner = runs.map((run) => ({ ...run, lambda: run.lambda.map((column) => column.map((v) => v * 1.03)) }))
    expectNear(
      nodes(solve(leaner)).map((value) => value && (100 + value) / 1.03 - 100),
      nodes(whole),
      // Readings that reach the sensor's end stop are set aside at other moments.
      0.25,
    )
  })
  it('the estimate of lambda hardly depends on what is wanted', () => {
    const richer = GRID.load.map(() => GRID.rpm.map(() => 0.86))
    const measured = whole.cylinders[0]!.evidence.flat().map((grade) => grade === 'solid' || grade === 'thin')
    const of = (field: Field): (number | null)[] => nodes(field, 'lambda').filter((_, k) => measured[k])
    expectNear(of(solve(runs, { target: richer })), of(whole), 0.004)
  })
  it('does not depend on the order of the runs, nor on when their clocks began', () => {
    const turned = [...runs].reverse().map((run) => ({ ...run, time: run.time.map((t) => t + 64) }))
    expectNear(nodes(solve(turned)), nodes(whole), 0.02)
  })
  it('is known less well from one repeat than from three', () => {
    const once = solve(runs.filter((run) => run.id.endsWith('repeat 1')))
    for (const k of [4, 8, 12]) expect(width(once, 5, k)).toBeGreaterThan(width(whole, 5, k))
  })
  it('one pass alone is never solid', () => {
    const field = solve([runs.find((run) => run.id === 'stop 30 repeat 2')!])
    expect(field.cylinders[0]!.evidence.flat()).not.toContain('solid')
    expect(field.cylinders[0]!.evidence.flat()).toContain('thin')
  })
  it('says nothing of rows that no run came near', () => {
    const field = solve(runs.filter((run) => run.id.startsWith('stop 10 ')))
    const above = GRID.load.indexOf(40)
    for (const row of field.cylinders[0]!.changePct.slice(above))
      expect(row.every((value) => value === null)).toBe(true)
  })
  it('keeps two cylinders apart, though some runs lack the second sensor', () => {
    const both = runs.map((run) =>
      run.id.endsWith('repeat 3') ? run : { ...run, lambda: [run.lambda[0]!, run.lambda[0]!.map((v) => v * 0.95)] },
    )
    const { cylinders } = solve(both)
    expect(cylinders).toHaveLength(2)
    const row = GRID.load.indexOf(60)
    for (const k of [4, 8, 12]) {
      const [front, rear] = cylinders.map((one) => 100 + one.changePct[row]![k]!)
      expect(rear! / front!).toBeCloseTo(0.95, 1.8)
    }
  })
})
