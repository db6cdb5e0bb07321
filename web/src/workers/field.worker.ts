import { expose } from 'comlink'
import { columnStore, type AskedRun } from './columnStore'
import {
  correctedOn,
  earlierFields,
  estimateField,
  explainNode,
  lagOfMachine,
  passField,
  runTraces,
  summariseField,
  warmUpIds,
  withAnswers,
  workOutField,
  zonesBefore,
  type EarlierField,
  type Field,
  type FieldOptions,
  type FieldWork,
  type NodeExplanation,
  type RunColumns,
  type RunTrace,
  type TableSince,
} from '@yuzumix/core'

const columns = columnStore()
let work: FieldWork | null = null
let passFields: (EarlierField & { key: string })[] = []
let lagFor = ''
let lag: FieldWork['lag'] | null = null
let zonesFor = ''
let earlierFor = ''
let earlier: EarlierField[] = []
let zones: Field['heldZones'] = []

/** Zones hang on earlier runs, grid and settling only: while a target is dragged they need not be sought again. */
function zonesOf(before: readonly (readonly AskedRun[])[], options: FieldOptions): Field['heldZones'] {
  const key = JSON.stringify([before, options.grid, options.filters, options.lag, options.probes])
  // A quick look while a filter or the lag is dragged takes the last zones, too.
  if (key === zonesFor || (zonesFor && options.mostSamples !== null)) return zones
  zones = zonesBefore(
    before.map((pass) => columns.pick(pass)),
    { ...options, mostSamples: null },
  )
  zonesFor = key
  return zones
}

/** The lag of a machine from all its passes. It hangs on runs, grid and settling only: while a target is dragged it need not be sought again. */
function lagOf(passes: readonly (readonly AskedRun[])[], options: FieldOptions): FieldWork['lag'] | null {
  if (options.lag !== null) return null
  const key = JSON.stringify([passes, options.grid, options.filters, options.probes])
  // A quick look while a filter is dragged takes the last lag too; the whole solve after it seeks it anew.
  if (lag && (key === lagFor || options.mostSamples !== null)) return lag
  lag = lagOfMachine(
    passes.map((pass) => columns.pick(pass)),
    options,
  )
  lagFor = key
  return lag
}

/** Fields of the passes before: a quick look while something is dragged takes the last ones. */
function earlierOf(before: readonly (readonly AskedRun[])[], options: FieldOptions): EarlierField[] {
  const { mostSamples, ...asked } = options
  const key = JSON.stringify([before, asked, lagFor])
  if (key === earlierFor || (earlierFor && mostSamples !== null)) return earlier
  earlier = earlierFields(
    before.map((pass) => columns.pick(pass)),
    options,
    lag,
  )
  earlierFor = key
  return earlier
}

/** Computation on the runs' columns, off the interface's thread. Columns come once and stay. */
const fieldWorker = {
  addRun(key: string, run: RunColumns): void {
    columns.add(key, run)
    work = null
    lag = null
    zonesFor = ''
    earlierFor = ''
  },
  /** @param before runs of the passes before, oldest first: what a loop held then is remembered */
  solve(asked: readonly AskedRun[], given: FieldOptions, before: readonly (readonly AskedRun[])[]): Field {
    const runs = columns.pick(asked)
    const warmUps = warmUpIds([...before.map((pass) => columns.pick(pass)), runs])
    const options = { ...given, warmUps, knownZones: zonesOf(before, { ...given, warmUps }) }
    if (options.method === 'nearest') return estimateField(runs, options)
    work = workOutField(runs, options, lagOf([...before, asked], options))
    return withAnswers(summariseField(work), earlierOf(before, options), options)
  },
  /** The field of each pass of the guided loop; those that are as they were are not solved again. */
  passes(
    asked: readonly (readonly AskedRun[])[],
    options: FieldOptions,
    corrected: readonly (readonly TableSince[])[],
  ): Field[] {
    const known = passFields
    passFields = []
    let key = JSON.stringify(options)
    const on = (pass: number) => correctedOn(options.grid, corrected[pass] ?? [])
    for (const [pass, runs] of asked.entries()) {
      const own = { ...options, corrected: on(pass), correctedBefore: pass ? on(0) : null }
      key += JSON.stringify([runs, own.corrected])
      const before = passFields.map((one) => ({ field: one.field, corrected: one.corrected }))
      const solve = (): Field => {
        const soFar = asked.slice(0, pass + 1).map((one) => columns.pick(one))
        const warmUps = warmUpIds(soFar)
        return passField(columns.pick(runs), { ...own, warmUps }, before, lagOfMachine(soFar, own))
      }
      const field = known[pass]?.key === key ? known[pass].field : solve()
      passFields.push({ key, field, corrected: own.corrected })
    }
    return passFields.map((one) => one.field)
  },
  explain(cylinder: number, row: number, column: number): NodeExplanation | null {
    return work && explainNode(work, cylinder, row, column)
  },
  traces(cylinder: number, row: number): RunTrace[] {
    return work ? runTraces(work, cylinder, row) : []
  },
}

export type FieldWorker = typeof fieldWorker
expose(fieldWorker)
