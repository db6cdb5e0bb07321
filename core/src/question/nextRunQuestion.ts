import { inputRefused } from '../refusal/refusal'
import type { NextRunRequest } from '../contract/field'
import type { RunInfo } from '../run/runInfo'
import { byState } from '../field/readings/byState'
import { warmUpIds } from '../curves/lay/warmUpIds'
import { untoldRuns, type Untold } from './madeOn'
import { grouped } from '../numbers/format'
import { jobPlan, jobPlanChoice } from '../plan/jobPlan'
import { askNextRun, type NextAsked, type NextOfJob } from './askNextRun'
import { fieldQuestion, presentFieldQuestion, type FieldQuestion } from './fieldQuestion'
import { fieldRuns, fieldSet, namedRuns } from './fieldRuns'
import type { ColumnsOf, JobGround, Loader } from './ground'
import { actTogether } from '../table/inForce'
import { fuelTables, plainFuelTables } from './states'

/** What is wanted where nobody says: typically within 1 %, at worst 3 % (common practice for a careful job). */
const USUAL_WANTED = { typicalPct: 1, worstPct: 3 }
/** Idle and overrun are not part of a range unless asked for. */
const LEAST_LOAD = { throttle: 5, manifold: 35 }

/** What the next run is worked out from. */
export interface NextRunQuestion {
  field: FieldQuestion
  asked: NextAsked
  /** runs of which it is not known what they were made on, by table: nothing may be planned before somebody says */
  untold: Untold[]
}

/** Runs that tell of the present hardware: of the field's set, and of all sets of the same setup. */
function runsOfSetup({ job, sets, runs }: JobGround): RunInfo[] {
  const own = sets.find((one) => one.id === fieldSet(job.mixture, sets, runs))
  const alike = sets.filter((one) => own && one.setup === own.setup)
  return alike.flatMap((set) => fieldRuns(job.mixture, set.id, runs))
}

/**
 * Puts together what the next run is worked out from: all runs on the present hardware, the tables as they are now, and the
 * range that is to become flat.
 *
 * @throws Refusal 'input-refused' for a run or a table that is not there, and for a range that is none or goes above the rev ceiling
 */
export async function nextRunQuestion(
  ground: JobGround,
  loader: Pick<Loader, 'revision'>,
  { table: id, wanted = USUAL_WANTED, rpm, load, ...request }: NextRunRequest = {},
): Promise<NextRunQuestion> {
  const { job } = ground
  const tables = fuelTables(ground.tables)
  if (id !== undefined && !tables.some((one) => one.id === id))
    throw inputRefused([{ field: 'table', message: 'there is no such fuel table in this job' }])
  const runs = request.runs ? namedRuns(ground.runs, request.runs) : runsOfSetup(ground)
  const about = tables.find((one) => one.id === id) ?? plainFuelTables(tables)[0]
  const [grid, inForce] = [about?.table ?? null, about?.inForce ?? null]
  const plan = jobPlanChoice(ground)
  // The change that is expected is the one that Mixture shows, from the same runs.
  const [field, own] = await Promise.all([
    presentFieldQuestion(ground, loader, runs, { ...request, grid, inForce }, rpm?.[1] ?? plan.toRpm),
    fieldQuestion(ground, loader, { runs: request.runs, inForce }),
  ])
  const points = field.options.grid
  const range = {
    rpm: (rpm as [number, number] | undefined) ?? ([plan.fromRpm, plan.toRpm] as const),
    load:
      (load as [number, number] | undefined) ??
      ([Math.max(points.load[0]!, LEAST_LOAD[points.loadAxis]), points.load.at(-1)!] as const),
  }
  for (const axis of ['rpm', 'load'] as const)
    if (!(range[axis][1] > range[axis][0]))
      throw inputRefused([{ field: axis, message: 'must rise from one to the other' }])
  const ceiling = job.limits?.revCeiling
  if (ceiling && range.rpm[1] > ceiling)
    throw inputRefused([
      { field: 'rpm', message: `goes above the rev ceiling of ${grouped(ceiling)} rpm in the brief` },
    ])
  return {
    field,
    untold: tables.flatMap((one) => untoldRuns(runs, one) ?? []),
    asked: {
      tables: (id === undefined ? plainFuelTables(tables) : tables.filter((one) => one.id === id))
        .filter((one) => actTogether(one.inForce, inForce))
        .map(({ cylinder, table }) => ({ cylinder, table })),
      wanted: { ...range, ...wanted },
      pace: plan.pace,
      own: own.runs.map((run) => run.id),
      first: jobPlan(ground).steps.find((step) => step.kind === 'sweep') ?? null,
    },
  }
}

/** The next run that a question asks for. @throws Refusal 'no-field' when there are runs, but none can be placed */
export function answerNextRun({ field: { runs, options }, asked }: NextRunQuestion, columnsOf: ColumnsOf): NextOfJob {
  const columns = columnsOf(runs)
  // Runs on other tables are no repeats of each other.
  return askNextRun(columns, { ...options, warmUps: warmUpIds(byState(columns, options.since)) }, asked)
}
