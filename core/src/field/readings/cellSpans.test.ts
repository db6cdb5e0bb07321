import { DEFAULT_FILTERS } from '../../run/run'
import { cellAt } from './cellAt'
import { cellSpans } from './cellSpans'

const grid = { rpm: [2000, 4000, 6000], load: [20, 60] }

describe('when a run fed each cell', () => {
  it('each visit is told by itself, and what does not count feeds none', () => {
    const rows = Array.from({ length: 600 }, (_, k) => k / 20)
    // Ten seconds at 4,000, ten at 2,000, then 4,000 again.
    const speed = rows.map((t) => (t >= 10 && t < 20 ? 2000 : 4000))
    const run = {
      id: 'r',
      time: Float32Array.from(rows),
      rpm: Float32Array.from(speed),
      throttle: Float32Array.from(rows, () => 20),
      lambda: [Float32Array.from(rows, () => 0.9)],
    }
    const options = { loadAxis: 'throttle' as const, lag: 0, filters: DEFAULT_FILTERS }
    const spans = cellSpans(run, grid, options)!
    expect(spans[0]![1]!.map(({ from, to }) => [Math.round(from), Math.round(to)])).toEqual([
      [0, 10],
      [20, 30],
    ])
    expect(spans[0]![0]).toHaveLength(1)
    expect(spans[1]!.flat()).toEqual([])
    const without = cellSpans({ ...run, without: [{ from: 0, to: 15 }] }, grid, options)!
    expect(without[0]![1]!).toHaveLength(1)
    const { throttle: _, ...blind } = run
    expect(cellSpans(blind, grid, options)).toBeNull()
  })

  it('a place further outside than half a cell lies in none', () => {
    expect(cellAt(grid, 900, 20)).toBeNull()
    expect(cellAt(grid, 6990, 79)).toEqual({ row: 1, column: 2 })
    expect(cellAt(grid, NaN, 20)).toBeNull()
  })
})
