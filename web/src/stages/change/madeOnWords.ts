import { measuredOn, type ChangeQuestion } from '@yuzumix/core'
import { counted } from '@/parts/numbers/format'

/** What is to be known of a table before its change is looked at; empty where the runs were made on it as it is. */
export function madeOnWords(question: ChangeQuestion): string {
  const { revision, latest, changedCells, olderRuns } = measuredOn(question)
  const older = olderRuns.length
  const left = older
    ? ` ${older} ${older === 1 ? 'run was' : 'runs were'} made on older revisions and ${older === 1 ? 'is' : 'are'} left out.`
    : ''
  const { id } = question.table
  if (question.since.some((one) => one.id === id))
    return `Measured on revision ${revision}; ${counted(changedCells, 'change')} ${changedCells === 1 ? 'is' : 'are'} in revision ${latest}: measure again.${left}`
  if (question.since.length) return `Other fuel tables were changed since these runs: measure again.${left}`
  return left.trim()
}
