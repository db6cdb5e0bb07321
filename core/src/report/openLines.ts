import type { PutBack } from '../contract/jobLines'
import type { Complaint } from '../contract/complaint'
import { complaintName } from '../brief/complaintWords'
import { openPutBacks } from './putBack'

type Answered = Pick<Complaint, 'found' | 'done' | 'riderSays'>
/** The rider has said how it is now; or it was found and something was done about it. */
const isAnswered = ({ found, done, riderSays }: Answered): boolean => Boolean(riderSays || (found && done))

/** What stands between a job and being done, in words; empty when nothing does. */
export function openLines(
  complaints: readonly Pick<Complaint, 'word' | 'text' | 'found' | 'done' | 'riderSays' | 'leftOpen'>[],
  putBack: readonly Pick<PutBack, 'what' | 'now' | 'back' | 'leftSo'>[],
): { field: string; message: string }[] {
  return [
    ...openPutBacks(putBack).map((one) => ({ field: 'put-back', message: `${one.what} is still ${one.now}` })),
    ...complaints
      .filter((one) => !isAnswered(one) && !one.leftOpen)
      .map((one) => ({
        field: 'complaints',
        message: `"${complaintName(one)}" has no answer, and is not left open by name`,
      })),
  ]
}
