import {
  DEFAULT_CURVE,
  doubtFindings,
  fieldFindings,
  oddFindings,
  stopsOf,
  sweepName,
  sweepOf,
  type Field,
  type Finding,
  type Job,
  type RunInfo,
} from '@yuzumix/core'
import { storedColumns } from '../../store/columns'
import { doubtsFor } from '../handling/doubtsFor'
import type { Workshop } from '../questions/ask'

/** What a cylinder of a job is called. */
const cylinderNames =
  ({ rigging }: Pick<Job, 'rigging'>) =>
  (n: number): string =>
    rigging?.cylinderNames?.[n - 1] || `cylinder ${n}`

/**
 * What some runs show beside their figures, from their field and from repeats laid over each other: one list for verdict,
 * report and whoever asks.
 *
 * @param field of the runs; null where there is none
 */
export async function findingsFor(
  workshop: Workshop,
  job: Job,
  runs: readonly RunInfo[],
  field: Field | null,
  signal: AbortSignal,
): Promise<Finding[]> {
  const { store, pool } = workshop
  const name = cylinderNames(job)
  const stops = stopsOf(runs).filter((one) => one.sweeps > 2)
  const lag = job.mixture.lagMs === null ? DEFAULT_CURVE.lag : job.mixture.lagMs / 1000
  const odd = (
    await Promise.all(
      stops.map(async (one) =>
        pool.oddRuns(
          { stop: one.stop, runs: await storedColumns(store, one.runs, 'curves'), options: { ...DEFAULT_CURVE, lag } },
          signal,
        ),
      ),
    )
  ).flat()
  const runOf = (id: string): RunInfo => runs.find((run) => run.id === sweepOf(id).run)!
  const probes = (id: string) => ({
    probes: runOf(id).channels.filter((one) => one.channel.startsWith('lambda')).length,
    cylinders: job.machine?.cylinders ?? null,
    name,
  })
  return [
    ...doubtFindings(await doubtsFor(workshop, job, runs, field, signal)),
    ...(field ? fieldFindings(field, name) : []),
    ...oddFindings(odd, (id) => sweepName(runOf(id).name, id), probes),
  ]
}
