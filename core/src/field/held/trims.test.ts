import { GRID, knownCase, knownRuns } from '../../../trials/knownTruthLog'
import { suggestChange } from '../../change/suggest'
import type { RunColumns } from '../../run/run'
import { filled, type Table } from '../../table/table'
import { estimateField } from '../estimate'
import { DEFAULT_FIELD_OPTIONS, type Field } from '../field'
import { heldZonesOfRuns } from './zonesOfRuns'

const HELD = { mostLoad: 12, from: 2600, to: 4400 }
const c = knownCase(3, {
  misfire: null,
  held: [HELD],
  truth: (rpm, load) => 0.11 + 0.06 * Math.sin(rpm / 1400) - 0.0004 * load,
  target: GRID.load.map((load) => GRID.rpm.map(() => (load < 40 ? 0.95 : 0.885))),
})
const runs = knownRuns(c)
/** What the loop had to add where it held: the table was short of this much. */
const SHORT = 4
const LONG = 3
const withTrims = (run: RunColumns): RunColumns => {
  const inLoop = (i: number): boolean =>
    run.throttle![i]! > 3 && run.throttle![i]! <= HELD.mostLoad && run.rpm[i]! >= HELD.from && run.rpm[i]! <= HELD.to
  return {
    ...run,
    trimShort: run.rpm.map((_, i) => (inLoop(i) ? SHORT : 0)),
    trimLong: run.rpm.map((_, i) => (inLoop(i) ? LONG : 0)),
  }
}
const solve = (some: RunColumns[]): Field =>
  estimateField(some, { ...DEFAULT_FIELD_OPTIONS, grid: c.grid, target: c.target })
const at = { row: GRID.load.indexOf(10), column: GRID.rpm.indexOf(3500) }
const table: Table = { ...GRID, kind: 'fuel base', composition: 'multiply', values: filled(GRID, 10) }

describe('closed loop', () => {
  it('without trims a held node tells nothing of the table and is left alone', () => {
    const field = solve(runs)
    expect(field.cylinders[0]!.held[at.row]![at.column]).toBe(true)
    const [one] = field.cylinders
    expect(one!.byTrim[at.row]![at.column]).toBe(false)
    // It counts as unknown: the reading is there, a percent is not.
    expect(one!.lambda[at.row]![at.column]).toBeCloseTo(1, 2)
    expect([one!.changePct, one!.lowPct, one!.highPct].map((matrix) => matrix[at.row]![at.column])).toEqual([
      null,
      null,
      null,
    ])
    expect(one!.evidence[at.row]![at.column]).toBe('none')
    expect(suggestChange(table, field).nodes[at.row]![at.column]!.reason).toBe('held by closed loop')
  })
  it('with trims it tells the correction that the loop makes: (1 + short)(1 + long) - 1, whatever is wanted in open loop', () => {
    const field = solve(runs.map(withTrims))
    const [one] = field.cylinders
    expect(one!.byTrim[at.row]![at.column]).toBe(true)
    const wanted = 100 * ((1 + SHORT / 100) * (1 + LONG / 100) - 1)
    expect(Math.abs(one!.changePct[at.row]![at.column]! - wanted)).toBeLessThan(0.3)
    expect(one!.target[at.row]![at.column]).toBe(1)
    expect(one!.lambda[at.row]![at.column]).toBeCloseTo(1 + wanted / 100, 2)
    expect(suggestChange(table, field).nodes[at.row]![at.column]!.reason).not.toBe('held by closed loop')
  })
  it('of runs with and without trims only those with them speak for a held node', () => {
    const mixed = solve(runs.map((run, k) => (k % 3 ? run : withTrims(run))))
    const all = solve(runs.map(withTrims))
    const change = (field: Field): number => field.cylinders[0]!.changePct[at.row]![at.column]!
    expect(Math.abs(change(mixed) - change(all))).toBeLessThan(0.7)
  })
  it('its zones are found without the field, with the rpm where it lets go', () => {
    const zones = heldZonesOfRuns(runs, { grid: c.grid, filters: DEFAULT_FIELD_OPTIONS.filters, lag: null })
    expect(zones.map((zone) => GRID.load[zone.row])).toEqual([5, 10])
    for (const zone of zones) expect(Math.abs(zone.toRpm - HELD.to)).toBeLessThan(200)
    expect(heldZonesOfRuns([], { grid: c.grid, filters: DEFAULT_FIELD_OPTIONS.filters, lag: null })).toEqual([])
  })
})

describe('a tube up the tailpipe', () => {
  const tube = solve(runs.map((run) => ({ ...run, sensorPlace: 'tailpipe' as const })))
  const header = solve(runs)
  const half = (field: Field, load: number, rpm: number): number => {
    const [row, column] = [GRID.load.indexOf(load), GRID.rpm.indexOf(rpm)]
    const [one] = field.cylinders
    return (one!.highPct[row]![column]! - one!.lowPct[row]![column]!) / 2
  }
  it('is trusted less where little gas flows, and alike where much does', () => {
    expect(half(tube, 20, 4500)).toBeGreaterThan(half(header, 20, 4500) + 1)
    // A smooth field carries a trace of the doubt along, less than a thousandth of a percent.
    expect(half(tube, 100, 7000)).toBeCloseTo(half(header, 100, 7000), 3)
    expect(tube.cylinders[0]!.evidence[GRID.load.indexOf(20)]![GRID.rpm.indexOf(4500)]).toBe('thin')
  })
})

it('a band left out by hand is set aside and counted', () => {
  const left = runs.map((run, k) => (k === 20 ? { ...run, leftOut: { fromRpm: 5000, toRpm: 6000 } } : run))
  const { setAside } = solve(left).runs[20]!
  expect(setAside['left out by hand']).toBeGreaterThan(20)
  expect(solve(runs).runs[20]!.setAside['left out by hand']).toBeUndefined()
})
