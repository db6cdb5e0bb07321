import { taperChanges } from '../change/taper'
import { beside } from '../table/beside'
import { build, valueLimits, type Table } from '../table/table'
import type { Between } from './advanceCurve'
import type { SparkNode } from './sparkChange'

/** Largest step between neighbours at the border of what points tell, degrees (common practice: a table without teeth). */
const EDGE = 1

/** No cell is advanced by more than a degree over one beside it that was told less, as where knock begins: that would be a tooth. */
export function withoutTeeth(table: Table, cells: readonly (readonly SparkNode[])[]): SparkNode[][] {
  const isTold = (row: number, column: number): boolean =>
    !['no evidence', 'no advice there', 'stale, mixture moved'].includes(cells[row]![column]!.reason)
  const changes = build(table, (row, column) => cells[row]![column]!.changeDeg)
  for (let moved = true; moved;) {
    moved = false
    changes.forEach((line, row) =>
      line.forEach((change, column) => {
        if (!isTold(row, column)) return
        const told = beside([row, column]).filter(([r, c]) => changes[r]?.[c] !== undefined && isTold(r, c))
        const most = Math.min(Infinity, ...told.map(([r, c]) => Math.max(0, changes[r]![c]!) + EDGE))
        if (change <= most + 1e-9) return
        line[column] = most
        moved = true
      }),
    )
  }
  return build(table, (row, column): SparkNode => {
    const node = cells[row]![column]!
    const kept = changes[row]![column]!
    if (kept === node.changeDeg) return node
    const after = Math.round(10 * (node.before + kept)) / 10
    return {
      ...node,
      changeDeg: after - node.before,
      reason: 'kept near its neighbours',
      after,
      gainPct: gainOfLess(node, kept),
      arithmetic: [
        ...node.arithmetic.filter((line) => line.what !== 'apply'),
        { what: 'limit', values: { change: node.changeDeg, limit: kept }, result: kept },
        { what: 'apply', values: { before: node.before, change: kept }, result: after },
      ],
    }
  })
}

/** What a smaller change gains: torque goes as a parabola about its best, its doubt as the change. */
function gainOfLess({ best, before, changeDeg, gainPct }: SparkNode, kept: number): Between | null {
  if (!best || !gainPct) return null
  const off = best.value - before
  const goes = (change: number): number => 2 * change * off - change * change
  if (goes(changeDeg) === 0) return null
  const value = (gainPct.value * goes(kept)) / goes(changeDeg)
  const half = ((gainPct.high - gainPct.low) / 2) * Math.abs(kept / changeDeg)
  return { value, low: value - half, high: value + half }
}

/** Beyond the points the change runs out over the cells beside them, under the knock line. */
export function tapered(
  table: Table,
  cells: readonly (readonly SparkNode[])[],
  clear: (row: number, column: number) => number,
): SparkNode[][] {
  const isFree = (row: number, column: number): boolean => cells[row]![column]!.reason === 'no evidence'
  const isWall = build(table, (row, column) =>
    ['stale, mixture moved', 'no advice there'].includes(cells[row]![column]!.reason),
  )
  const changes = build(table, (row, column) =>
    isFree(row, column) || isWall[row]![column] ? null : cells[row]![column]!.changeDeg,
  )
  const off = taperChanges(changes, isWall, EDGE)
  const { least, most } = valueLimits(table.kind)
  return build(table, (row, column): SparkNode => {
    const node = cells[row]![column]!
    const wanted = off[row]![column] ?? null
    if (!isFree(row, column) || wanted === null) return node
    const change = wanted > 0 ? Math.min(wanted, Math.max(0, clear(row, column))) : wanted
    const after = Math.min(most, Math.max(least, Math.round(10 * (node.before + change)) / 10))
    if (after === node.before) return node
    return {
      ...node,
      changeDeg: after - node.before,
      reason: 'tapered off',
      after,
      arithmetic: [
        { what: 'taper', values: { neighbours: wanted }, result: wanted },
        { what: 'apply', values: { before: node.before, change }, result: after },
      ],
    }
  })
}
