import { knownBeside, type ColumnsOf, type RunColumns, type RunInfo } from '@yuzumix/core'

/** Names a run's columns: another gauge scale makes other ones, and so does another way to read them. */
export const keyOf = ({ id, gaugeScale, readAs }: RunInfo): string =>
  `${id} ${gaugeScale ?? ''}${readAs ? JSON.stringify(readAs) : ''}`

/** Columns that a worker was given. They come once and stay; what is known beside them may change at any time. */
export function columnStore() {
  const columns = new Map<string, RunColumns>()
  const columnsOf: ColumnsOf = (runs) =>
    runs.flatMap((run) => {
      const found = columns.get(keyOf(run))
      if (!found) return []
      const { sensorPlace: _place, leftOut: _band, ...rest } = found
      return { ...rest, ...knownBeside(run) }
    })
  return { add: (key: string, run: RunColumns): void => void columns.set(key, run), columnsOf }
}
