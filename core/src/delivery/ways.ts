import type { Matrix, SparseMatrix, Table } from '../table/table'
import type { Caution } from './cautions'
import type { InjectorSwap } from './injectors'
import type { Left } from './left'
import type { Axis } from './raster'
import type { Strips } from './strips'

/** Ways to put a change of fuel in, as the page lists them. */
export const WAYS = ['table', 'coarse', 'bands', 'strips', 'global', 'pressure', 'injectors', 'filling'] as const
export type WayKind = (typeof WAYS)[number]

/** Numbers that stand in a way of that kind already; those that come out then are whole. */
interface Standing<K extends WayKind> {
  standing?: SettingsOf[K] | undefined
}

/** A way as it is asked for. Loads in the unit of the wanted change's axis. */
export type WayAsked =
  /** every cell of a table; of the wanted change's own breakpoints without one */
  | { kind: 'table'; table?: Table | undefined }
  /** few cells, whose places may be moved on a raster, or are given */
  | ({
      kind: 'coarse'
      rpmPoints: number
      loadPoints: number
      rpmStep?: number | undefined
      loadStep?: number | undefined
      rpm?: readonly number[] | undefined
      load?: readonly number[] | undefined
    } & Standing<'coarse'>)
  /** two to five bands, alone or beside a table */
  | ({
      kind: 'bands'
      axis: Axis
      bands: number
      edges?: readonly number[] | undefined
      crossover?: number | undefined
      table?: Table | undefined
    } & Standing<'bands'>)
  | ({ kind: 'strips'; threshold: number; rpm: readonly number[] } & Standing<'strips'>)
  | ({ kind: 'global'; table?: Table | undefined } & Standing<'global'>)
  /** kPa of the rail now, the manifold's on the same scale, and the most that the pump holds */
  | { kind: 'pressure'; kPa: number; manifoldKpa?: number | undefined; mostKpa?: number | undefined }
  /** another set of injectors; the table holds pulses in ms */
  | ({ kind: 'injectors'; table?: Table | undefined } & InjectorSwap)
  /** a table of filling, % of the swept volume, beside one that commands lambda: fuel = filling / lambda */
  | {
      kind: 'filling'
      table?: Table | undefined
      commanded?: Table | undefined
      /** target by name that the commanded lambda is set to; it stays when left out */
      intent?: string | undefined
      /** load from which all rows are made one */
      equalFrom?: number | undefined
    }

/** One kind of way as it is asked for. */
export type AskedOf<K extends WayKind> = Extract<WayAsked, { kind: K }>

/** Numbers of each way as they are set. */
export interface SettingsOf {
  table: Cells
  coarse: Cells
  bands: { axis: Axis; edges: readonly number[]; values: readonly number[]; crossover: number; table?: BesideSettings }
  strips: Strips
  global: { pct: number; table?: BesideSettings }
  pressure: { kPa: number }
  injectors: { pulseFactor: number; deadMsChange: number; dutyPct: Matrix | null; pulses: Matrix | null }
  /** change of the filling by cell, %, and the commanded lambda; null where that stays */
  filling: { filling: Cells; target: Cells | null }
}

/** Values on breakpoints. */
export interface Cells {
  rpm: readonly number[]
  load: readonly number[]
  values: Matrix
}

/** A table beside a way: what its cells are changed by, %. */
export interface BesideSettings extends Cells {
  /** cells that are changed */
  cells: number
}

/** A way worked out: its numbers, and what it would leave wrong and where. */
export interface ToldWay<K extends WayKind> {
  kind: K
  settings: SettingsOf[K]
  left: Left
  /** what is left by cell, %, positive lean */
  residualPct: SparseMatrix
  cautions: Caution[]
  /** without the rule that no cell under load is left more than 2 % lean; where there is that rule */
  free?: { settings: SettingsOf[K]; left: Left }
  /** of a coarse table: what one more point would leave, and what would be left without the point that does least */
  points?: PointsTold
  /** minutes that it takes by hand, about */
  minutes: number
}
export type WayTold = { [K in WayKind]: ToldWay<K> }[WayKind]

/** How much a coarse table hangs on its points. */
export interface PointsTold {
  more: { axis: Axis; at: number; costPct: number }[]
  least: { axis: Axis; at: number; costPct: number } | null
}
