import type { RunInfo } from '../run/runInfo'
import type { TableInfo } from '../contract/table'
import { revisionOf } from '../question/madeOn'
import type { Danger } from './danger'

/**
 * Whether a run would be taken for made on a state that is younger than itself: then steps that were measured by nothing pass
 * for small ones. The state that it counts for, or would if nobody
 * had said so, is none.
 *
 * @param revisions by table, as asked for
 */
export function madeLater(
  run: Pick<RunInfo, 'name' | 'createdAt' | 'revisions'>,
  tables: readonly Pick<TableInfo, 'id' | 'name' | 'revisions'>[],
  revisions: Readonly<Record<string, number>>,
): Danger[] {
  return tables.flatMap((table): Danger[] => {
    const n = revisions[table.id]
    const state = table.revisions.find((one) => one.n === n)
    const byItself = [run, { ...run, revisions: {} }].map((one) => revisionOf(one, table))
    if (n === undefined || !state || state.createdAt <= run.createdAt || byItself.includes(n)) return []
    return [
      {
        kind: 'made on a younger state',
        field: `revisions.${table.id}`,
        text: `"${run.name}" came into the job before revision ${n} of "${table.name}" was saved. If it was made on it all the same, say how that is known: changes are judged by it.`,
      },
    ]
  })
}
