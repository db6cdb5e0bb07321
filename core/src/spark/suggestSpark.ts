import { setsSpark } from '../table/kinds'
import { taperChanges } from '../change/taper'
import { build, valueLimits, type SparseMatrix, type Table } from '../table/table'
import { knockOffset } from './bin'
import { DEFAULT_SPARK } from './fitAdvance'
import type { JudgedBin } from './judge'
import {
  type SparkLimits,
  DEFAULT_SPARK_LIMITS,
  type SparkReason,
  type SparkArithmetic,
  type SparkNode,
  type SuggestedSpark,
} from './sparkChange'
import { clearOf, nearOf, TALKS, type Voice } from './voices'

/**
 * Suggested change of a spark table, base or trim, by node, from the points that were measured near it: what each advises
 * over what was there, less what the table was moved by since, weighed by nearness. Knock speaks louder than anything: of
 * points near a node the one that knock limits decides. Never beyond one step outside what was tried. Between points the change
 * follows straight, and beyond them it tapers off.
 *
 * @param knockMargin degrees kept from any knock met near
 * @throws RangeError when the table does not set spark
 */
export function suggestSpark(
  table: Table,
  bins: readonly JudgedBin[],
  limits: SparkLimits = DEFAULT_SPARK_LIMITS,
  knockMargin = DEFAULT_SPARK.knockMargin,
): SuggestedSpark {
  if (!setsSpark(table)) throw new RangeError(`A ${table.kind} table does not set spark.`)
  const own = build(table, (row, column) => suggestNode(table, bins, limits, knockMargin, row, column))
  const nodes = followed(table, own, (row, column) => clearOf(nearOf(table, bins, row, column), knockMargin))
  return { nodes, values: build(table, (row, column) => nodes[row]![column]!.after) }
}

function suggestNode(
  table: Table,
  bins: readonly JudgedBin[],
  limits: SparkLimits,
  knockMargin: number,
  row: number,
  column: number,
): SparkNode {
  const before = table.values[row]![column]!
  const stay = (reason: SparkReason, near: Voice[] = []): SparkNode => ({
    changeDeg: 0,
    reason,
    before,
    after: before,
    points: near.map(({ one }) => one.key),
    arithmetic: [{ what: 'stay', values: {}, result: before }],
  })
  const near = nearOf(table, bins, row, column)
  if (near.length === 0) return stay('no evidence')
  const telling = near.filter(({ one }) => !one.stale && TALKS.includes(one.fit.verdict) && one.fit.curve)
  if (telling.length === 0)
    return stay(near.some(({ one }) => one.stale) ? 'stale, mixture moved' : 'no advice there', near)

  const knocking = telling.filter(({ one }) => one.fit.verdict === 'knock')
  const voices = knocking.length
    ? [knocking.reduce((least, one) => (one.change < least.change ? one : least))]
    : telling
  const weight = voices.reduce((sum, one) => sum + one.weight, 0)
  const weighed = voices.reduce((sum, one) => sum + one.weight * one.change, 0) / weight
  const arithmetic: SparkArithmetic[] = [
    ...voices.map(({ one, change, weight }): SparkArithmetic => ({
      what: 'point',
      values: {
        stop: one.bin.stop ?? NaN,
        rpm: one.bin.rpm,
        present: one.bin.present,
        advised: one.fit.recommended ?? one.bin.present,
        moved: one.moved,
        weight,
      },
      result: change,
    })),
    ...(voices.length > 1 ? [{ what: 'weigh' as const, values: { points: voices.length }, result: weighed }] : []),
  ]
  if (voices.every(({ one }) => one.fit.recommended === null) && Math.abs(weighed) < limits.least)
    return { ...stay('nothing to gain', near), arithmetic }

  const sawKnock = near.some(({ one }) => knockOffset(one.bin) < Infinity)
  const unseen = near.some(({ one }) => !one.bin.hasKnockChannel)
  const most = Math.min(limits.more, sawKnock ? limits.moreAfterKnock : Infinity, unseen ? limits.moreUnseen : Infinity)
  // Knock met near the node holds it back, whether or not a curve could be fitted there.
  const clear = clearOf(near, knockMargin)
  let [change, reason]: [number, SparkReason] = [weighed, 'as measured']
  if (weighed > clear && clear < most) {
    change = Math.max(clear, -limits.less)
    reason = 'limited, knock was seen'
  } else if (weighed > most) {
    change = most
    reason =
      most === limits.more
        ? 'limited, more advance'
        : sawKnock && most === limits.moreAfterKnock
          ? 'limited, knock was seen'
          : 'limited, no knock channel'
  } else if (weighed < -limits.less) [change, reason] = [-limits.less, 'limited, less advance']
  if (change !== weighed) arithmetic.push({ what: 'limit', values: { change: weighed, limit: change }, result: change })
  if (Math.abs(change) < limits.least) return { ...stay('too small to matter', near), arithmetic }
  const { least, most: highest } = valueLimits(table.kind)
  const wanted = Math.round(10 * (before + change)) / 10
  const after = Math.min(highest, Math.max(least, wanted))
  if (after !== wanted) reason = 'limited by the table'
  arithmetic.push({ what: 'apply', values: { before, change }, result: after })
  return { changeDeg: after - before, reason, before, after, points: near.map(({ one }) => one.key), arithmetic }
}

