import { besideAlong, type Place } from '../table/beside'
import { build, type Matrix, type Table } from '../table/table'
import { fuelOfCell } from './applyFactor'
import { DEFAULT_LIMITS } from './limits'
import type { ChangeReason } from './arithmetic'
import type { SuggestedChange } from './suggest'

/** The largest of its kind in a table, % of fuel, and where. */
interface ShapeMark {
  pct: number
  row: number
  column: number
}

/** How rough a table is to ride over: the largest step between neighbours, and the largest bend. */
interface Roughness {
  step: ShapeMark | null
  /** second difference along rpm or load, as if breakpoints were even */
  bend: ShapeMark | null
}

/** A cell that a change would leave standing out of its neighbours though nothing was measured that asks for it. */
interface ShapeWarning {
  what: 'ridge' | 'hole'
  row: number
  column: number
  /** % of fuel against the nearer of both neighbours */
  pct: number
  along: 'rpm' | 'load'
  /** what keeps the cell, or its neighbours, from following */
  why: ChangeReason
}

export interface ChangeShape {
  before: Roughness
  after: Roughness
  /** largest first */
  warnings: ShapeWarning[]
}

/** What a taper leaves at the border of the known is let pass, %. */
const FELT = DEFAULT_LIMITS.edge

/** Reasons for which a cell stays behind, or goes less far, than its readings or its neighbours ask for. */
const LEFT_BEHIND: readonly ChangeReason[] = [
  'held by closed loop',
  'misfire, no fuel',
  'no evidence',
  'interval too wide',
  'limited, richer',
  'limited, leaner',
  'limited by the table',
]

/**
 * The shape of a fuel table before and after a change, and where the change would leave a ridge or a hole that no reading
 * asks for: a cell further than both its neighbours because these, or itself, cannot follow.
 *
 * @throws RangeError when the table does not set fuel
 */
export function changeShape(table: Table, { nodes, values }: Pick<SuggestedChange, 'nodes' | 'values'>): ChangeShape {
  const changes = build(table, (row, column) => nodes[row]![column]!.changePct)
  const reasonAt = (row: number, column: number): ChangeReason => nodes[row]![column]!.reason
  const warnings = changes.flatMap((cells, row) =>
    cells.flatMap((change, column): ShapeWarning[] => {
      const found = (['rpm', 'load'] as const).flatMap((along): ShapeWarning[] => {
        const places = neighbours(table, row, column, along)
        if (places.length < 2) return []
        const apart = places.map(([r, c]) => change - changes[r]![c]!)
        const pct = apart.reduce((least, one) => (Math.abs(one) < Math.abs(least) ? one : least))
        if (!(Math.abs(pct) > FELT) || apart[0]! * apart[1]! <= 0) return []
        const why = [[row, column] as const, ...places]
          .map(([r, c]) => reasonAt(r, c))
          .find((one) => LEFT_BEHIND.includes(one))
        return why ? [{ what: pct > 0 ? 'ridge' : 'hole', row, column, pct, along, why }] : []
      })
      // A cell is told once, by the way it stands out most.
      return found.sort((a, b) => Math.abs(b.pct) - Math.abs(a.pct)).slice(0, 1)
    }),
  )
  return {
    before: roughness(table, table.values),
    after: roughness(table, values),
    warnings: warnings.sort((a, b) => Math.abs(b.pct) - Math.abs(a.pct)),
  }
}

/** Neighbours of a cell on both sides along an axis; fewer at the rim. */
function neighbours({ rpm, load }: Table, row: number, column: number, along: 'rpm' | 'load'): Place[] {
  return besideAlong(along, [row, column]).filter(([r, c]) => r >= 0 && c >= 0 && r < load.length && c < rpm.length)
}

function roughness(table: Table, values: Matrix): Roughness {
  const out: Roughness = { step: null, bend: null }
  const keep = (what: keyof Roughness, pct: number, row: number, column: number): void => {
    if (Number.isFinite(pct) && Math.abs(pct) > Math.abs(out[what]?.pct ?? 0)) out[what] = { pct, row, column }
  }
  /** ln of fuel of a cell over another: what a base table or a trim in percent both deliver. */
  const over = ([r, c]: readonly [number, number], [row, column]: readonly [number, number]): number =>
    Math.log(fuelOfCell(values[r]![c]!, table) / fuelOfCell(values[row]![column]!, table))
  const toPct = (share: number): number => 100 * (Math.exp(share) - 1)
  values.forEach((cells, row) =>
    cells.forEach((_, column) => {
      for (const along of ['rpm', 'load'] as const) {
        const at = [row, column] as const
        const places = neighbours(table, row, column, along)
        for (const place of places) keep('step', toPct(over(place, at)), row, column)
        const [before, after] = places
        if (!before || !after) continue
        const axis = table[along]
        const k = along === 'rpm' ? column : row
        const [down, up] = [axis[k]! - axis[k - 1]!, axis[k + 1]! - axis[k]!]
        // How far the cell stands above the straight line between both, twice over for even breakpoints.
        const line = (over(before, at) * up + over(after, at) * down) / (down + up)
        keep('bend', toPct(2 * line), row, column)
      }
    }),
  )
  return out
}
