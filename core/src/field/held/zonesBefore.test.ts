import { knownCase, knownRuns, type KnownCase } from '../../../trials/knownTruthLog'
import { suggestChange } from '../../change/suggest'
import type { Table } from '../../table/table'
import { estimateField } from '../estimate'
import { DEFAULT_FIELD_OPTIONS, type FieldOptions } from '../field'
import { zonesBefore } from './zonesBefore'

const HELD = { mostLoad: 12, from: 2600, to: 4400 }
const pass = (seed: number, over: Partial<KnownCase>): KnownCase =>
  knownCase(seed, { stops: [5, 10, 20, 60], misfire: null, tipIn: 0, ...over })
/** Well lean of lambda 1 beside the zone, as after an exhaust change. */
const LEAN = pass(1, { held: [HELD], truth: () => 0.13 })
/** Corrected: the open field about the zone is at lambda 1, and nothing shows where the loop begins. */
const correctedWith = (over: Partial<KnownCase>): KnownCase =>
  pass(2, { truth: (_, load) => (load < 40 ? -Math.log(0.93) : -Math.log(0.885)), ...over })
const optionsOf = ({ grid, target }: KnownCase): FieldOptions => ({ ...DEFAULT_FIELD_OPTIONS, grid, target })
const zonesOf = (c: KnownCase, before: KnownCase[]) => {
  const options = optionsOf(c)
  return estimateField(knownRuns(c), { ...options, knownZones: zonesBefore(before.map(knownRuns), options) }).heldZones
}

describe('zones that earlier passes showed', () => {
  it('stay where a later pass does not show them', () => {
    const later = correctedWith({ held: [HELD] })
    expect(zonesOf(later, [])).toEqual([])
    const known = zonesOf(later, [LEAN])
    expect(known.length).toBeGreaterThan(0)
    for (const { fromRpm, toRpm, load } of known) {
      expect(load).toBeLessThan(15)
      expect(Math.abs(fromRpm - HELD.from)).toBeLessThan(300)
      expect(Math.abs(toRpm - HELD.to)).toBeLessThan(300)
    }
  })
  it.each([0.015, 0.03])('stay under a loop that hunts by %d', (hunt) => {
    expect(zonesOf(correctedWith({ held: [HELD], hunt }), [LEAN]).length).toBeGreaterThan(0)
  })
  it('are given up where a later pass reads another mixture inside them: the loop was switched off', () => {
    const off = pass(3, { held: [], truth: () => 0.03 })
    expect(zonesBefore([knownRuns(LEAN)], optionsOf(off)).length).toBeGreaterThan(0)
    expect(zonesOf(off, [LEAN])).toEqual([])
    // And do not come back by the pass before last.
    expect(zonesOf(correctedWith({ held: [] }), [LEAN, off])).toEqual([])
  })
  it('that the first of them did not show have what was corrected there taken back, step by step', () => {
    const { grid } = LEAN
    const added = grid.load.map((load) => grid.rpm.map(() => (load <= 10 ? 1.08 : 1)))
    const options = { ...optionsOf(LEAN), corrected: [{ cylinder: null, factor: added }] }
    const at = { row: grid.load.indexOf(10), column: grid.rpm.indexOf(3500) }
    const table: Table = {
      kind: 'fuel base',
      composition: 'multiply',
      ...grid,
      values: grid.load.map(() => grid.rpm.map(() => 10)),
    }
    const changeWith = (over: Partial<FieldOptions>) =>
      suggestChange(table, estimateField(knownRuns(LEAN), { ...options, ...over })).nodes[at.row]![at.column]!
    expect(changeWith({}).reason).toBe('held by closed loop')
    expect(changeWith({ correctedBefore: [] })).toMatchObject({ reason: 'taken back, a loop held it', changePct: -4 })
    // What a pass may not take back at once is owed to the next; a zone of the first pass owes nothing.
    const hidden = knownRuns(correctedWith({ held: [HELD] }))
    const [late, first] = [[hidden, knownRuns(LEAN)], [knownRuns(LEAN)]].map((passes) =>
      changeWith({ correctedBefore: [], knownZones: zonesBefore(passes, options) }),
    )
    expect(late!.reason).toBe('taken back, a loop held it')
    expect(first!.reason).toBe('held by closed loop')
  })
  it('are none without earlier passes, or where those have no usable reading', () => {
    expect(zonesBefore([], optionsOf(LEAN))).toEqual([])
    const mute = knownRuns(LEAN).map((run) => ({ ...run, lambda: [new Float32Array(run.time.length).fill(NaN)] }))
    expect(zonesBefore([mute], optionsOf(LEAN))).toEqual([])
  })
})
