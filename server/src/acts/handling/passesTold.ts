import {
  airDensity,
  densityAltitude,
  jobTarget,
  passGears,
  targetAt,
  unlessRefused,
  type Job,
  type KeptPass,
  type Pass,
  type PassGear,
  type RunInfo,
} from '@yuzumix/core'
import type { Store } from '../../store/database'
import { listRuns } from '../../store/runs'
import { listSets } from '../../store/sets'
import { fieldFor, type Workshop } from '../questions/ask'
import { readAsTold } from '../jobs/readAsTold'

/** s by which a probe tells later where no field tells it; common practice. */
const USUAL_LAG = 0.2

/** Passes with the air they were made in, and what their gears were: spin, and mixture with the lag taken out. */
export async function passesTold(
  workshop: Workshop,
  job: Job,
  kept: readonly KeptPass[],
  signal: AbortSignal,
): Promise<Pass[]> {
  const { store } = workshop
  const [sets, runs] = await Promise.all([listSets(store, job.id), listRuns(store, job.id)])
  const used = runs.filter((run) => kept.some((one) => one.run === run.id))
  const lag = used.length ? await lagOf(workshop, job, used, signal) : 0
  const gears = new Map<string, PassGear[]>()
  for (const run of used) {
    const own = kept.filter((one) => one.run === run.id)
    for (const [k, each] of (await gearsOfRun(store, job, run, own, lag)).entries()) gears.set(own[k]!.id, each)
  }
  return kept.map((one) => {
    const weather = one.weather ?? sets.find((set) => set.id === one.set)?.weather ?? null
    const density = weather && airDensity(weather)
    return {
      ...one,
      density,
      densityAltitudeM: density === null ? null : densityAltitude(density),
      gears: gears.get(one.id) ?? [],
    }
  })
}

/** Lag of the probe, s: the job's own, else as the field of these runs tells it, else a usual one. */
async function lagOf(workshop: Workshop, job: Job, runs: readonly RunInfo[], signal: AbortSignal): Promise<number> {
  if (job.mixture.lagMs !== null) return job.mixture.lagMs / 1000
  const told = await unlessRefused(
    () => fieldFor(workshop, job, { runs: runs.map((run) => run.id) }, signal),
    'no-field',
    'input-refused',
  )
  return told?.lag.lag ?? USUAL_LAG
}

const NEEDED = ['time', 'rpm', 'speed', 'throttle', 'gear'] as const
const PROBES = ['lambda1', 'lambda2', 'lambda3', 'lambda4'] as const

async function gearsOfRun(
  store: Store,
  job: Job,
  run: RunInfo,
  passes: readonly KeptPass[],
  lag: number,
): Promise<PassGear[][]> {
  const columns = await readAsTold(store, run, [...NEEDED, ...PROBES])
  const [time, rpm, speed, throttle, gear] = NEEDED.map((one) => columns.get(one))
  if (!time || !rpm || !speed) return passes.map(() => [])
  const lambda = PROBES.flatMap((one) => columns.get(one) ?? [])
  const target = jobTarget(job)
  const wantedAt = (at: number, opening: number): number => targetAt(target, 'throttle', at, opening)
  return passes.map(({ from, to, liftedAtM, lifted }) =>
    from === null || to === null
      ? []
      : passGears(
          { time, rpm, speed, throttle, gear, lambda },
          { from, to, lifted: lifted && liftedAtM !== null },
          { lag, wantedAt },
        ),
  )
}
