import type { Complaint, PutBack } from '../contract/jobLines'
import { openPutBacks } from './putBack'

/** What stands between a job and being done, in words; empty when nothing does. */
export function openLines(
  complaints: readonly Pick<Complaint, 'word' | 'text' | 'riderSays' | 'leftOpen'>[],
  putBack: readonly Pick<PutBack, 'what' | 'now' | 'back' | 'leftSo'>[],
  reports: number,
): { field: string; message: string }[] {
  return [
    ...openPutBacks(putBack).map((one) => ({ field: 'put-back', message: `${one.what} is still ${one.now}` })),
    ...complaints
      .filter((one) => !one.riderSays && !one.leftOpen)
      .map((one) => ({
        field: 'complaints',
        message: `"${[one.word, one.text].filter(Boolean).join(': ')}" has no answer, and is not left open by name`,
      })),
    ...(reports ? [] : [{ field: 'report', message: 'no report is saved yet' }]),
  ]
}
