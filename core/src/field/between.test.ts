import { knownCase, knownRuns } from '../../trials/knownTruthLog'
import { estimateField } from './estimate'
import { DEFAULT_FIELD_OPTIONS, type Field } from './field'

/** A smooth truth; sweeps at a few of the table's rows only, to a speed between two of its columns. */
const caseOf = (seed: number) =>
  knownCase(seed, {
    held: [],
    misfire: null,
    truth: (rpm, load) => 0.05 + 0.05 * Math.sin(rpm / 1600) + 0.0009 * load,
    stops: [10, 40, 60, 100],
    sweep: { ...knownCase(seed).sweep, to: 9000 },
  })
const solve = (seed: number): { c: ReturnType<typeof caseOf>; field: Field } => {
  const c = caseOf(seed)
  return { c, field: estimateField(knownRuns(c), { ...DEFAULT_FIELD_OPTIONS, grid: c.grid, target: c.target }) }
}

describe.each([1, 2, 3])('rows that no run has seen, seed %i', (seed) => {
  const { c, field } = solve(seed)
  const [one] = field.cylinders
  const between = c.grid.load
    .map((load, row) => ({ load, row }))
    .filter(({ load }) => load > 10 && !c.stops.includes(load))
  it('are bridged between those that were measured, and near the truth', () => {
    const errors = between.flatMap(({ load, row }) =>
      c.grid.rpm.flatMap((rpm, k) => {
        if (rpm < c.sweep.from + 1000 || rpm > 8500) return []
        expect([load, rpm, one!.evidence[row]![k]]).toEqual([load, rpm, 'bridged'])
        expect(one!.samples[row]![k]).toBeLessThan(1)
        return [one!.changePct[row]![k]! - 100 * (Math.exp(c.truth(rpm, load)) - 1)]
      }),
    )
    expect(errors.length).toBeGreaterThan(20)
    expect(Math.max(...errors.map(Math.abs))).toBeLessThan(1.5)
  })
  it('their interval holds the truth', () => {
    let inside = 0
    let all = 0
    for (const { load, row } of between)
      c.grid.rpm.forEach((rpm, k) => {
        const [low, high] = [one!.lowPct[row]![k], one!.highPct[row]![k]]
        if (one!.evidence[row]![k] !== 'bridged' || low == null || high == null) return
        const truth = 100 * (Math.exp(c.truth(rpm, load)) - 1)
        all++
        if (truth >= low && truth <= high) inside++
      })
    expect(inside / all).toBeGreaterThan(0.9)
  })
  it('nothing is told beyond the fastest that was measured', () => {
    c.grid.load.forEach((_, row) => {
      const fast = c.grid.rpm.map((rpm, k) => ({ rpm, k })).filter(({ rpm }) => rpm >= 9500)
      expect(fast.map(({ k }) => one!.evidence[row]![k])).toEqual(fast.map(() => 'none'))
      expect(fast.map(({ k }) => one!.changePct[row]![k])).toEqual(fast.map(() => null))
    })
  })
})

it('a cell beyond the last reading of its row is bridged, never measured', () => {
  const c = caseOf(4)
  const grid = { ...c.grid, rpm: [...c.grid.rpm.filter((rpm) => rpm <= 8500), 9000, 9500] }
  const target = grid.load.map(() => grid.rpm.map(() => 0.9))
  const field = estimateField(knownRuns({ ...c, grid, target }), { ...DEFAULT_FIELD_OPTIONS, grid, target })
  const [one] = field.cylinders
  const row = grid.load.indexOf(60)
  const at = (rpm: number): string => one!.evidence[row]![grid.rpm.indexOf(rpm)]!
  // The last reading of the sweep is near 8,800: 8,500 lies between readings, 9,000 has some on one side only, 9,500 none.
  expect([at(8500), at(9000), at(9500)]).toEqual(['solid', 'bridged', 'none'])
  const width = (rpm: number): number =>
    one!.highPct[row]![grid.rpm.indexOf(rpm)]! - one!.lowPct[row]![grid.rpm.indexOf(rpm)]!
  expect(width(9000)).toBeGreaterThan(2 * width(8500))
})

it('where the engine bends more within a cell than a table can, the interval holds the truth at the crest, too', () => {
  let [inside, all] = [0, 0]
  for (const seed of [1, 2, 3]) {
    const c = knownCase(seed, { held: [], misfire: null, hz: 100 })
    const [one] = estimateField(knownRuns(c), { ...DEFAULT_FIELD_OPTIONS, grid: c.grid, target: c.target }).cylinders
    // The lean hole about 5,200 rpm is a sharp crest between these two columns.
    for (const rpm of [5000, 5500])
      for (const load of c.stops) {
        const [row, column] = [c.grid.load.indexOf(load), c.grid.rpm.indexOf(rpm)]
        const truth = 100 * (Math.exp(c.truth(rpm, load)) - 1)
        all++
        if (truth >= one!.lowPct[row]![column]! && truth <= one!.highPct[row]![column]!) inside++
      }
  }
  expect(inside / all).toBeGreaterThan(0.85)
})
