import { applyFactor, cellChange, changeCell, factorBetween, fuelOfCell, type Delivery } from './applyFactor'

const DELIVERIES: [string, Delivery, number][] = [
  ['fuel base', { kind: 'fuel base' }, 50],
  ['trim that multiplies', { kind: 'fuel trim', composition: 'multiply' }, 8],
  ['trim that adds', { kind: 'fuel trim', composition: 'add' }, -6],
  ['trim that adds to a global one', { kind: 'fuel trim', composition: 'add', global: 9 }, -6],
]

describe.each(DELIVERIES)('a factor on the fuel in a %s', (_name, delivery, value) => {
  it.each([0.8, 1, 1.07, 1.3])('%f times the fuel, and back', (factor) => {
    const after = applyFactor(value, factor, delivery)
    expect(fuelOfCell(after, delivery) / fuelOfCell(value, delivery)).toBeCloseTo(factor, 12)
    expect(factorBetween(value, after, delivery)).toBeCloseTo(factor, 12)
    const { size, unit } = cellChange(value, after, delivery)
    expect(unit).toBe('%')
    expect(changeCell(value, size, delivery)).toBeCloseTo(after, 9)
  })
})

describe('a module that adds its table and its global trim', () => {
  const adds = (global?: number): Delivery => ({
    kind: 'fuel trim',
    composition: 'add',
    ...(global !== undefined && { global }),
  })
  it('20 % in the cell and 10 % wanted: the fuel rises by 10.0 %, not by 8.3', () => {
    const after = applyFactor(20, 1.1, adds())
    expect(after).toBeCloseTo(32, 12)
    expect(cellChange(20, after, adds()).size).toBeCloseTo(10, 12)
    // Thirty in the cell would be 8.3 %.
    expect(cellChange(20, 30, adds()).size).toBeCloseTo(8.33, 2)
  })
  it('with a global trim the cell must rise by more: it carries both', () => {
    expect(applyFactor(4, 1.1, adds(4))).toBeCloseTo(1.08 * 1.1 * 100 - 100 - 4, 12)
  })
  it('another global trim is a change of fuel, though no cell moved', () => {
    expect(cellChange(4, 4, adds(0), adds(4)).size).toBeCloseTo(100 * (1.08 / 1.04 - 1), 12)
  })
})

it('what sets no fuel takes no factor; a cell that asks for none gives none', () => {
  expect(() => applyFactor(10, 1.1, { kind: 'spark base' })).toThrow(RangeError)
  expect(factorBetween(0, 10, { kind: 'fuel base' })).toBe(1)
  expect(cellChange(20, 22.5, { kind: 'spark base' })).toEqual({ size: 2.5, unit: '°' })
})
