import { cellDigits, SEEN, tableDigits } from './tableDigits'

const base = (...cells: number[]) => ({ kind: 'fuel base' as const, values: [cells] })
const many = (value: number): number[] => Array.from({ length: 20 }, () => value)

it.each([
  [2.4, 3],
  [9.5, 2],
  [37, 1],
  [240, 1],
  [4000, 0],
])('cells about %d are shown with %i decimals: such a change can be seen', (value, digits) => {
  expect(tableDigits(base(...many(value)))).toBe(digits)
  expect(10 ** -digits).toBeLessThanOrEqual((SEEN / 100) * value + 1e-9 || 1)
})
it('a few smaller cells, or empty ones, do not decide', () => {
  expect(tableDigits(base(0, 0.3, ...many(37)))).toBe(1)
  expect(tableDigits(base(0, 0))).toBe(1)
})
it('percent, degrees and lambda have theirs', () => {
  expect(
    (['fuel trim', 'spark base', 'lambda target', 'plate'] as const).map((kind) =>
      tableDigits({ kind, values: [[12]] }),
    ),
  ).toEqual([1, 1, 3, 1])
})

describe('decimals of one cell', () => {
  it('follow its value where it is much smaller than the rest of a fuel base table', () => {
    const digits = tableDigits({ kind: 'fuel base', values: [[100, 110, 120, 5.69]] })
    expect([100, 5.69, 0.42].map((one) => one.toFixed(cellDigits('fuel base', digits, one)))).toEqual([
      '100.0',
      '5.69',
      '0.420',
    ])
  })
  it('are those of the table elsewhere', () => {
    expect(cellDigits('fuel trim', 1, 0.04)).toBe(1)
    expect(cellDigits('spark base', 1, 0.4)).toBe(1)
    expect(cellDigits('fuel base', 1, 0)).toBe(1)
    expect(cellDigits('fuel base', 3, 12)).toBe(3)
  })
})
