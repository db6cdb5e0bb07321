import {
  explainNode,
  runTraces,
  workOfField,
  type Field,
  type FieldQuestion,
  type FieldWork,
  type KeepPart,
  type NodeExplanation,
  type RunColumns,
  type RunTrace,
} from '@yuzumix/core'
import { columnStore } from './columnStore'

/**
 * The field of a page that asks again and again: what hangs on runs and settling alone is kept, so that while a target is
 * dragged only the rest is worked out anew. It tells of single cells, too.
 */
export function fieldWork() {
  const { add, columnsOf } = columnStore()
  const kept = new Map<string, { for: string; value: unknown }>()
  let work: FieldWork | null = null

  const keepFor =
    ({ runs, before, options }: FieldQuestion): KeepPart =>
    (part, hangsOn, make) => {
      const key = JSON.stringify([runs, before, hangsOn])
      const last = kept.get(part)
      // A quick look while something is dragged takes the last ones, too; the whole solve after it makes them anew.
      if (last && (last.for === key || options.mostSamples !== null)) return last.value as ReturnType<typeof make>
      const value = make()
      kept.set(part, { for: key, value })
      return value
    }

  return {
    addRun(key: string, run: RunColumns): void {
      add(key, run)
      work = null
      kept.clear()
    },
    solve(question: FieldQuestion): Field {
      const { grid } = question.options
      const last = work && JSON.stringify(work.options.grid) === JSON.stringify(grid) ? work : null
      const { field, work: made } = workOfField(question, columnsOf, keepFor(question), last)
      work = made ?? work
      return field
    },
    explain: (cylinder: number, row: number, column: number): NodeExplanation | null =>
      work && explainNode(work, cylinder, row, column),
    traces: (cylinder: number, row: number): RunTrace[] => (work ? runTraces(work, cylinder, row) : []),
  }
}
export type FieldWorker = ReturnType<typeof fieldWork>
