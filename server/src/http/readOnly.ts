import { Refusal, changesMachine, type Job, type NamedCall } from '@yuzumix/core'

/** Refuses changes of a job that was handed over, and changes of the machine where the work is licensed. @throws Refusal, as 409 */
export function refuseReadOnly(call: NamedCall, job: Job | null): void {
  if (job?.doneAt && !call.opensAgain)
    throw new Refusal('handed-over', 'The job was handed over and is read-only. Reopen it first.', [
      { field: 'job', message: 'reopen it first' },
    ])
  if (job?.limits?.licensed && changesMachine(call))
    throw new Refusal(
      'licensed',
      'The brief says licensed work: read and record only. Changes are for a licensed mechanic under the rules that apply.',
      [{ field: 'limits.licensed', message: 'is set in the brief' }],
    )
}
