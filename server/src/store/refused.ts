import type { GateRefusal } from '@yuzumix/core'
import type { Store } from './database'
import { writeEntry } from './entries'

const MOST_TEXT = 400

/** What the gate refused stands in the job's logbook, as what it let pass does. */
export async function noteRefused(store: Store, job: string, { asks, title, message }: GateRefusal): Promise<void> {
  await store
    .act((transaction) =>
      writeEntry(
        store,
        transaction,
        job,
        asks ? 'asked for a reason' : 'refused',
        `${title}: ${message.slice(0, MOST_TEXT)}`,
      ),
    )
    // It was refused whether or not that can be written down.
    .catch(() => undefined)
}
