import { asksForReason, type Refusal } from '@yuzumix/core'
import type { Store } from './database'
import { writeEntry } from './entries'

const MOST_TEXT = 400

/** What the gate refused stands in the job's logbook, as what it let pass does. */
export async function noteRefused(store: Store, job: string, refusal: Refusal): Promise<void> {
  await store
    .act((transaction) =>
      writeEntry(
        store,
        transaction,
        job,
        asksForReason(refusal) ? 'asked for a reason' : 'refused',
        `${refusal.title}: ${refusal.message.slice(0, MOST_TEXT)}`,
      ),
    )
    // It was refused whether or not that can be written down.
    .catch(() => undefined)
}
