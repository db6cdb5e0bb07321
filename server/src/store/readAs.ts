import { readAsWords, type ReadAs } from '@yuzumix/core'
import { factsOf } from './columns'
import type { Store } from './database'
import { writeEntry } from './entries'

/**
 * Says how the columns of some runs are read, and tells their facts anew, as one act; what was stored of them stays.
 *
 * @param readAs null as they were logged
 * @returns false when the job lacks one of them; then nothing is changed
 */
export async function readRunsAs(
  store: Store,
  jobId: string,
  ids: readonly string[],
  readAs: ReadAs | null,
): Promise<boolean> {
  return store.act(async (transaction) => {
    const rows = await store.models.runs.findAll({ where: { id: [...new Set(ids)], jobId }, transaction })
    if (rows.length < new Set(ids).size) return false
    for (const row of rows) {
      await row.update({ readAs, facts: await factsOf(store, row.get().id, { ...row.get(), readAs }) }, { transaction })
    }
    const names = rows.map((row) => row.get().name).join(', ')
    const said = `${names}: ${readAs ? readAsWords(readAs) : 'as logged'}`
    await writeEntry(store, transaction, jobId, 'run read otherwise', said.slice(0, 1000))
    return true
  })
}
