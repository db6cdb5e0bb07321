import {
  Refusal,
  complaintName,
  placeFaults,
  type Complaint,
  type ComplaintChange,
  type Job,
  type NewComplaint,
} from '@yuzumix/core'
import type { Store } from '../../store/database'
import { addLine, changeLine, dropLine, listLines, type StoredLine } from '../../store/lines'

type Data = Omit<Complaint, 'id' | 'at'>

const told = ({ id, at, data }: StoredLine<Data>): Complaint => ({ id, at, ...data })

export async function listComplaints(store: Store, job: string): Promise<Complaint[]> {
  return (await listLines<Data>(store, job, 'complaint')).map(told)
}

/** @throws Refusal 'no-such-place' outside the rev ceiling or the throttle's range */
export async function pinComplaint(store: Store, job: Job, complaint: NewComplaint): Promise<Complaint> {
  refusePlace(complaint, job)
  return told(
    await addLine<Data>(store, job.id, 'complaint', complaint, ['complaint pinned', complaintName(complaint)]),
  )
}

/** Changes or answers a complaint; null when there is none. @throws Refusal 'no-such-place' */
export async function changeComplaint(
  store: Store,
  job: Job,
  id: string,
  change: ComplaintChange,
): Promise<Complaint | null> {
  const line = await changeLine<Data>(store, job.id, 'complaint', id, (now) => {
    const data = { ...now, ...change, word: change.word ?? now.word }
    refusePlace(data, job)
    const answer = [change.found, change.done, change.riderSays && `the rider says ${change.riderSays}`].filter(Boolean)
    return {
      data,
      said: [answer.length ? 'complaint answered' : 'complaint changed', [complaintName(data), ...answer].join('; ')],
    }
  })
  return line && told(line)
}

export function takeBackComplaint(store: Store, job: string, id: string): Promise<boolean> {
  return dropLine(store, job, 'complaint', id, ['complaint taken back', ''])
}

function refusePlace(place: NewComplaint, { limits }: Job): void {
  const faults = placeFaults(place, limits)
  if (faults.length)
    throw new Refusal(
      'no-such-place',
      faults.map(({ field, message }) => `${field} ${message}`).join('; ') + '.',
      faults,
    )
}
