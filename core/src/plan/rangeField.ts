import { condition } from '../field/solve/conditioned'
import type { HeldZone } from '../field/held/heldZones'
import { USUAL_SCALES } from '../field/solve/learnScales'
import type { Posterior } from '../field/solve/posterior'
import { priorPrecision } from '../field/solve/prior'
import { banded, cholesky } from '../numbers/banded'
import { diagonal, logDeterminant, selectedInverse } from '../numbers/selectedInverse'
import type { LoadGrid } from '../table/table'
import type { MadeRun } from './madeRun'
import { pressureOfStop } from './pressureOfStop'

/** How surely a field is known. */
export type Knowledge = Pick<Posterior, 'conditioned' | 'deviation'>

/** What is known of the range, from all runs on the present hardware. Values by node, ln of fuel. */
export interface RangeField extends Knowledge {
  /** what would be left after the whole of the change suggested now, and after what the limits of one pass let through */
  left: Float64Array
  leftByLimits: Float64Array
  /** what the runs on the present tables know by themselves: they alone make the change */
  present: Knowledge
  heldZones: readonly HeldZone[]
  /** kPa behind the plate at rpm and a throttle stop, for tables by pressure */
  pressure: (rpm: number, stop: number) => number
  /** runs there are on the present tables, as they would be asked for */
  made: readonly MadeRun[]
  /** all runs on the present hardware, whatever the tables: they teach how far an opening reaches */
  ever: readonly MadeRun[]
}

/** Nothing known yet: the usual prior alone. */
export function unknownField(grid: LoadGrid): RangeField {
  const precision = priorPrecision(grid, USUAL_SCALES)
  const size = precision.size
  const conditioned = condition(
    { normal: banded(size, precision.width), right: new Float64Array(size), square: 0, weight: 0, stretches: [] },
    { precision, logDeterminant: logDeterminant(cholesky(precision)) },
    { reading: 1, level: 1 },
  )
  const knowledge = { conditioned, deviation: diagonal(selectedInverse(conditioned.factor)).map(Math.sqrt) }
  const left = new Float64Array(size)
  return {
    ...knowledge,
    left,
    leftByLimits: left,
    present: knowledge,
    heldZones: [],
    pressure: pressureOfStop([]),
    made: [],
    ever: [],
  }
}
