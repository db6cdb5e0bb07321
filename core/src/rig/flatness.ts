import type { Evidence } from '../field/evidence'
import type { CylinderField, Field } from '../field/field'
import { factorFromPercent } from '../fuel/mixture'
import type { SparseMatrix } from '../table/table'
import { rangeFlatness, type RangeFlatness } from './rangeFlatness'

/** A node of a cylinder with how far it is off, %. */
export interface OffNode {
  cylinder: number
  row: number
  column: number
  pct: number
}

/**
 * How flat a measured field is, over the range it reaches and its nodes of solid evidence, those bridged between readings, and
 * thin ones whose whole interval is lean: what endangers an engine counts however few readings tell of it. Outside held
 * zones. Percent of fuel.
 */
export interface MeasuredFlatness {
  nodes: number
  /** those of them that no reading lies at */
  bridged: number
  held: number
  /** over points of the range that readings reach, cells and what lies between them; over cells where none has a neighbour */
  rms: number
  range: RangeFlatness
  worst: OffNode | null
  /** rows of the table that no run has seen, lowest first: bridged ones and unknown ones */
  unseen: { row: number; isBridged: boolean }[]
  /** off target beyond doubt, worst first */
  open: OffNode[]
  /** those of them that do not answer to fuel: something else is wrong there; `pct` is what was moved for nothing */
  silent: OffNode[]
  /** within the aim, or with nothing left that the evidence can tell from chance; and nothing to be taken back */
  isFlat: boolean
}

/** What a corrected machine should reach, % of target; common practice for a careful job. */
export const FLAT_AIM = { rms: 1, worst: 2.5 }
/** Departures below this are not worth another pass, % */
const SMALL = 1

interface KnownNode {
  one: CylinderField
  row: number
  column: number
  lambda: number
  pct: number
  low: number
  high: number
  isBridged: boolean
}

const isHeld = (one: CylinderField, row: number, column: number): boolean =>
  one.held[row]![column]! && !one.byTrim[row]![column]

/** Nodes of some grades of evidence outside held zones, of all cylinders; and thin ones that are lean beyond doubt, where asked. */
function knownNodes(field: Field, grades: readonly Evidence[], withLean = false): KnownNode[] {
  return field.cylinders.flatMap((one) =>
    one.evidence.flatMap((cells, row) =>
      cells.flatMap((evidence, column) => {
        const [lambda, pct] = [one.lambda[row]![column] ?? null, one.changePct[row]![column] ?? null]
        const isLean = withLean && evidence === 'thin' && (pct ?? 0) > SMALL && one.lowPct[row]![column]! > 0
        if (!(grades.includes(evidence) || isLean) || isHeld(one, row, column)) return []
        if (lambda === null || pct === null) return []
        const isBridged = evidence === 'bridged'
        return [
          {
            one,
            row,
            column,
            lambda,
            pct,
            isBridged,
            low: one.lowPct[row]![column]!,
            high: one.highPct[row]![column]!,
          },
        ]
      }),
    ),
  )
}

/** Rows without a reading of any cylinder. */
function unseenRows({ grid, cylinders }: Field): MeasuredFlatness['unseen'] {
  return grid.load.flatMap((_, row) => {
    const isSeen = cylinders.some(
      (one) =>
        one.held[row]!.includes(true) || one.evidence[row]!.some((grade) => grade === 'solid' || grade === 'thin'),
    )
    return isSeen ? [] : [{ row, isBridged: cylinders.some((one) => one.evidence[row]!.includes('bridged')) }]
  })
}

/** Whether anything worth it is to be taken back where a loop showed late. */
const hasToUndo = ({ cylinders }: Field): boolean =>
  cylinders.some(({ undoPct }) => undoPct.flat().some((pct) => pct !== null && Math.abs(pct) > SMALL))

/** Cells that do not answer to fuel. */
const silentNodes = ({ cylinders }: Field): OffNode[] =>
  cylinders.flatMap(({ cylinder, silentPct }) =>
    silentPct.flatMap((cells, row) =>
      cells.flatMap((pct, column) => (pct === null ? [] : [{ cylinder, row, column, pct }])),
    ),
  )

const offBy = (a: { pct: number }, b: { pct: number }): number => Math.abs(b.pct) - Math.abs(a.pct)
const rmsOf = (nodes: readonly { pct: number }[]): number =>
  Math.sqrt(nodes.reduce((sum, { pct }) => sum + pct * pct, 0) / nodes.length)

/** Judges how flat a field is, and whether another pass could be told from chance. */
export function measuredFlatness(field: Field): MeasuredFlatness {
  const nodes = knownNodes(field, ['solid', 'bridged'], true)
  const plain = ({ one, row, column, pct }: KnownNode): OffNode => ({ cylinder: one.cylinder, row, column, pct })
  const off = [...nodes].sort(offBy)
  const open = off.filter(({ pct, low, high }) => Math.abs(pct) > SMALL && low * high > 0).map(plain)
  const worst = off[0] ? plain(off[0]) : null
  const range = rangeFlatness(field)
  const rms = range.points ? range.rms : nodes.length ? rmsOf(nodes) : NaN
  return {
    nodes: nodes.length,
    bridged: nodes.filter((one) => one.isBridged).length,
    unseen: unseenRows(field),
    held: field.cylinders.flatMap((one) => one.held.flatMap((row, r) => row.filter((_, k) => isHeld(one, r, k))))
      .length,
    rms,
    range,
    worst,
    open,
    silent: silentNodes(field),
    isFlat:
      worst !== null &&
      !hasToUndo(field) &&
      (open.length === 0 || (rms <= FLAT_AIM.rms && Math.abs(worst.pct) <= FLAT_AIM.worst)),
  }
}

/** What was predicted before a change against what was measured after it; percent of lambda, measured over predicted. */
export interface Proof {
  nodes: number
  rms: number
  worst: OffNode
  /** share of the nodes whose new interval holds the prediction */
  within: number
}

/**
 * Holds a prediction against the field measured after it, over nodes that both know; null where there are none.
 *
 * @param predicted lambda of each cylinder, null where nothing was predicted
 */
export function provePrediction(predicted: ReadonlyMap<number, SparseMatrix>, field: Field): Proof | null {
  const nodes = knownNodes(field, ['solid']).flatMap(({ one, row, column, lambda, low, high }) => {
    const expected = predicted.get(one.cylinder)?.[row]?.[column]
    if (!expected) return []
    const target = one.target[row]![column]!
    const within = expected >= target * factorFromPercent(low) && expected <= target * factorFromPercent(high)
    return [{ cylinder: one.cylinder, row, column, pct: 100 * (lambda / expected - 1), within }]
  })
  if (nodes.length === 0) return null
  const { within: _, ...worst } = [...nodes].sort(offBy)[0]!
  return {
    nodes: nodes.length,
    rms: rmsOf(nodes),
    worst,
    within: nodes.filter((one) => one.within).length / nodes.length,
  }
}
