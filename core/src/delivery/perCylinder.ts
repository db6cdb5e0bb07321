import { percentFromFactor } from '../fuel/mixture'
import { build, type Matrix, type SparseMatrix } from '../table/table'
import { onTop } from './onTop'
import { oneFactor } from './oneFactor'
import { givenAt, leftOf } from './left'
import { pointsOf } from './points'
import { asWanted, givenByWhole } from './wholeTable'
import type { Wanted } from './wanted'

/** Tables for each cylinder against one for all with offsets. */
export interface CylinderTrims {
  /** by cylinder: percent on top of the shared table */
  offsets: number[]
  /** what all cylinders want in common, %, null where one of them is not known */
  shared: SparseMatrix
  /** what the shared table with offsets leaves, by cylinder: typically off by, % (tables of their own leave nothing at the cells) */
  leftPct: number[]
  /** how far a table bends from cell to cell: root of the mean square second difference, %; of their own tables, and of the shared one */
  bendPct: { own: number; shared: number }
}

/**
 * What a shared table with one offset a cylinder would leave, and whether it is smoother than tables of their own.
 *
 * @param wanted of each cylinder, on the same breakpoints
 * @returns null where nothing is known of all of them
 */
export function cylinderTrims(wanted: readonly Wanted[]): CylinderTrims | null {
  const first = wanted[0]!
  const shared = build(first, (row, column): number | null => {
    const all = wanted.map((one) => one.pct[row]![column]!)
    return all.some((one) => one === null) ? null : all.reduce((sum: number, one) => sum + one!, 0) / all.length
  })
  if (shared.flat().every((one) => one === null)) return null
  const common: Wanted = { ...first, pct: shared }
  const given = givenByWhole(asWanted(common))
  const found = wanted.map((one) => {
    const both = {
      ...one,
      pct: one.pct.map((cells, r) => cells.map((pct, c) => (shared[r]![c] === null ? null : pct))),
    }
    const rest = pointsOf(onTop(both, (rpm, load) => 1 / given(rpm, load)))
    const offset = oneFactor(rest).factor
    return {
      offset: percentFromFactor(offset),
      left: leftOf(
        rest,
        givenAt(rest, () => offset),
      ).rmsPct,
    }
  })
  return {
    offsets: found.map((one) => one.offset),
    shared,
    leftPct: found.map((one) => one.left),
    bendPct: {
      own: Math.sqrt(wanted.reduce((sum, one) => sum + bendOf(one.pct) ** 2, 0) / wanted.length),
      shared: bendOf(shared),
    },
  }
}

/** Root of the mean square second difference between known neighbours, along both axes. */
function bendOf(pct: SparseMatrix): number {
  const along = (lines: SparseMatrix): number[] =>
    lines.flatMap((line) =>
      line.slice(1, -1).flatMap((one, k) => {
        const [before, after] = [line[k]!, line[k + 2]!]
        return one === null || before === null || after === null ? [] : [before - 2 * one + after]
      }),
    )
  const turned = (pct[0] ?? []).map((_, column) => pct.map((cells) => cells[column]!))
  const bends: Matrix[number] = [...along(pct), ...along(turned)]
  return bends.length ? Math.sqrt(bends.reduce((sum, one) => sum + one * one, 0) / bends.length) : 0
}
