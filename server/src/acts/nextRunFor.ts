import {
  fieldRuns,
  firstStates,
  fieldSet,
  grouped,
  needsState,
  InputError,
  jobPlan,
  jobPlanChoice,
  revisionOf,
  type Job,
  type NextOfJob,
  type NextRunRequest,
  type RunInfo,
  type TableInfo,
} from '@yuzumix/core'
import { loadColumns } from '../store/columns'
import { listRuns } from '../store/runs'
import { listSets } from '../store/sets'
import { listTables } from '../store/tables'
import { fieldOptionsFor, fuelTablesOf, runsFor, tablesBetween, type Workshop } from './fieldFor'

/** What is wanted where nobody says: typically within 1 %, at worst 3 % (common practice for a careful job). */
const USUAL_WANTED = { typicalPct: 1, worstPct: 3 }
/** Idle and overrun are not part of a range unless asked for. */
const LEAST_LOAD = { throttle: 5, manifold: 35 }

/** Runs that tell of the present hardware: of the field's set, and of all sets of the same setup. */
async function runsOfSetup({ store }: Workshop, job: Job): Promise<RunInfo[]> {
  const [all, sets] = await Promise.all([listRuns(store, job.id), listSets(store, job.id)])
  const own = sets.find((one) => one.id === fieldSet(job.mixture, sets, all))
  const alike = sets.filter((one) => own && one.setup === own.setup)
  return alike.flatMap((set) => fieldRuns(job.mixture, set.id, all))
}

/** The run that takes most doubt away per minute, from all runs on the present hardware and the tables as they are now. */
export async function nextRunFor(
  workshop: Workshop,
  job: Job,
  { table: id, wanted = USUAL_WANTED, rpm, load, ...asked }: NextRunRequest,
  signal: AbortSignal,
): Promise<NextOfJob> {
  const { store, pool } = workshop
  const tables = await fuelTablesOf(store, job)
  if (id !== undefined && !tables.some((one) => one.id === id))
    throw new InputError([{ field: 'table', message: 'there is no such fuel table in this job' }])
  const runs = asked.runs ? await runsFor(workshop, job, asked.runs) : await runsOfSetup(workshop, job)
  needsState(runs, tables)
  const grid = (tables.find((one) => one.id === id) ?? tables[0])?.table ?? null
  const latest = new Map(tables.map((one) => [one.id, one.revisions.at(-1)!.n]))
  const madeOn = (run: RunInfo): Map<string, number> =>
    new Map(tables.map((one: TableInfo) => [one.id, revisionOf(run, one)]))
  const [corrected, since] = await Promise.all([
    tablesBetween(store, tables, firstStates(runs, tables), latest),
    Promise.all(runs.map((run) => tablesBetween(store, tables, madeOn(run), latest))),
  ])
  const ground = { job, runs: await listRuns(store, job.id), tables: await listTables(store, job.id) }
  // The change that is expected is the one that Mixture shows, from the same runs.
  const own = await runsFor(workshop, job, asked.runs)
  const plan = jobPlanChoice(ground)
  const toRpm = rpm?.[1] ?? plan.toRpm
  const options = fieldOptionsFor(job, { runs, corrected, since, toRpm }, asked, grid, null)
  const points = options.grid
  const wholeLoad = [Math.max(points.load[0]!, LEAST_LOAD[points.loadAxis]), points.load.at(-1)!] as const
  const range = {
    rpm: (rpm as [number, number] | undefined) ?? ([plan.fromRpm, plan.toRpm] as const),
    load: (load as [number, number] | undefined) ?? wholeLoad,
  }
  for (const axis of ['rpm', 'load'] as const)
    if (!(range[axis][1] > range[axis][0]))
      throw new InputError([{ field: axis, message: 'must rise from one to the other' }])
  const ceiling = job.limits?.revCeiling
  if (ceiling && range.rpm[1] > ceiling)
    throw new InputError([
      { field: 'rpm', message: `goes above the rev ceiling of ${grouped(ceiling)} rpm in the brief` },
    ])
  return pool.nextRun(
    {
      runs: await loadColumns(store, runs),
      options,
      asked: {
        tables: tables
          .filter((one) => id === undefined || one.id === id)
          .map(({ cylinder, table }) => ({ cylinder, table })),
        wanted: { ...range, ...wanted },
        pace: plan.pace,
        own: own.map((run) => run.id),
        first: jobPlan(ground).steps.find((step) => step.kind === 'sweep') ?? null,
      },
    },
    signal,
  )
}
