import { SHED, shedRides, type Shed } from '../../trials/shedRides'
import { seeds } from '../../trials/seeds'
import { build, type LoadGrid } from '../table/table'
import { interpolate } from '../table/lookup'
import { estimateField } from './estimate'
import { DEFAULT_FIELD_OPTIONS } from './field'
import { straightBetween, straightWords } from './straight'

const needs: [string, (rpm: number, load: number) => number][] = [
  ['a bend along rpm', (rpm) => 0.05 * Math.sin(rpm / 1300)],
  ['a bend along load', (_, load) => 0.06 * Math.sin(load / 19)],
  ['both', (rpm, load) => 0.04 * Math.sin(rpm / 1500 + load / 30) + 0.03 * Math.cos(load / 21)],
]
const GRIDS: LoadGrid[] = [
  { loadAxis: 'throttle', rpm: [3000, 4200, 5400, 6600, 7800], load: [18, 35, 45, 60, 80] },
  { loadAxis: 'throttle', rpm: [3000, 3700, 4500, 5200, 6100, 7000, 7900], load: [12, 25, 40, 60, 85] },
]
const exp = (one: number): number => 100 * (Math.exp(one) - 1)

/** What the best table on these breakpoints leaves, by trying: coordinates are bettered until nothing is won. */
function bestLeft(grid: LoadGrid, need: (rpm: number, load: number) => number): number {
  const places: [number, number][] = []
  const [rpm, load] = [grid.rpm, grid.load]
  for (let r = rpm[0]!; r <= rpm.at(-1)!; r += 60) for (let l = load[0]!; l <= load.at(-1)!; l += 1) places.push([r, l])
  const values = build(grid, (row, column) => need(rpm[column]!, load[row]!))
  // Gauss-Seidel on the normal equations: a cell is moved to where the residual it bears on has no share left.
  const shares = places.map(([r, l]) => {
    const hat = (points: readonly number[], at: number): [number, number][] =>
      points.flatMap((point, k): [number, number][] => {
        const [low, high] = [points[k - 1] ?? -Infinity, points[k + 1] ?? Infinity]
        const share = at < point ? (at - low) / (point - low) : (high - at) / (high - point)
        const weight = at === point ? 1 : Number.isFinite(share) ? share : 0
        return weight > 0 && weight <= 1 ? [[k, weight]] : []
      })
    return hat(load, l).flatMap(([row, u]) => hat(rpm, r).map(([column, v]) => ({ row, column, w: u * v })))
  })
  const byNode = new Map<string, { i: number; w: number }[]>()
  shares.forEach((list, i) =>
    list.forEach(({ row, column, w }) => {
      const key = `${row} ${column}`
      byNode.set(key, [...(byNode.get(key) ?? []), { i, w }])
    }),
  )
  const left = places.map(([r, l]) => need(r, l) - interpolate({ ...grid, values } as never, values, r, l))
  for (let round = 0; round < 60; round++)
    for (const [key, list] of byNode) {
      const [row, column] = key.split(' ').map(Number) as [number, number]
      const move = list.reduce((sum, { i, w }) => sum + w * left[i]!, 0) / list.reduce((sum, { w }) => sum + w * w, 0)
      values[row]![column]! += move
      for (const { i, w } of list) left[i]! -= w * move
    }
  return 100 * Math.sqrt(left.reduce((sum, one) => sum + one * one, 0) / left.length)
}

describe('what straight cells cannot follow', () => {
  it.each(needs.flatMap(([what, need]) => GRIDS.map((grid, k) => [what, k, need, grid] as const)))(
    'is told of %s on grid %i as far as breakpoints show it, against what the best table leaves',
    (_what, _k, need, grid) => {
      const told = straightBetween(grid, [
        { changePct: build(grid, (r, c) => exp(need(grid.rpm[c]!, grid.load[r]!))) },
      ])!
      const best = bestLeft(grid, need)
      // A wide last gap shows no bend of its own: what is told is too little there.
      expect(told.leavesPct / best).toBeGreaterThan(0.4)
      expect(told.leavesPct / best).toBeLessThan(1.5)
    },
  )
  it.each(seeds(6, 2))('is told from rides as from the truth, seed %i', (seed) => {
    const need = needs[2]![1]
    const shed: Shed = { ...SHED, seed, need }
    const [grid] = GRIDS
    const { cylinders } = estimateField(shedRides(shed, [18, 26, 35, 45, 60, 80]), {
      ...DEFAULT_FIELD_OPTIONS,
      grid: grid!,
      target: build(grid!, (r) => shed.wanted(grid!.load[r]!)),
      lag: 0.09,
    })
    const told = straightBetween(grid!, cylinders)!
    const best = bestLeft(grid!, need)
    expect(told.leavesPct / best).toBeGreaterThan(0.6)
    expect(told.leavesPct / best).toBeLessThan(1.6)
  })
  it('names the breakpoint that would take most of it away, and what is left then is so', () => {
    const need = needs[1]![1]
    const grid = { ...GRIDS[0]!, load: [10, 20, 30, 70, 80, 90] }
    const field = (on: LoadGrid) => [{ changePct: build(on, (r, c) => exp(need(on.rpm[c]!, on.load[r]!))) }]
    const { better, leavesPct } = straightBetween(grid, field(grid))!
    expect(better).toMatchObject({ axis: 'load', at: 50 })
    const finer = { ...grid, load: [10, 20, 30, 50, 70, 80, 90] }
    expect(better!.leavesPct).toBeLessThan(0.75 * leavesPct)
    expect(bestLeft(finer, need) / bestLeft(grid, need)).toBeLessThan(0.6)
    expect(straightWords({ leavesPct, better, cells: [] }, '%')).toMatch(
      /^Straight between breakpoints leaves \d\.\d % at best.* A row at 50 % would leave \d\.\d %\.$/,
    )
  })
  it('is nothing of a straight field, and not told where too little is known', () => {
    const grid = GRIDS[0]!
    const flat = straightBetween(grid, [{ changePct: build(grid, () => 3) }])!
    expect(flat.leavesPct).toBeCloseTo(0, 9)
    expect(flat.better).toBeNull()
    const few = build(grid, (r, c) => (r === 0 && c < 2 ? 1 : null))
    expect(straightBetween(grid, [{ changePct: few }])).toBeNull()
  })
})
