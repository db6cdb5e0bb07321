import type { TableInfo } from '../contract/table'
import type { Table } from '../table/table'
import { fuelTables, plainFuelTables, setByCell, tablesBetween } from './states'

const table = (kind: Table['kind'], value: number): Table => ({
  kind,
  composition: 'multiply',
  loadAxis: 'throttle',
  rpm: [1000, 2000],
  load: [20, 100],
  values: [
    [value, value],
    [value, value],
  ],
})
/** A table with a state for each way, null for one set by cell. */
const info = (id: string, kind: Table['kind'], ways: unknown[]): TableInfo =>
  ({
    id,
    job: 'j',
    cylinder: null,
    table: table(kind, 1),
    revisions: ways.map((asked, k) => ({ n: k + 1, way: asked && { asked, settings: {} } })),
  }) as unknown as TableInfo
const SWAP = { kind: 'injectors', from: { flow: 200, deadMs: 1 }, to: { flow: 250, deadMs: 0.8 } }

describe('tables of a job and the ways on top of them', () => {
  const all = [
    info('coarse', 'fuel trim', [null, { kind: 'coarse' }]),
    info('bands', 'fuel trim', [null, { kind: 'bands' }]),
    info('base', 'fuel base', [null]),
    info('pulses', 'fuel base', [null, SWAP]),
    info('spark', 'spark base', [null]),
  ]
  const ids = (some: readonly TableInfo[]): string[] => some.map((one) => one.id)
  it('a change, a loop and a plan are worked out for the calibration itself; all of them count as fuel', () => {
    expect(ids(plainFuelTables(all))).toEqual(['base', 'pulses'])
    expect(ids(setByCell(fuelTables(all)))).toEqual(['coarse', 'base', 'pulses'])
    expect(ids(fuelTables(all))).toEqual(['coarse', 'bands', 'base', 'pulses'])
  })
  it('other injectors between two states are no change of fuel but the 3 % that they begin richer', async () => {
    const before = table('fuel base', 5)
    // 4 ms of 5 were open: 3.2 at a quarter more flow, 3 % more of them, and 0.8 of dead time.
    const after = table('fuel base', 4 * 0.8 * 1.03 + 0.8)
    const loader = { revision: (_: string, __: string, n: number) => Promise.resolve(n === 1 ? before : after) }
    const pulses = all[3]!
    const [since] = await tablesBetween(loader, [pulses], new Map([['pulses', 1]]), new Map([['pulses', 2]]))
    expect(since!.then.values[0]![0]).toBeCloseTo(4 * 0.8 + 0.8, 12)
    expect((since!.now.values[0]![0]! - 0.8) / (since!.then.values[0]![0]! - 0.8)).toBeCloseTo(1.03, 12)
  })
})
