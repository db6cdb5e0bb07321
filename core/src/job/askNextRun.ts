import { median } from '../numbers/median'
import { suggestChange } from '../change/suggest'
import { summariseField, workOutField } from '../field/estimate'
import { FieldError, type FieldOptions } from '../field/field'
import { factorFromPercent } from '../fuel/mixture'
import type { Pace } from '../plan/choice'
import { nextRun, unknownField, type NextAnswer, type RangeField, type Wanted } from '../plan/nextRun'
import { pressureOfStop } from '../plan/pressureOfStop'
import type { RunColumns } from '../run/run'
import type { Table } from '../table/table'

/** What the next run is asked for. */
export interface NextAsked {
  /** fuel tables as they are now, with the cylinder that each serves; null for all */
  tables: readonly { cylinder: number | null; table: Table }[]
  wanted: Wanted
  pace: Pace
}

/**
 * What to run next, or that it is enough, from all runs there are: those made on older tables are taken as they would read
 * now, so after a correction it goes on from the table as it is.
 *
 * @param runs may be none
 * @throws FieldError when there are runs, but none can be placed
 */
export function askNextRun(runs: readonly RunColumns[], options: FieldOptions, asked: NextAsked): NextAnswer {
  const answers = fieldsOf(runs, options, asked).map((known) => nextRun(options.grid, known, asked.wanted, asked.pace))
  // The cylinder that is known least says what to run.
  return answers.reduce((most, one) => (one.typicalPct > most.typicalPct ? one : most))
}

/** % of throttle below which a machine only idles between runs. */
const IDLE_OPENING = 3
/** Speeds that a hold stays within, rpm. */
const HOLD_SPAN = 500

/** A run as it would be asked for: the stop at which it mostly stood, and the way its speed went there; none without a throttle. */
function asMade({ throttle, rpm }: RunColumns): RangeField['made'] {
  if (!throttle || throttle.length === 0) return []
  const load = median([...throttle].filter((one) => one > IDLE_OPENING))
  if (!(load > 0)) return []
  const stood = [...rpm].filter((_, i) => Math.abs(throttle[i]! - load) < 2)
  if (stood.length < 2) return []
  const [fromRpm, toRpm] = [stood[0]!, stood.at(-1)!]
  return [{ kind: Math.abs(toRpm - fromRpm) <= HOLD_SPAN ? 'hold' : 'sweep', load, fromRpm, toRpm }]
}

function fieldsOf(runs: readonly RunColumns[], options: FieldOptions, { tables }: NextAsked): RangeField[] {
  if (runs.length === 0) return [unknownField(options.grid)]
  const work = workOutField(runs, options)
  const field = summariseField(work)
  const made = runs.flatMap(asMade)
  const pressure = pressureOfStop(runs)
  const known = work.cylinders.flatMap(({ open }, c): RangeField[] => {
    if (!open) return []
    const own = tables.filter(({ cylinder }) => cylinder === c + 1)
    const [serving] = own.length ? own : tables.filter(({ cylinder }) => cylinder === null)
    const nodes = serving && suggestChange(serving.table, field, undefined, serving.cylinder).nodes
    const { x, conditioned, deviation } = open.posterior
    const rows = options.grid.load.length
    const left = x.map((value, k) => {
      const change = nodes?.[k % rows]?.[Math.floor(k / rows)]?.changePct ?? 0
      return value - Math.log(factorFromPercent(change))
    })
    const silent = work.misfires.flatMap(({ rows: at, fromRpm, toRpm }) =>
      at.map((row) => ({ row, load: options.grid.load[row]!, fromRpm, toRpm })),
    )
    return [{ left, deviation, conditioned, heldZones: [...work.heldZones, ...silent], pressure, made }]
  })
  if (known.length === 0)
    throw new FieldError('No reading of these runs lies outside what a closed loop holds.', 'runs')
  return known
}
