import { setsFuel } from '../table/kinds'
import type { RunInfo } from '../run/runInfo'
import type { Table } from '../table/table'
import { isLeftOut } from '../run/runColumns'
import { DEFAULT_PLAN, planFor, underCeiling, type PlanChoice } from './choice'
import { makePlan, type Plan } from './makePlan'

/** What a job's plan goes by. */
export interface PlanGround {
  job: { plan?: PlanChoice | undefined; limits?: { revCeiling?: number | null | undefined } | undefined }
  /** all of the job */
  runs: readonly RunInfo[]
  tables: readonly { table: Pick<Table, 'kind' | 'rpm'> }[]
  /** rpm that the rig on the drum allows, where one is connected */
  redline?: number | undefined
}

/** Highest rpm that may be asked for: the ceiling that somebody said, else the end of the fuel table; Infinity for neither. */
export function mostRpm({ job, tables, redline = Infinity }: Omit<PlanGround, 'runs'>): number {
  const ends = tables.filter((one) => setsFuel(one.table)).map((one) => one.table.rpm.at(-1)!)
  return Math.min(redline, job.limits?.revCeiling ?? (ends.length ? Math.max(...ends) : Infinity))
}

/** Whether any run tells of the mixture: before one does, no machine is opened wide. */
const isRead = (runs: readonly RunInfo[]): boolean =>
  runs.some((run) => !isLeftOut(run) && run.channels.some((one) => one.channel.startsWith('lambda')))

/** What a job's plan is made from: as it was chosen, else the usual one, never above what may be asked for. */
export function jobPlanChoice(ground: PlanGround): PlanChoice {
  const most = mostRpm(ground)
  return underCeiling(ground.job.plan ?? planFor(DEFAULT_PLAN, ground.runs), most < Infinity ? most : null)
}

/**
 * The run plan of a job, at every place alike. On a mixture that nobody has read a middle opening comes first, unless somebody
 * chose another order.
 */
export function jobPlan(ground: PlanGround): Plan {
  return makePlan(jobPlanChoice(ground), !ground.job.plan && !isRead(ground.runs))
}
