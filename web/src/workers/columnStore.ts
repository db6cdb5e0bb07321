import { knownBeside, type ColumnsOf, type RunColumns, type RunInfo } from '@yuzumix/core'

/**
 * Names a run's columns: another gauge scale makes other ones, and so do another way to read them, what was left out by time, and
 * what its stretches were made.
 */
export function keyOf({ id, gaugeScale, readAs, without, stretches, kind }: RunInfo): string {
  const bounds = stretches?.map((one) => [one.kind, one.from, one.to]) ?? null
  const spans = without?.map((one) => [one.from, one.to]) ?? null
  return JSON.stringify([id, gaugeScale, readAs, spans, bounds, kind === 'road'])
}

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
