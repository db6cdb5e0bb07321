import { isRefusal, refused } from '../refusal/refusal'
import { median } from '../numbers/median'
import { suggestChange } from '../change/suggest'
import { DEFAULT_LIMITS, WHOLE_CHANGE, type ChangeLimits } from '../change/limits'
import { summariseField, workOutField, type FieldWork } from '../field/estimate'
import { type FieldOptions } from '../field/field'
import { factorFromPercent } from '../fuel/mixture'
import type { Pace } from '../plan/choice'
import type { PlanStep } from '../plan/makePlan'
import { mostWanting, nextRun, type NextAnswer } from '../plan/nextRun'
import { pressureOfStop } from '../plan/pressureOfStop'
import { unknownField, type RangeField } from '../plan/rangeField'
import type { Wanted } from '../plan/wanted'
import type { RunColumns } from '../run/run'
import type { Table } from '../table/table'

/** What the next run is asked for. */
export interface NextAsked {
  /** fuel tables as they are now, with the cylinder that each serves; null for all */
  tables: readonly { cylinder: number | null; table: Table }[]
  wanted: Wanted
  pace: Pace
  /** runs that make the job's field and its change; all on the tables as they are when left out */
  own?: readonly string[] | null
  /** sweep that comes first where nothing was read yet; null to choose by what it would tell */
  first?: Pick<PlanStep, 'stop' | 'fromRpm' | 'toRpm' | 'minutesEach' | 'pauseEach'> | null
}

/** The next run, and what it was told from. */
export interface NextOfJob extends NextAnswer {
  from: {
    /** runs of this setup, and those of them that make the job's field */
    runs: number
    own: number
    /** s; null without a run */
    lag: number | null
  }
}

/**
 * What to run next, or that it is enough, from all runs there are: those made on older tables are taken as they would read
 * now, so after a correction it goes on from the table as it is.
 *
 * @param runs may be none
 * @throws Refusal 'no-field' when there are runs, but none can be placed
 */
export function askNextRun(runs: readonly RunColumns[], options: FieldOptions, asked: NextAsked): NextOfJob {
  const work = runs.length ? workOutField(runs, options) : null
  const own = ownOf(runs, options, asked)
  const fields = work ? fieldsOf(work, runs, own, options, asked) : [unknownField(options.grid)]
  const answer: NextOfJob = {
    ...mostWanting(fields.map((known) => nextRun(options.grid, known, asked.wanted, asked.pace))),
    from: { runs: runs.length, own: own.length, lag: work?.lag.lag ?? null },
  }
  if (runs.length > 0 || !asked.first || !answer.next) return answer
  const { stop: load, fromRpm, toRpm, minutesEach, pauseEach } = asked.first
  return {
    ...answer,
    next: { kind: 'sweep', load, fromRpm, toRpm, minutes: minutesEach + pauseEach },
    why: 'Nothing is known of the mixture yet: a middle opening first. Nobody opens a machine wide on a mixture that was never read.',
  }
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

/** The field of the runs on the tables as they are; null where none of them can be placed. */
function workOnPresent(
  present: readonly RunColumns[],
  options: FieldOptions,
  all: FieldWork,
  isAll: boolean,
): FieldWork | null {
  if (isAll) return all
  try {
    return workOutField(present, { ...options, since: [], knownZones: all.heldZones }, all.lag)
  } catch (error) {
    if (isRefusal(error, 'no-field')) return null
    throw error
  }
}

/** Runs on the tables as they are that make the job's field. */
function ownOf(runs: readonly RunColumns[], { since }: FieldOptions, { own }: NextAsked): RunColumns[] {
  return runs.filter((run, r) => !since[r]?.length && (own?.includes(run.id) ?? true))
}

function fieldsOf(
  work: FieldWork,
  runs: readonly RunColumns[],
  onPresent: readonly RunColumns[],
  options: FieldOptions,
  { tables }: NextAsked,
): RangeField[] {
  const present = workOnPresent(onPresent, options, work, onPresent.length === runs.length)
  const field = present && summariseField(present)
  const [made, ever] = [onPresent.flatMap(asMade), runs.flatMap(asMade)]
  const pressure = pressureOfStop(runs)
  const rows = options.grid.load.length
  const known = work.cylinders.flatMap(({ open }, c): RangeField[] => {
    if (!open) return []
    const own = tables.filter(({ cylinder }) => cylinder === c + 1)
    const [serving] = own.length ? own : tables.filter(({ cylinder }) => cylinder === null)
    const leftAfter = (limits: ChangeLimits): Float64Array => {
      const nodes = serving && field && suggestChange(serving.table, field, limits, serving.cylinder).nodes
      return open.posterior.x.map((value, k) => {
        const change = nodes?.[k % rows]?.[Math.floor(k / rows)]?.changePct ?? 0
        return value - Math.log(factorFromPercent(change))
      })
    }
    const silent = work.misfires.flatMap(({ rows: at, fromRpm, toRpm }) =>
      at.map((row) => ({ row, load: options.grid.load[row]!, fromRpm, toRpm })),
    )
    return [
      {
        conditioned: open.posterior.conditioned,
        deviation: open.posterior.deviation,
        left: leftAfter(WHOLE_CHANGE),
        leftByLimits: leftAfter(DEFAULT_LIMITS),
        present: present?.cylinders[c]?.open?.posterior ?? unknownField(options.grid),
        heldZones: [...work.heldZones, ...silent],
        pressure,
        made,
        ever,
      },
    ]
  })
  if (known.length === 0)
    throw refused('no-field', 'No reading of these runs lies outside what a closed loop holds.', 'runs')
  return known
}
