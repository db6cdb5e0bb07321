import { correctedOn, type TableSince } from '../change/sinceMeasured'
import { DEFAULT_FIELD_OPTIONS, type Field, type FieldOptions } from '../field/field'
import { straightBetween } from '../field/straight'
import { flatTarget, targetOn, type TargetChoice } from '../field/target'
import { DEFAULT_FILTERS } from '../run/run'
import { defaultBreakpoints } from '../table/defaultBreakpoints'
import { breakpointFault, shapeFault, type LoadAxis, type LoadGrid, type Matrix } from '../table/table'
import { InputError } from '../contract/checkInput'
import type { FieldAnswer, FieldRequest } from '../contract/field'
import type { MixtureSettings } from '../contract/mixture'
import type { RunInfo } from '../contract/run'
import type { RunSet } from '../contract/set'
import { standingProbes, type PlacedProbe } from '../run/probes'
import { isLeftOut } from '../run/runColumns'

/** What a request for a field leaves open is taken from here. */
export interface FieldContext {
  mixture: MixtureSettings
  /** what the job wants */
  target: TargetChoice
  /** which probe sits in the gas of which cylinder, where it was said */
  probes?: readonly PlacedProbe[] | undefined
  /** fuel tables as they were when the job began, and while the runs were made */
  corrected?: readonly TableSince[] | undefined
  /** the same, up to the first pass before; null without one */
  correctedBefore?: readonly TableSince[] | null | undefined
  /** the same, up to each pass before, oldest first */
  correctedByPass?: readonly (readonly TableSince[])[] | undefined
  /** by run: fuel tables as they were while it was made, and as they are now; of runs that are to be translated */
  since?: readonly (readonly TableSince[])[] | undefined
  /** cylinders of the engine, where somebody said */
  engineCylinders?: number | null | undefined
  /** whether a closed loop may hold the mixture; it may when left out */
  hasLoop?: boolean | undefined
  /** rpm that no reading counts beyond, from the limits of the job */
  revCeiling: number | null
  /** breakpoints of the job's fuel table, when it has one */
  table: LoadGrid | null
  /** highest rpm over the runs, and whether all of them have a throttle */
  highestRpm: number
  hasThrottle: boolean
}

/** Whether a run tells the mixture of the table: with fuel added by hand it does not. */
export const tellsMixture = (run: RunInfo): boolean =>
  run.kind !== 'mixture step' && run.channels.some((one) => one.channel === 'lambda1')

/** The set whose runs make a job's field: the one chosen, else the newest that has runs with a mixture; null without any. */
export function fieldSet(
  mixture: MixtureSettings,
  sets: readonly Pick<RunSet, 'id'>[],
  runs: readonly RunInfo[],
): string | null {
  // A set of nothing but spark steps was not made for the mixture.
  const has = (id: string): boolean =>
    runs.some((run) => run.set === id && run.kind !== 'spark step' && tellsMixture(run))
  if (mixture.set && sets.some((one) => one.id === mixture.set)) return mixture.set
  return sets.findLast((one) => has(one.id))?.id ?? null
}

/** Runs of a set that make its field: those with a mixture that nobody left out. */
export function fieldRuns(mixture: MixtureSettings, set: string | null, runs: readonly RunInfo[]): RunInfo[] {
  const left = new Set(mixture.runsLeftOut)
  return runs.filter((run) => run.set === set && tellsMixture(run) && !left.has(run.id) && !isLeftOut(run))
}

/**
 * Settles the options of a field: what is asked for, else what the job has chosen, else the defaults.
 *
 * @throws InputError when breakpoints or target do not fit
 */
