import type { RunColumns } from '@yuzumix/core'

/** A run that a worker is asked to take: its columns by key, and what is known of it beside them. */
export interface AskedRun {
  key: string
  beside: Pick<RunColumns, 'sensorPlace' | 'leftOut'>
}

/** Columns that a worker was given. They come once and stay; what is known beside them may change at any time. */
export function columnStore() {
  const columns = new Map<string, RunColumns>()
  return {
    add: (key: string, run: RunColumns): void => void columns.set(key, run),
    pick: (asked: readonly AskedRun[]): RunColumns[] =>
      asked.flatMap(({ key, beside }) => {
        const run = columns.get(key)
        if (!run) return []
        const { sensorPlace: _place, leftOut: _band, ...rest } = run
        return { ...rest, ...beside }
      }),
  }
}
