import {
  earlierFields,
  estimateField,
  explainNode,
  lagOfMachine,
  runTraces,
  summariseField,
  warmUpIds,
  withAnswers,
  workOutField,
  zonesBefore,
  type EarlierField,
  type Field,
  type FieldOptions,
  type FieldQuestion,
  type FieldWork,
  type NodeExplanation,
  type RunColumns,
  type RunInfo,
  type RunTrace,
} from '@yuzumix/core'
import { columnStore } from './columnStore'

type Passes = readonly (readonly RunInfo[])[]

/**
 * The field, worked out as `answerField` does, but in parts that are kept: while a target is dragged only what hangs on it is
 * worked out anew. It tells of single cells, too.
 */
export function fieldWork() {
  const { add, columnsOf } = columnStore()
  let work: FieldWork | null = null
  let lagFor = ''
  let lag: FieldWork['lag'] | null = null
  let zonesFor = ''
  let earlierFor = ''
  let earlier: EarlierField[] = []
  let zones: Field['heldZones'] = []

  /** Zones hang on earlier runs, grid and settling only: while a target is dragged they need not be sought again. */
  function zonesOf(before: Passes, options: FieldOptions): Field['heldZones'] {
    const key = JSON.stringify([before, options.grid, options.filters, options.lag, options.probes])
    // A quick look while a filter or the lag is dragged takes the last zones, too.
    if (key === zonesFor || (zonesFor && options.mostSamples !== null)) return zones
    zones = zonesBefore(before.map(columnsOf), { ...options, mostSamples: null })
    zonesFor = key
    return zones
  }
  /** The lag of a machine from all its passes. It hangs on runs, grid and settling only: while a target is dragged it need not be sought again. */
  function lagOf(passes: Passes, options: FieldOptions): FieldWork['lag'] | null {
    if (options.lag !== null) return null
    const key = JSON.stringify([passes, options.grid, options.filters, options.probes])
    // A quick look while a filter is dragged takes the last lag too; the whole solve after it seeks it anew.
    if (lag && (key === lagFor || options.mostSamples !== null)) return lag
    lag = lagOfMachine(passes.map(columnsOf), options)
    lagFor = key
    return lag
  }
  /** Fields of the passes before: a quick look while something is dragged takes the last ones. */
  function earlierOf(before: Passes, options: FieldOptions): EarlierField[] {
    const { mostSamples, ...asked } = options
    const key = JSON.stringify([before, asked, lagFor])
    if (key === earlierFor || (earlierFor && mostSamples !== null)) return earlier
    earlier = earlierFields(before.map(columnsOf), options, lag)
    earlierFor = key
    return earlier
  }

  return {
    addRun(key: string, run: RunColumns): void {
      add(key, run)
      work = null
      lag = null
      zonesFor = ''
      earlierFor = ''
    },
    solve({ runs, before, options: given }: FieldQuestion): Field {
      const columns = columnsOf(runs)
      const warmUps = warmUpIds([...before.map(columnsOf), columns])
      const options = { ...given, warmUps, knownZones: zonesOf(before, { ...given, warmUps }) }
      const known = lagOf([...before, runs], options)
      if (options.method === 'nearest') return estimateField(columns, options, known)
      work = workOutField(columns, options, known)
      return withAnswers(summariseField(work), earlierOf(before, options), options)
    },
    explain: (cylinder: number, row: number, column: number): NodeExplanation | null =>
      work && explainNode(work, cylinder, row, column),
    traces: (cylinder: number, row: number): RunTrace[] => (work ? runTraces(work, cylinder, row) : []),
  }
}
export type FieldWorker = ReturnType<typeof fieldWork>
