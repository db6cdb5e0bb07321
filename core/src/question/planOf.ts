import { doneRuns } from '../plan/doneRuns'
import { jobPlan, jobPlanChoice } from '../plan/jobPlan'
import type { PlanChoice } from '../plan/choice'
import type { Plan } from '../plan/makePlan'
import { tickPlan, type StepTick } from '../plan/tickPlan'
import { fieldSet } from './fieldRuns'
import type { JobGround } from './ground'

/** A job's run plan, and what of it was run. */
export interface PlanTold {
  choice: PlanChoice
  plan: Plan
  /** in the order of the steps */
  ticks: StepTick[]
}

/**
 * The run plan of a job with what a set has of it.
 *
 * @param asked.set set that is ticked off; that of the field when left out, null for none
 * @param asked.redline rpm that the rig on the drum allows, where one is connected
 */
export function planOf(
  { job, sets, runs, tables }: Omit<JobGround, 'complaints'>,
  { set = fieldSet(job.mixture, sets, runs), redline }: { set?: string | null; redline?: number | undefined } = {},
): PlanTold {
  const ground = { job, runs, tables, redline }
  const plan = jobPlan(ground)
  return { choice: jobPlanChoice(ground), plan, ticks: tickPlan(plan.steps, doneRuns(runs, sets, set)) }
}
