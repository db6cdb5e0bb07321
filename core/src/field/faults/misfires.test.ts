import { knownCase, knownRuns, type KnownCase } from '../../../trials/knownTruthLog'
import { seeds } from '../../../trials/seeds'
import { suggestChange } from '../../change/suggest'
import { estimateField } from '../estimate'
import { DEFAULT_FIELD_OPTIONS, type Field } from '../field'
import type { RunColumns } from '../../run/run'
import { marginRange } from '../solve/marginRange'
import { findMisfires, misfireWords, type MisfireZone } from './misfires'
import { gatherSamples } from '../readings/samples'

const SILENT = { stop: 60, from: 5600, to: 7400, share: 0.25, lean: 0.07 }
const caseOf = (seed: number, over: Partial<KnownCase> = {}): KnownCase =>
  knownCase(seed, { misfire: null, silent: SILENT, ...over })
function fieldOf(c: KnownCase, runs: RunColumns[] = knownRuns(c), engineCylinders: number | null = 4): Field {
  return estimateField(runs, { ...DEFAULT_FIELD_OPTIONS, grid: c.grid, target: c.target, engineCylinders })
}

/** The same without the field about it. */
function zonesOf(c: KnownCase, cylinders: number): MisfireZone[] {
  const runs = knownRuns(c)
  const { filters } = DEFAULT_FIELD_OPTIONS
  const samples = gatherSamples(runs, { loadAxis: 'throttle', lag: 0.26, filters, range: marginRange(c.grid) })
  return findMisfires(c.grid, samples, runs, cylinders)
}

/** Change that the row of the stop needs at a speed, %. */
const needed = (c: KnownCase, rpm: number): number => 100 * (Math.exp(c.truth(rpm, SILENT.stop)) - 1)

describe('a cylinder that is silent in every run of a stop', () => {
  const ROW = 7
  it.each([
    ['in the middle', SILENT],
    ['up to the end', { ...SILENT, from: 7000, to: 99_000 }],
    ['from the start', { ...SILENT, from: 0, to: 5000 }],
    ['one of two', { ...SILENT, share: 0.5, lean: 0.12 }],
    ['one of three', { ...SILENT, share: 1 / 3 }],
  ])('is told: %s', (_what, silent) => {
    const of = Math.round(1 / silent.share)
    const found = seeds(20, 2).filter((seed) => {
      const misfires = zonesOf(caseOf(seed, { silent }), of)
      const [one] = misfires
      return (
        misfires.length === 1 &&
        one!.stop === 60 &&
        one!.silent === 1 &&
        one!.of === of &&
        Math.abs(one!.fromRpm - Math.max(silent.from, 1900)) <= 250 &&
        Math.abs(one!.toRpm - Math.min(silent.to, 9550)) <= 250
      )
    })
    expect(found.length).toBeGreaterThanOrEqual(0.9 * seeds(20, 2).length)
  })
  it('is not fuelled, and takes nothing from the cells beside it', () => {
    const c = caseOf(3)
    const field = fieldOf(c)
    const values = c.grid.load.map(() => c.grid.rpm.map(() => 100))
    const { nodes } = suggestChange({ kind: 'fuel base', composition: 'multiply', ...c.grid, values }, field)
    c.grid.rpm.forEach((rpm, column) => {
      const node = nodes[ROW]![column]!
      if (rpm >= 5700 && rpm <= 7300) {
        expect(node).toMatchObject({ changePct: 0, reason: 'misfire, no fuel' })
        expect(field.cylinders[0]!.changePct[ROW]![column]).toBeNull()
      } else if (field.cylinders[0]!.evidence[ROW]![column] === 'solid')
        expect(Math.abs(field.cylinders[0]!.changePct[ROW]![column]! - needed(c, rpm))).toBeLessThan(2)
    })
    expect(field.runs.find((run) => run.id.startsWith('stop 60'))!.setAside.misfire).toBeGreaterThan(20)
  })
  it('is none where torque does not step by whole cylinders, or nothing reads lean', () => {
    expect(fieldOf(caseOf(1, { silent: { ...SILENT, share: 0.12 } })).misfires).toEqual([])
    expect(fieldOf(caseOf(1, { silent: { ...SILENT, lean: 0 } })).misfires).toEqual([])
    for (const seed of seeds(20, 2)) expect(zonesOf(caseOf(seed, { silent: { ...SILENT, stop: -1 } }), 4)).toEqual([])
  })
  it('is told of its own cylinder where each has a probe: the other is fuelled', () => {
    const c = caseOf(7, { silent: { ...SILENT, share: 0.5 } })
    const sound = knownRuns({ ...c, silent: { ...c.silent!, lean: 0 } })
    const runs = knownRuns(c).map((run, k) => ({ ...run, lambda: [sound[k]!.lambda[0]!, run.lambda[0]!] }))
    const { misfires, cylinders } = fieldOf(c, runs, 2)
    expect(misfires).toEqual([expect.objectContaining({ cylinder: 2, silent: 1, of: 2 })])
    const column = c.grid.rpm.indexOf(6500)
    expect(cylinders[0]!.changePct[ROW]![column]).toBeCloseTo(needed(c, 6500), -0.5)
    expect(cylinders[1]!.changePct[ROW]![column]).toBeNull()
    expect(misfireWords(misfires[0]!, (n) => `cylinder ${n}`)).toMatch(
      /^Misfire at 60 %, 5.600 to 7.400 rpm, in every run: torque −50\.\d %, cylinder 2 looks silent; .*leads, cap, plugs first\.$/,
    )
  })
  it('is left to the odd run where one run alone shows it', () => {
    const sound = knownRuns(caseOf(5, { silent: { ...SILENT, stop: -1 } }))
    const ill = knownRuns(caseOf(5))
    const mixed = sound.map((run, k) => (run.id === 'stop 60 repeat 2' ? ill[k]! : run))
    expect(fieldOf(caseOf(5), mixed).misfires).toEqual([])
  })
  it('is not looked for in a single, nor without torque', () => {
    expect(fieldOf(caseOf(2), undefined, 1).misfires).toEqual([])
    const blind = knownRuns(caseOf(2)).map(({ torque: _torque, ...run }) => run)
    expect(fieldOf(caseOf(2), blind).misfires).toEqual([])
  })
})