export function settleFieldOptions(request: FieldRequest, context: FieldContext): FieldOptions {
  const { mixture } = context
  const grid = settleGrid(request, context)
  const filters = { ...DEFAULT_FILTERS, ...mixture.filters, ...request.options?.filters }
  return {
    grid,
    target: settleTarget(request.target, context.target, grid),
    lag: lagSeconds(request.lagMs === undefined ? mixture.lagMs : request.lagMs),
    method: request.method ?? 'solve',
    // Told once, in the brief; a request may ask for a lower one.
    filters: { ...filters, revCeiling: lower(filters.revCeiling, context.revCeiling) },
    leaveOutOdd: request.options?.leaveOutOdd ?? mixture.leaveOutOdd,
    mostSamples: null,
    knownZones: [],
    corrected: correctedOn(grid, context.corrected ?? []),
    correctedBefore: context.correctedBefore ? correctedOn(grid, context.correctedBefore) : null,
    correctedByPass: (context.correctedByPass ?? []).map((tables) => correctedOn(grid, tables)),
    since: (context.since ?? []).map((tables) => correctedOn(grid, tables)),
    probes: standingProbes(context.probes),
    engineCylinders: context.engineCylinders ?? null,
    hasLoop: context.hasLoop ?? true,
    solve: {
      ...DEFAULT_FIELD_OPTIONS.solve,
      alpha: request.options?.alpha ?? DEFAULT_FIELD_OPTIONS.solve.alpha,
      beta: request.options?.beta ?? DEFAULT_FIELD_OPTIONS.solve.beta,
    },
  }
}

function lower(one: number | null | undefined, other: number | null): number | null {
  const least = Math.min(one ?? Infinity, other ?? Infinity)
  return Number.isFinite(least) ? least : null
}

function lagSeconds(lagMs: number | null): number | null {
  return lagMs === null ? null : lagMs / 1000
}

function settleGrid(request: FieldRequest, { mixture, table, highestRpm, hasThrottle }: FieldContext): LoadGrid {
  const loadAxis: LoadAxis =
    request.loadAxis ?? mixture.breakpoints?.loadAxis ?? table?.loadAxis ?? (hasThrottle ? 'throttle' : 'manifold')
  const chosen = mixture.breakpoints ?? table
  const fallback = chosen && chosen.loadAxis === loadAxis ? chosen : defaultBreakpoints(loadAxis, highestRpm)
  const grid = { loadAxis, rpm: request.rpm ?? fallback.rpm, load: request.load ?? fallback.load }
  for (const axis of ['rpm', 'load'] as const) {
    const fault = breakpointFault(axis, grid[axis])
    if (fault) throw new InputError([{ field: axis, message: fault }])
  }
  return grid
}

function settleTarget(asked: number | Matrix | TargetChoice | undefined, chosen: TargetChoice, grid: LoadGrid): Matrix {
  if (typeof asked === 'number') return flatTarget(grid, asked)
  if (Array.isArray(asked)) {
    const fault = shapeFault(grid, asked)
    if (fault) throw new InputError([{ field: 'target', message: `the matrix does not fit the breakpoints: ${fault}` }])
    return asked
  }
  return targetOn(grid, grid.loadAxis, asked ?? chosen)
}

/** A field as the HTTP interface answers it: milliseconds, ids, nulls. */
export function fieldAnswer(field: Field): FieldAnswer {
  return {
    rpm: field.grid.rpm,
    load: field.grid.load,
    loadAxis: field.grid.loadAxis,
    method: field.method,
    lagMs: Math.round(field.lag.lag * 1e4) / 10,
    lag: {
      from: field.lag.from,
      errorMs: field.lag.error === null ? null : Math.round(field.lag.error * 1000),
      note: field.lag.note,
      disagree: field.lag.disagree,
      byFlow: field.lag.byFlow && {
        baseMs: Math.round(field.lag.byFlow.base * 1e4) / 10,
        perFlow: field.lag.byFlow.perFlow,
      },
      sources: field.lag.sources.map(({ what, lag, error, count }) => ({
        what,
        lagMs: Math.round(lag * 1e4) / 10,
        errorMs: Math.round(error * 1000),
        count,
      })),
    },
    cylinders: field.cylinders.map(({ noise: _noise, ...cylinder }) => cylinder),
    straight: straightBetween(field.grid, field.cylinders),
    heldZones: field.heldZones.map(({ load, fromRpm, toRpm }) => ({ load, fromRpm, toRpm })),
    misfires: field.misfires,
    runs: field.runs,
  }
}
