import type { RunInfo } from '../run/runInfo'
import type { RunSet } from '../contract/set'
import type { TableInfo } from '../contract/table'
import { revisionOf } from './madeOn'

/** Where new runs would go. */
export interface ProposedSet {
  /** a set that is there; null for a new one */
  set: string | null
  /** why, in words */
  why: string
}

/** What a proposal goes by; sets oldest first. */
interface Ground {
  sets: readonly Pick<RunSet, 'id' | 'name' | 'figures'>[]
  runs: readonly Pick<RunInfo, 'set' | 'revisions' | 'createdAt'>[]
  tables: readonly Pick<TableInfo, 'id' | 'name' | 'revisions'>[]
}

/**
 * The set that each day's new runs would go to: the newest, but for a new one where its runs were made on an older state of a
 * fuel or spark table than the present one, and for each day after the first.
 *
 * @param days files came from, oldest first; at least one
 * @example
 * proposedSets(['30 Nov'], { sets: [], runs: [], tables: [] }) // [{ set: null, why: 'the first of this job' }]
 */
export function proposedSets(days: readonly string[], { sets, runs, tables }: Ground): ProposedSet[] {
  const newest = sets.findLast((one) => !one.figures)
  const own = runs.filter((run) => run.set === newest?.id)
  const moved = tables.find(
    (table) => own.length > 0 && own.every((run) => revisionOf(run, table) < table.revisions.at(-1)!.n),
  )
  const first: ProposedSet =
    newest === undefined
      ? { set: null, why: 'the first of this job' }
      : moved
        ? {
            set: null,
            why: `${moved.name} is at revision ${moved.revisions.at(-1)!.n}, and the runs of ${newest.name} were made before`,
          }
        : { set: newest.id, why: own.length ? 'the newest set' : 'the newest set, still empty' }
  return days.map((_, k) => (k === 0 ? first : { set: null, why: 'of another day' }))
}
