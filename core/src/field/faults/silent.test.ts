import { seeds } from '../../../trials/seeds'
import { SHED, shedRides, type Shed } from '../../../trials/shedRides'
import { correctedOn } from '../../change/sinceMeasured'
import { suggestChange } from '../../change/suggest'
import { loopStep } from '../../rig/loopStep'
import { interpolate } from '../../table/lookup'
import type { Table } from '../../table/table'
import { DEFAULT_FIELD_OPTIONS, type Field, type FieldOptions } from '../field'
import { fieldOfPasses } from '../fieldOfPasses'

const GRID = {
  loadAxis: 'throttle' as const,
  rpm: [900, 1700, 2500, 3400, 4300, 5300, 6400, 7500, 8800],
  load: [1, 4, 9, 17, 31, 55, 78, 100],
}
const flat = (value: number): number[][] => GRID.load.map(() => GRID.rpm.map(() => value))
const table = (values: number[][]): Table => ({ ...GRID, kind: 'fuel trim', composition: 'multiply', values })

interface Round {
  field: Field
  before: Table
  after: Table
}

/** Measures and takes all of the change, round by round. */
function rounds(shed: Shed, openings: readonly number[], count: number): Round[] {
  const made: Round[] = []
  const passes: { runs: ReturnType<typeof shedRides>; now: Table }[] = []
  let now = table(flat(0))
  for (let k = 0; k < count; k++) {
    const inForce = now
    const added = (rpm: number, load: number): number =>
      Math.log(1 + interpolate(inForce, inForce.values, rpm, load) / 100)
    const runs = shedRides({ ...shed, added }, openings, 3, 100 * k)
    const total = (to: Table) => (k === 0 ? [] : correctedOn(GRID, [{ cylinder: null, then: table(flat(0)), now: to }]))
    const options: FieldOptions = {
      ...DEFAULT_FIELD_OPTIONS,
      grid: GRID,
      target: GRID.load.map((load) => GRID.rpm.map(() => shed.wanted(load))),
      lag: 0.09,
      corrected: total(now),
      correctedBefore: k ? [] : null,
      correctedByPass: passes.map((one) => correctedOn(GRID, [{ cylinder: null, then: table(flat(0)), now: one.now }])),
    }
    const field = fieldOfPasses(
      runs,
      passes.map((one) => one.runs),
      options,
    )
    passes.push({ runs, now })
    const after = table(suggestChange(now, field).values)
    made.push({ field, before: now, after })
    now = after
  }
  return made
}

describe('a machine whose loop holds idle and small openings, whatever is in the table', () => {
  it.each([
    ...seeds(6, 2).map((seed) => [seed, 33, 1240, 11, 0.006] as const),
    // It lets go sooner and hunts more: rows above idle are met for a second in passing.
    ...seeds(6, 2).map((seed) => [seed + 100, 20, 1100, 7, 0.01] as const),
    ...seeds(6, 2).map((seed) => [seed + 100, 40, 1300, 5, 0.008] as const),
    // So short a way through a row that no bin of it fills.
    [120, 20, 1100, 7, 0.01] as const,
  ])(
    'gets no cell there richer by more than 3 %% in two rounds, seed %i at %i Hz',
    (seed, hz, idleRpm, most, swing) => {
      const shed: Shed = { ...SHED, seed, hz, idleRpm, loop: { most, toRpm: 4600, swing } }
      const [, second] = rounds(shed, [9, 17, 31, 100], 2)
      const small = GRID.load.flatMap((load, row) =>
        load > 5 ? [] : GRID.rpm.flatMap((rpm, column) => (rpm > 2600 ? [] : [second!.after.values[row]![column]!])),
      )
      expect(Math.max(...small)).toBeLessThan(3)
    },
  )
})

describe('a pump that is spent at the top', () => {
  it.each(seeds(6, 2))('its cells are said not to answer and get no more, seed %i', (seed) => {
    const shed: Shed = {
      ...SHED,
      seed,
      pump: 0.8,
      need: (rpm, opening) => 0.01 * Math.sin(rpm / 900) + 0.0002 * opening,
    }
    const [first, second] = rounds(shed, [31, 55, 78, 100], 2)
    const [row, column] = [GRID.load.indexOf(100), GRID.rpm.indexOf(8800)]
    // Lean at the top, and corrected once.
    expect(first!.after.values[row]![column]!).toBeGreaterThan(4)
    const { cylinders } = second!.field
    expect(cylinders[0]!.silentPct[row]![column]!).toBeGreaterThan(4)
    const { flatness, changes } = loopStep(second!.field, [{ cylinder: null, table: second!.before }])
    expect(changes[0]!.nodes[row]![column]).toMatchObject({ reason: 'does not answer', changePct: 0 })
    expect(second!.after.values[row]![column]!).toBe(second!.before.values[row]![column]!)
    expect(flatness.isFlat).toBe(false)
    expect(flatness.silent.length).toBeGreaterThan(0)
    // Below the pump's reach it answers.
    expect(cylinders[0]!.silentPct[GRID.load.indexOf(31)]!.every((one) => one === null)).toBe(true)
  })
})

describe('a machine that answers', () => {
  it.each(seeds(12, 3))('has no cell that is said not to, seed %i', (seed) => {
    const shed: Shed = {
      ...SHED,
      seed,
      need: (rpm, opening) => 0.06 * Math.sin(rpm / 1100 + seed) + 0.05 * Math.cos(opening / 21 + seed),
    }
    const made = rounds(shed, [9, 17, 31, 55, 100], 3)
    for (const { field } of made) expect(field.cylinders[0]!.silentPct.flat().filter((one) => one !== null)).toEqual([])
  })
})
