import type { NamedStretch } from '@yuzumix/core'
import type { Store } from './database'
import { factsOf } from './columns'
import { writeEntry } from './entries'

/** A stretch as somebody made it. */
export type KeptStretch = Omit<NamedStretch, 'id'>

/** Stretches of a run that somebody made; null where nobody touched them. */
export async function keptStretches(store: Store, run: string): Promise<KeptStretch[] | null> {
  const row = await store.models.runs.findOne({ where: { id: run }, attributes: ['stretches'] })
  return row?.get().stretches ?? null
}

/** Keeps stretches that somebody made, as one act. @param text for the logbook */
export async function keepStretches(
  store: Store,
  job: string,
  run: string,
  stretches: KeptStretch[],
  text: string,
): Promise<void> {
  await store.act(async (transaction) => {
    const row = await store.models.runs.findOne({ where: { id: run }, transaction })
    // What it counts as follows what was made of it.
    await row?.update({ stretches, facts: await factsOf(store, run, { ...row.get(), stretches }) }, { transaction })
    await writeEntry(store, transaction, job, 'stretches changed', text)
  })
}
