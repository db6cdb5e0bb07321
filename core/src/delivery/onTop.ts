import { factorFromPercent, percentFromFactor } from '../fuel/mixture'
import { build } from '../table/table'
import type { Given } from './left'
import type { Wanted } from './wanted'

/** What is wanted on top of what is given already, by cell; the same where nothing is. */
export function onTop(wanted: Wanted, given: Given | null): Wanted {
  if (!given) return wanted
  return {
    ...wanted,
    pct: build(wanted, (row, column) => {
      const pct = wanted.pct[row]![column]!
      return pct === null
        ? null
        : percentFromFactor(factorFromPercent(pct) * given(wanted.rpm[column]!, wanted.load[row]!))
    }),
  }
}
