/**
 * What the 90 % interval of a cell holds: the value that the best table of these breakpoints has there, worked out here by
 * ordinary least squares with ml-matrix. Stops that are no rows, the lowest and the highest of them beyond the table's ends.
 */
import { Matrix, solve } from 'ml-matrix'
import { estimateField } from '../src/field/estimate'
import { DEFAULT_FIELD_OPTIONS } from '../src/field/field'
import { place } from '../src/field/readings/placement'
import type { RunColumns } from '../src/run/run'
import { build, type LoadGrid, type Matrix as Cells } from '../src/table/table'
import { knownCase, knownRuns } from './knownTruthLog'
import { seeds } from './seeds'
import { SHED, shedRides } from './shedRides'
import { YARD, yardRides } from './yardRides'

type Need = (rpm: number, load: number) => number
interface Plan {
  grid: LoadGrid
  stops: number[]
  needOf: (seed: number) => Need
}
const TARGET = 0.92
const PLANS: Plan[] = [
  {
    grid: {
      loadAxis: 'throttle',
      rpm: [3000, 3900, 4800, 5700, 6600, 7500, 8400],
      load: [18, 35, 45, 60, 80],
    },
    stops: [10, 22, 40, 65, 100],
    needOf: (seed) => (rpm, load) => 0.02 + 0.045 * Math.sin(rpm / 1400 + seed) + 0.04 * Math.sin(load / 30 + seed / 3),
  },
  {
    grid: { loadAxis: 'throttle', rpm: [3000, 3700, 4500, 5200, 6100, 7000, 7900], load: [15, 25, 40, 55, 75] },
    stops: [9, 20, 33, 52, 71, 90],
    needOf: (seed) => (rpm, load) =>
      0.02 + 0.045 * Math.sin(rpm / 1400 + seed) + 0.05 * Math.cos(load / 24 + rpm / 4000 + seed),
  },
]
const GENERATORS: [string, (plan: Plan, need: Need, seed: number) => { runs: RunColumns[]; target: Cells }][] = [
  [
    'the shed',
    ({ grid, stops }, need, seed) => ({
      runs: shedRides({ ...SHED, seed, need, hz: 15 + (seed % 30), wanted: () => TARGET }, stops, 3),
      target: build(grid, () => TARGET),
    }),
  ],
  [
    'the yard',
    ({ grid, stops }, need, seed) => ({
      runs: yardRides({
        ...YARD,
        seed,
        stops,
        cylinders: 1,
        hz: 12 + (seed % 25),
        lambda: (rpm, load) => TARGET * Math.exp(need(rpm, load)),
      }),
      target: build(grid, () => TARGET),
    }),
  ],
  [
    'known truths',
    ({ grid, stops }, truth, seed) => {
      const known = knownCase(seed, {
        grid,
        stops,
        truth,
        misfire: null,
        held: [],
        target: build(grid, () => TARGET),
      })
      return { runs: knownRuns(known), target: known.target }
    },
  ],
]

/** The best table over the cells and as far below them as was read, in % of fuel. */
function bestTable({ grid, stops }: Plan, need: Need): Cells {
  const places = { rpm: [] as number[], load: [] as number[] }
  for (let rpm = grid.rpm[0]!; rpm <= grid.rpm.at(-1)!; rpm += 50)
    for (let load = stops[0]!; load <= grid.load.at(-1)!; load++) {
      places.rpm.push(rpm)
      places.load.push(load)
    }
  const p = place(grid, Float32Array.from(places.rpm), Float32Array.from(places.load))
  const size = p.columns * p.loads
  const normal = Matrix.eye(size, size).mul(1e-9)
  const right = Matrix.zeros(size, 1)
  for (let i = 0; i < p.count; i++) {
    const [u, v, k] = [p.across[i]!, p.up[i]!, p.node[i]!]
    const shares: [number, number][] = [
      [k, (1 - u) * (1 - v)],
      [k + 1, (1 - u) * v],
      [k + p.loads, u * (1 - v)],
      [k + p.loads + 1, u * v],
    ]
    for (const [a, wa] of shares) {
      right.set(a, 0, right.get(a, 0) + wa * need(places.rpm[i]!, places.load[i]!))
      for (const [b, wb] of shares) normal.set(a, b, normal.get(a, b) + wa * wb)
    }
  }
  const values = solve(normal, right).to1DArray()
  return build(grid, (row, column) => 100 * (Math.exp(values[column * p.loads + row]!) - 1))
}

describe.each(GENERATORS)('rides of %s on stops that are no rows', (_what, ridesOf) => {
  it.each(PLANS.map((plan) => [plan.grid.load.join(' / '), plan] as const))(
    'rows %s: intervals hold the best table, in the row that serves what lies below the table, too',
    (_rows, plan) => {
      const { grid, needOf } = plan
      const [held, known] = [grid.load.map(() => 0), grid.load.map(() => 0)]
      for (const seed of seeds(20, 6)) {
        const need = needOf(seed)
        const { runs, target } = ridesOf(plan, need, seed)
        const [one] = estimateField(runs, { ...DEFAULT_FIELD_OPTIONS, grid, target, hasLoop: false }).cylinders
        const best = bestTable(plan, need)
        grid.load.forEach((_, row) =>
          grid.rpm.forEach((_rpm, column) => {
            const [low, high] = [one!.lowPct[row]![column], one!.highPct[row]![column]]
            if (low == null || high == null) return
            known[row]!++
            if (best[row]![column]! >= low && best[row]![column]! <= high) held[row]!++
          }),
        )
      }
      const sum = (all: number[]): number => all.reduce((total, one) => total + one, 0)
      expect(sum(known)).toBeGreaterThan(0.9 * seeds(20, 6).length * grid.load.length * grid.rpm.length)
      expect(sum(held) / sum(known)).toBeGreaterThan(0.85)
      expect(sum(held) / sum(known)).toBeLessThan(0.995)
      expect(held[0]! / known[0]!).toBeGreaterThan(0.8)
    },
  )
})
