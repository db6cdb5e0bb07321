import {
  unlessRefused,
  fieldAnswer,
  fieldRuns,
  findingOf,
  type Complaint,
  type FieldAnswer,
  type FoundThere,
  type Job,
} from '@yuzumix/core'
import { listTables } from '../../store/tables'
import { listComplaints } from '../handling/complaints'
import { fieldFor, type Workshop } from '../questions/ask'
import { earliest, passesOf, type Pass } from './passes'
import { powerOf, sidesOf, type HolesKnown, type Sides } from './reportSides'

async function fieldOf(
  workshop: Workshop,
  job: Job,
  { set, runs }: Pass,
  signal: AbortSignal,
): Promise<FieldAnswer | null> {
  const request = { runs: fieldRuns(job.mixture, set.id, runs).map((run) => run.id) }
  return unlessRefused(async () => fieldAnswer(await fieldFor(workshop, job, request, signal)), 'no-field')
}

/**
 * What was measured where each complaint is pinned: in the state that it was about, which is the last that had runs when it was
 * pinned, or the first that got any; and in the last state.
 *
 * @param holes in the torque
 */
export async function complaintFindings(
  workshop: Workshop,
  job: Job,
  { sides, holes }: { sides: Sides; holes: HolesKnown },
  signal: AbortSignal,
): Promise<FoundThere[]> {
  const [complaints, tables] = await Promise.all([
    listComplaints(workshop.store, job.id),
    listTables(workshop.store, job.id),
  ])
  const all = passesOf(sides.sets, sides.runsOf, tables).filter(
    (pass) => fieldRuns(job.mixture, pass.set.id, pass.runs).length > 0,
  )
  const [first, last] = [all[0], all.at(-1)]
  if (!first || !last) return complaints.map(({ id }) => ({ complaint: id, then: null, now: null }))
  const about = (complaint: Complaint): Pass => all.findLast((pass) => earliest(pass.runs) <= complaint.at) ?? first
  const fields = new Map<Pass, Promise<FieldAnswer | null>>()
  const looked = async (complaint: Complaint, pass: Pass): Promise<FoundThere['then']> => {
    if (!fields.has(pass)) fields.set(pass, fieldOf(workshop, job, pass, signal))
    const known = pass === last ? holes.last : pass.set === first.set ? holes.first : []
    const { found, said } = findingOf(complaint, await fields.get(pass)!, known)
    return { state: pass.set.name, found, said }
  }
  return Promise.all(
    complaints.map(async (one) => {
      const then = about(one)
      return { complaint: one.id, then: await looked(one, then), now: then === last ? null : await looked(one, last) }
    }),
  )
}

/** The same of the whole job, as it stands. */
export async function findingsOfComplaints(workshop: Workshop, job: Job, signal: AbortSignal): Promise<FoundThere[]> {
  const sides = await sidesOf(workshop, job, null)
  const { holes } = await powerOf(workshop, job, sides, 'power', signal)
  return complaintFindings(workshop, job, { sides, holes }, signal)
}
