import { locate } from '../table/lookup'
import { build, valueLimits, type Matrix, type Table } from '../table/table'
import { knockOffset } from './bin'
import { DEFAULT_SPARK } from './fitAdvance'
import type { JudgedBin } from './judge'

/** How far one pass may go, degrees; less advance is given as a positive size. */
export interface SparkLimits {
  more: number
  less: number
  /** more advance where knock was seen near, or where nothing was there to see it */
  moreAfterKnock: number
  moreUnseen: number
  /** changes smaller than this are not worth a cell */
  least: number
}

/** Common practice: a degree and a half at a time forward, back as fast as it takes. */
export const DEFAULT_SPARK_LIMITS: SparkLimits = { more: 1.5, less: 4, moreAfterKnock: 0.5, moreUnseen: 1, least: 0.3 }

/** What decided a cell's change. */
type SparkReason =
  | 'as measured'
  | 'limited, more advance'
  | 'limited, less advance'
  | 'limited, knock was seen'
  | 'limited, no knock channel'
  | 'nothing to gain'
  | 'stale, mixture moved'
  | 'no advice there'
  | 'no evidence'
  | 'too small to matter'
  | 'limited by the table'

/** One line of the arithmetic behind a cell, as numbers; the interface prints it. */
export interface SparkArithmetic {
  what: 'point' | 'weigh' | 'limit' | 'apply' | 'stay'
  values: Record<string, number>
  result: number
}

export interface SparkNode {
  /** degrees */
  changeDeg: number
  reason: SparkReason
  before: number
  after: number
  /** points that speak for it */
  points: string[]
  arithmetic: SparkArithmetic[]
}

export interface SuggestedSpark {
  nodes: SparkNode[][]
  values: Matrix
}

/** Weight below which a point is too far from a node to speak for it. */
const LEAST_WEIGHT = 0.2
const TALKS = ['best torque', 'knock', 'no gain']

/** Shares in which a value's two breakpoints stand for it. */
function tent(breakpoints: readonly number[], value: number, index: number): number {
  const [below, fraction] = locate(breakpoints, value)
  return index === below ? 1 - fraction : index === below + 1 ? fraction : 0
}

interface Voice {
  one: JudgedBin
  weight: number
  change: number
}

/**
 * Suggested change of a spark table, base or trim, by node, from the points that were measured near it: what each advises
 * over what was there, less what the table was moved by since, weighed by nearness. Knock speaks louder than anything: of
 * points near a node the one that knock limits decides. Never beyond one step outside what was tried.
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
  if (!table.kind.startsWith('spark')) throw new RangeError(`A ${table.kind} table does not set spark.`)
  const nodes = build(table, (row, column) => suggestNode(table, bins, limits, knockMargin, row, column))
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
  const near = bins
    // A setting of the whole engine says nothing of single cells: that is what the one knob is for.
    .filter(({ bin }) => !bin.isStatic)
    .map((one) => ({ one, weight: nearness(table, one, row, column), change: changeOf(one) }))
    .filter(({ weight }) => weight >= LEAST_WEIGHT)
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
  const clear = Math.min(...near.map(({ one }) => knockOffset(one.bin) - one.moved)) - knockMargin
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

/** What a point still advises: over what was there, less what the table was moved by since. */
function changeOf({ bin, fit, moved }: JudgedBin): number {
  return (fit.recommended ?? bin.present) - bin.present - moved
}

function nearness(table: Table, { bin }: JudgedBin, row: number, column: number): number {
  const across = tent(table.rpm, bin.rpm, column)
  // Rows of manifold pressure are not told by a throttle opening: a point counts for the row of highest load only.
  const up =
    table.loadAxis === 'throttle'
      ? tent(table.load, bin.stop ?? 100, row)
      : (bin.stop ?? 100) >= 97 && row === table.load.length - 1
        ? 1
        : 0
  return across * up
}
