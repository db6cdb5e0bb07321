import { inputRefused } from '../refusal/refusal'
import { correctedOn, type TableSince } from '../change/sinceMeasured'
import { DEFAULT_FIELD_OPTIONS, type FieldOptions } from '../field/field'
import { flatTarget, targetOn, type TargetChoice } from '../field/target'
import { DEFAULT_FILTERS } from '../run/run'
import { defaultBreakpoints } from '../table/defaultBreakpoints'
import type { InForce } from '../table/inForce'
import { interpolate } from '../table/lookup'
import {
  breakpointFault,
  build,
  shapeFault,
  type LoadAxis,
  type LoadGrid,
  type Matrix,
  type Table,
} from '../table/table'
import type { FieldRequest } from '../contract/field'
import type { MixtureSettings } from '../contract/mixture'
import { standingProbes, type PlacedProbe } from '../run/probes'

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
  /** table that commands lambda beside one of filling: then it says what is wanted */
  commanded?: Table | null | undefined
  /** where the table that is asked about is in force; everywhere when left out */
  inForce?: InForce | null | undefined
  /** breakpoints of the job's fuel table, when it has one */
  table: LoadGrid | null
  /** highest rpm over the runs, and whether all of them have a throttle */
  highestRpm: number
  hasThrottle: boolean
}

/**
 * Settles the options of a field: what is asked for, else what the job has chosen, else the defaults.
 *
 * @throws Refusal 'input-refused' when breakpoints or target do not fit
 */
export function settleFieldOptions(request: FieldRequest, context: FieldContext): FieldOptions {
  const { mixture } = context
  const grid = settleGrid(request, context)
  const filters = { ...DEFAULT_FILTERS, ...mixture.filters, ...request.options?.filters }
  return {
    grid,
    target: settleTarget(request.target, context, grid),
    lag: lagSeconds(request.lagMs === undefined ? mixture.lagMs : request.lagMs),
    method: request.method ?? 'solve',
    // Told once, in the brief; a request may ask for a lower one.
    filters: {
      ...filters,
      revCeiling: lower(filters.revCeiling, context.revCeiling),
      ...(context.inForce && { inForce: context.inForce }),
    },
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
    if (fault) throw inputRefused([{ field: axis, message: fault }])
  }
  return grid
}

function settleTarget(
  asked: number | Matrix | TargetChoice | undefined,
  { target, commanded }: FieldContext,
  grid: LoadGrid,
): Matrix {
  if (typeof asked === 'number') return flatTarget(grid, asked)
  if (Array.isArray(asked)) {
    const fault = shapeFault(grid, asked)
    if (fault) throw inputRefused([{ field: 'target', message: `the matrix does not fit the breakpoints: ${fault}` }])
    return asked
  }
  if (!asked && commanded?.loadAxis === grid.loadAxis)
    return build(grid, (row, column) => interpolate(commanded, commanded.values, grid.rpm[column]!, grid.load[row]!))
  return targetOn(grid, grid.loadAxis, asked ?? target)
}