/** Largest step between neighbours at the border of what points tell, degrees (common practice: a table without teeth). */
const EDGE = 1

/**
 * Nodes between points follow straight from one to the next, along speed and then along load; beyond the last the change tapers
 * off. None goes past a knock limit on either side of it.
 *
 * @param clear degrees left to knock at a node
 */
function followed(
  table: Table,
  own: readonly (readonly SparkNode[])[],
  clear: (row: number, column: number) => number,
): SparkNode[][] {
  const isFree = (row: number, column: number): boolean => own[row]![column]!.reason === 'no evidence'
  const isWall = build(table, (row, column) =>
    ['stale, mixture moved', 'no advice there'].includes(own[row]![column]!.reason),
  )
  const told: SparseMatrix = build(table, (row, column) =>
    isFree(row, column) || isWall[row]![column] ? null : own[row]![column]!.changeDeg,
  )
  const alongRpm = build(table, (row, column) =>
    told[row]![column] === null && isFree(row, column)
      ? straight(table.rpm, (k) => told[row]![k] ?? null, column)
      : told[row]![column]!,
  )
  const between: SparseMatrix = build(table, (row, column) =>
    alongRpm[row]![column] === null && isFree(row, column)
      ? straight(table.load, (k) => alongRpm[k]![column] ?? null, row)
      : alongRpm[row]![column]!,
  )
  const tapered = taperChanges(between, isWall, EDGE)
  /** The least that is left to knock at a node or at the nearest told ones about it. */
  const room = build(table, (row, column) => clear(row, column))
  const about = (row: number, column: number): number =>
    Math.min(
      room[row]![column]!,
      ...[-1, 1].map((way) =>
        firstTold(
          table.rpm.length,
          column,
          way,
          (k) => told[row]![k] !== null,
          (k) => room[row]![k]!,
        ),
      ),
      ...[-1, 1].map((way) =>
        firstTold(
          table.load.length,
          row,
          way,
          (k) => told[k]![column] !== null,
          (k) => room[k]![column]!,
        ),
      ),
    )
  return build(table, (row, column): SparkNode => {
    const node = own[row]![column]!
    if (!isFree(row, column)) return node
    const [straightOn, off] = [between[row]![column] ?? null, tapered[row]![column] ?? null]
    const wanted = straightOn ?? off
    if (wanted === null) return node
    const limit = about(row, column)
    const change = wanted > 0 ? Math.min(wanted, Math.max(0, limit)) : wanted
    const { least, most } = valueLimits(table.kind)
    const after = Math.min(most, Math.max(least, Math.round(10 * (node.before + change)) / 10))
    if (after === node.before) return node
    return {
      ...node,
      changeDeg: after - node.before,
      reason: change < wanted ? 'limited, knock was seen' : straightOn !== null ? 'between points' : 'tapered off',
      after,
      arithmetic: [
        { what: straightOn !== null ? 'between' : 'taper', values: { neighbours: wanted }, result: wanted },
        ...(change < wanted
          ? [{ what: 'limit' as const, values: { change: wanted, limit: change }, result: change }]
          : []),
        { what: 'apply', values: { before: node.before, change }, result: after },
      ],
    }
  })
}

/** Value straight between the nearest known ones on either side along an axis; null without both. */
function straight(axis: readonly number[], known: (k: number) => number | null, at: number): number | null {
  let [low, high] = [at - 1, at + 1]
  while (low >= 0 && known(low) === null) low--
  while (high < axis.length && known(high) === null) high++
  if (low < 0 || high >= axis.length) return null
  const share = (axis[at]! - axis[low]!) / (axis[high]! - axis[low]!)
  return (1 - share) * known(low)! + share * known(high)!
}

/** What the first told node on one side says; Infinity where there is none. */
function firstTold(
  count: number,
  at: number,
  way: number,
  isTold: (k: number) => boolean,
  value: (k: number) => number,
): number {
  for (let k = at + way; k >= 0 && k < count; k += way) if (isTold(k)) return value(k)
  return Infinity
}
