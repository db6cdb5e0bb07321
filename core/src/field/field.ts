import { DEFAULT_FILTERS, type Filters, type SetAside } from '../run/run'
import type { LoadGrid, Matrix, SparseMatrix } from '../table/table'
import type { Evidence } from './evidence'
import type { HeldZone } from './held/heldZones'
import type { LagEstimate } from './lag/lag'
import type { MisfireZone } from './faults/misfires'
import type { CommandedUnlike } from './readings/commandedByLog'
import { DEFAULT_SOLVE, type SolveOptions } from './solve/solve'

/** Fuel that was added on a grid since the job began, as factors `[load][rpm]`. */
export interface Corrected {
  /** cylinder that it serves; null for all */
  cylinder: number | null
  factor: Matrix
}

export interface FieldOptions {
  grid: LoadGrid
  /** Wanted lambda, `[load][rpm]` */
  target: Matrix
  /** s; null to estimate it */
  lag: number | null
  method: 'solve' | 'nearest'
  filters: Filters
  /** Held zones known from elsewhere, such as an earlier pass on the same controller; others are found */
  knownZones: readonly HeldZone[]
  /** What was corrected before these runs were made: what is left then is no longer smooth */
  corrected: readonly Corrected[]
  /** The part of it that was there when the first pass before was run; null, or left out, without a pass before */
  correctedBefore?: readonly Corrected[] | null
  /** What was there when each pass before was run, in their order. It tells whether cells have answered since */
  correctedByPass?: readonly (readonly Corrected[])[]
  /** By run: what was corrected after it was made. Its readings are taken as they would be on the table that is asked about */
  since: readonly (readonly Corrected[])[]
  /** Ids of sweeps that were made while the engine warmed up: they are out of mean and spread, and of the field */
  warmUps?: readonly string[]
  /** Leave out the band in which a run is odd */
  leaveOutOdd: boolean
  solve: SolveOptions
  /** Probe that stands for each cylinder, from 1; each for its own when null or left out */
  probes?: readonly number[] | null
  /** false where no closed loop can hold the mixture, so that nothing is taken for held */
  hasLoop: boolean
  /** Cylinders of the engine, where somebody said */
  engineCylinders?: number | null
  /** Thin the readings evenly to at most this many, for a quick look while something is dragged; null for all */
  mostSamples: number | null
}

export const DEFAULT_FIELD_OPTIONS: Omit<FieldOptions, 'grid' | 'target'> = {
  lag: null,
  method: 'solve',
  filters: DEFAULT_FILTERS,
  hasLoop: true,
  knownZones: [],
  corrected: [],
  since: [],
  leaveOutOdd: true,
  solve: DEFAULT_SOLVE,
  mostSamples: null,
}

/** The mixture of one cylinder over the table; matrices `[load][rpm]`, null where nothing is known. */
export interface CylinderField {
  /** from 1 */
  cylinder: number
  /** of a held node the reading that the loop holds, or by its trims what it would be without them */
  lambda: SparseMatrix
  /** wanted; at a node told by trims the loop's own lambda */
  target: Matrix
  /** the estimate itself, before limits, and its 90 % interval; null where a loop holds the node and no trims tell */
  changePct: SparseMatrix
  lowPct: SparseMatrix
  highPct: SparseMatrix
  /** effective samples at a node: robust weight times share; few or none where it is bridged */
  samples: Matrix
  passes: Matrix
  evidence: Evidence[][]
  held: boolean[][]
  /** what a held node needs is told by the closed loop's own trims, so it may be corrected */
  byTrim: boolean[][]
  /** % that takes back what was corrected where only a later pass than the first showed a held zone; null elsewhere */
  undoPct: SparseMatrix
  /** % of fuel that was moved since an earlier pass and did not show in the reading; null where it answers, or nothing tells */
  silentPct: SparseMatrix
  /** noise of one reading about the field, as a fraction */
  noise: number
}

export interface FieldRun {
  id: string
  /** readings that bear on the field */
  used: number
  setAside: SetAside
  odd: { fromRpm: number; toRpm: number; departurePct: number } | null
}

export interface Field {
  grid: LoadGrid
  method: 'solve' | 'nearest'
  lag: LagEstimate
  /** where the log says that another lambda was commanded than the job's table; null where they agree, or nothing tells */
  commandedUnlike?: CommandedUnlike | null
  cylinders: CylinderField[]
  runs: FieldRun[]
  heldZones: HeldZone[]
  misfires: MisfireZone[]
}
