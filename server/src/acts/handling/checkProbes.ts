import { crossCheck, isLeftOut, standingProbes, type Job, type ProbeCheck } from '@yuzumix/core'
import { assembled } from '../../store/assembled'
import { storedColumns } from '../../store/columns'
import { listRuns } from '../../store/runs'
import type { Workshop } from '../questions/ask'

/** Newest runs that probes are checked over: enough to tell, few enough to read at once. */
const NEWEST = 12

/** Each further probe in a gas against the one that stands for it; probes that no run has are left out. */
export async function checkProbes({ store }: Workshop, job: Job): Promise<(ProbeCheck & { cylinder: number })[]> {
  const placed = job.rigging?.probes ?? []
  const standing = standingProbes(placed) ?? []
  const pairs = placed.filter((one) => !standing.includes(one.probe))
  if (pairs.length === 0) return []
  const runs = (await listRuns(store, job.id)).filter((run) => !isLeftOut(run) && run.kind !== 'hand readings')
  const columns = (await storedColumns(store, runs.slice(-NEWEST))).map(assembled)
  return pairs.flatMap(({ probe, cylinder }) => {
    const first = placed.find((one) => one.cylinder === cylinder && standing.includes(one.probe))!.probe
    const check = crossCheck(columns, first, probe)
    return check ? [{ cylinder, ...check }] : []
  })
}
