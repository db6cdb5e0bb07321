import { DEFAULT_FIELD_OPTIONS, type Field } from '../field/field'
import { fieldOfPasses } from '../field/fieldOfPasses'
import { GRID, knownCase, knownRuns } from '../../trials/knownTruthLog'
import type { Table } from '../table/table'
import { loopStep, passNumber, passSets, proveStep } from './loopStep'

const sets = (...passes: (number | null)[]) => passes.map((pass, k) => ({ id: `s${k}`, pass }))
const ids = (list: { id: string }[]): string => list.map((one) => one.id).join(' ')

describe('passes of the loop', () => {
  it('are told by their number, not by what their set is called', () => {
    expect(ids(passSets(sets(1, 2, 3)))).toBe('s0 s1 s2')
    expect(passNumber({ pass: 3 })).toBe(3)
    expect(passNumber({ pass: null })).toBe(1)
    expect(passNumber(undefined)).toBe(1)
  })
  it('runs made before the loop was begun are its first pass', () => {
    expect(ids(passSets(sets(null, 2, 3)))).toBe('s0 s1 s2')
  })
  it('a loop begun anew leaves the ones before alone; a set between two passes belongs to none', () => {
    expect(ids(passSets(sets(1, 2, 3, 1, 2)))).toBe('s3 s4')
    expect(ids(passSets(sets(1, 2, null, 3)))).toBe('s0 s1 s3')
    expect(ids(passSets(sets(1, 2, null)))).toBe('s2')
    // The loop goes on from the newest set: runs of no pass before its second were its first.
    expect(ids(passSets(sets(1, null, 2)))).toBe('s1 s2')
    expect(passSets([])).toEqual([])
  })
})

describe('a step of the loop', () => {
  const table: Table = {
    ...GRID,
    kind: 'fuel trim',
    composition: 'multiply',
    values: GRID.load.map(() => GRID.rpm.map(() => 0)),
  }
  const runs = knownRuns(knownCase(3))
  const options = {
    ...DEFAULT_FIELD_OPTIONS,
    grid: GRID,
    target: GRID.load.map(() => GRID.rpm.map(() => 0.9)),
  }
  const field = fieldOfPasses(runs, [], options)

  it('says how flat it is and what it asks of each table', () => {
    const { flatness, changes, changed } = loopStep(field, [
      { cylinder: 1, table },
      { cylinder: null, table },
    ])
    expect(flatness.nodes).toBeGreaterThan(10)
    expect(changes.map((one) => one.cylinder)).toEqual([1, null])
    expect(changed).toHaveLength(
      changes.reduce((sum, { nodes }) => sum + nodes.flat().filter((node) => node.changePct !== 0).length, 0),
    )
  })
  it('asks for nothing while it is not known what moved since the runs', () => {
    expect(loopStep(field, [{ cylinder: null, table }], null)).toMatchObject({ changes: [], changed: [] })
  })
  it('asks for less of what was taken already', () => {
    const first = loopStep(field, [{ cylinder: null, table }])
    const now = { ...table, values: first.changes[0]!.values }
    const again = loopStep(field, [{ cylinder: null, table: now }], [{ cylinder: null, then: table, now }])
    const size = (one: typeof first): number => one.changed.reduce((sum, node) => sum + Math.abs(node.changePct), 0)
    expect(size(again)).toBeLessThan(0.6 * size(first))
  })
  it('holds what was to come against what was measured: a true correction is proven, a wrong one is not', () => {
    const { changes } = loopStep(field, [{ cylinder: null, table }])
    const now = { ...table, values: changes[0]!.values }
    // The machine as the correction was to make it: every reading leaner or richer by what was taken.
    const after: Field = {
      ...field,
      cylinders: field.cylinders.map((one) => ({ ...one, lambda: changes[0]!.predicted })),
    }
    const proof = proveStep(field, [{ cylinder: null, table: now, before: table.values }], after)!
    expect(proof.nodes).toBeGreaterThan(10)
    expect(proof.rms).toBeLessThan(0.01)
    const unchanged = proveStep(field, [{ cylinder: null, table: now, before: table.values }], field)!
    expect(unchanged.rms).toBeGreaterThan(0.5)
  })
})
