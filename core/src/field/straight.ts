import { signed } from '../numbers/format'
import { build, type LoadGrid, type SparseMatrix } from '../table/table'
import type { CylinderField } from './field'

/**
 * RMS of what a straight line leaves of a parabola over a gap of width w that bends by b: b w^2 over this. The best straight
 * line lies b w^2 / 12 below the chord; what is left has variance (b w^2)^2 / 720.
 */
const LEFT = Math.sqrt(720)
/** Breakpoints are made on whole hundreds of rpm, and whole per cent or kPa. */
const ROUND = { rpm: 100, load: 1 }
/** Share of what is left, and % of fuel that must be left, for another breakpoint to be named. */
const WORTH = { share: 0.25, least: 0.1 }

/** What cells cannot follow because a table is straight between its breakpoints. */
export interface Straight {
  /** RMS over cells that are known, % of fuel: left even by the best table on these breakpoints */
  leavesPct: number
  /** by cylinder and cell, RMS in the gaps about it; null where neighbours are not known */
  cells: SparseMatrix[]
  /** the breakpoint that would take most of it away, and what it would leave; null where none is worth it */
  better: { axis: 'rpm' | 'load'; at: number; leavesPct: number } | null
}

/** What one gap between breakpoints leaves, summed over its cells. */
interface Gap {
  axis: 'rpm' | 'load'
  k: number
  /** sum of squares of what it leaves, over its cells */
  square: number
}

/**
 * What is left of a field between breakpoints when its table is right at all of them: the engine bends, a table does not.
 * Told from how the field bends from breakpoint to breakpoint, so that a ripple shorter than a gap is not seen, and
 * an end gap is taken to bend as the one beside it.
 *
 * @returns null where no three cells in a row are known
 */
export function straightBetween(
  grid: LoadGrid,
  cylinders: readonly Pick<CylinderField, 'changePct'>[],
): Straight | null {
  const axes = ['rpm', 'load'] as const
  const gaps = axes.flatMap((axis) => grid[axis].slice(1).map((_, k): Gap => ({ axis, k, square: 0 })))
  const gapOf = (axis: Gap['axis'], k: number): Gap => gaps[axis === 'rpm' ? k : grid.rpm.length - 1 + k]!
  let [sum, count] = [0, 0]
  const cells = cylinders.map(({ changePct }) => {
    const need = (row: number, column: number): number => {
      const pct = changePct[row]?.[column]
      return pct === null || pct === undefined ? NaN : Math.log(1 + pct / 100)
    }
    return build(grid, (row, column): number | null => {
      if (!Number.isFinite(need(row, column))) return null
      const bends = axes.map((axis) => {
        const [points, at] = axis === 'rpm' ? [grid.rpm, column] : [grid.load, row]
        const along = (k: number): number => (axis === 'rpm' ? need(row, k) : need(k, column))
        return { axis, points, at, bend: bendAt(points, along, at) }
      })
      const known = bends.filter((one) => Number.isFinite(one.bend))
      if (known.length === 0) return null
      let square = 0
      for (const { axis, points, at, bend } of known) {
        // The gaps to both sides count half each: a cell stands for the middle of them.
        const sides = [at - 1, at].filter((k) => k >= 0 && k < points.length - 1)
        for (const k of sides) {
          const left = ((bend * (points[k + 1]! - points[k]!) ** 2) / LEFT) ** 2 / sides.length
          square += left
          gapOf(axis, k).square += left
        }
      }
      sum += square
      count++
      return 100 * Math.sqrt(square)
    })
  })
  if (count === 0) return null
  const worst = gaps.reduce((a, b) => (b.square > a.square ? b : a))
  const rest = Math.max(0, sum - worst.square * (1 - 1 / 16))
  const [from, to] = [grid[worst.axis][worst.k]!, grid[worst.axis][worst.k + 1]!]
  const at = ROUND[worst.axis] * Math.round((from + to) / 2 / ROUND[worst.axis])
  const [leaves, would] = [sum, rest].map((one) => 100 * Math.sqrt(one / count)) as [number, number]
  const isWorth = at > from && at < to && leaves >= WORTH.least && would <= (1 - WORTH.share) * leaves
  return { leavesPct: leaves, cells, better: isWorth ? { axis: worst.axis, at, leavesPct: would } : null }
}

/** How a field bends at a point, per unit of the axis squared; at an end as the point beside it; NaN where neighbours are unknown. */
function bendAt(points: readonly number[], value: (k: number) => number, at: number): number {
  const k = Math.min(points.length - 2, Math.max(1, at))
  if (points.length < 3) return NaN
  const [before, after] = [points[k]! - points[k - 1]!, points[k + 1]! - points[k]!]
  const rise = (value(k + 1) - value(k)) / after - (value(k) - value(k - 1)) / before
  return (2 * rise) / (before + after)
}

/** In words, for Mixture and the report. */
export function straightWords({ leavesPct, better }: Straight, unit: string): string {
  const said = `Straight between breakpoints leaves ${signed(leavesPct).replace('+', '')} % at best, typically, however right the cells are.`
  if (!better) return said
  const what = better.axis === 'rpm' ? `A column at ${better.at} rpm` : `A row at ${better.at} ${unit}`
  return `${said} ${what} would leave ${signed(better.leavesPct).replace('+', '')} %.`
}
