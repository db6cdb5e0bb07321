import type { SparkSettings } from '../spark/choice'
import { DEFAULT_SPARK_SETTINGS } from '../spark/choice'
import type { JudgedBin } from '../spark/judge'
import type { SparkLimits, SuggestedSpark } from '../spark/sparkChange'
import { suggestSpark } from '../spark/suggestSpark'
import type { Table } from '../table/table'
import type { SparkAsked } from './sparkQuestion'

/**
 * What a spark table is to be changed to, by the job's choices or by what is said instead of them.
 *
 * @param chosen the job's; the usual ones without
 * @throws RangeError when the table does not set spark
 * @example
 * const { values } = sparkChangeAnswer(table, bins, job.spark)
 */
export function sparkChangeAnswer(
  table: Table,
  bins: readonly JudgedBin[],
  chosen: SparkSettings | null | undefined,
  asked: {
    limits?: { [Limit in keyof SparkLimits]?: number | undefined } | undefined
    options?: SparkAsked['options']
  } = {},
): SuggestedSpark {
  const settings = chosen ?? DEFAULT_SPARK_SETTINGS
  const said = Object.entries(asked.limits ?? {}).filter(([, value]) => value !== undefined)
  return suggestSpark(
    table,
    bins,
    { ...settings.limits, ...Object.fromEntries(said) },
    asked.options?.knockMargin ?? settings.knockMargin,
    (asked.options?.giveAwayPct ?? settings.giveAwayPct) / 100,
  )
}
