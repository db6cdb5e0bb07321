import { fuelSince } from '../change/sinceMeasured'
import { byCylinder } from '../run/probes'
import { fuelNeeded, percentFromFactor } from '../fuel/mixture'
import type { RunColumns, SetAside } from '../run/run'
import { interpolate } from '../table/lookup'
import { build } from '../table/table'
import { nodeEvidence, type NodeEvidence } from './evidence'
import { FieldError, type CylinderField, type Field, type FieldOptions } from './field'
import { markHeld, type HeldZone } from './heldZones'
import { estimateLag, fixedLag, type LagEstimate } from './lag'
import { marginRange } from './marginRange'
import { nearestCellAverage } from './nearestCell'
import { QUICK_STEPS } from './learnScales'
import { posteriorField, type Posterior } from './posterior'
import { findOddRuns, type OddBand } from './oddRuns'
import { place, type Placement } from './placement'
import { gatherSamples, keepSamples, thinSamples, type Samples } from './samples'
import { solveField } from './solve'
import { zonesAmong } from './zonesOfRuns'

/** One cylinder's solves: over open-loop readings, and over those of the held zones. */
interface CylinderWork {
  open: Known | null
  pinned: Known | null
}

/** Everything a field was made from, for those who want it explained. */
export interface FieldWork {
  options: FieldOptions
  runs: readonly RunColumns[]
  lag: LagEstimate
  heldZones: HeldZone[]
  odd: OddBand[]
  /** by run */
  used: number[]
  setAside: SetAside[]
  cylinders: CylinderWork[]
}

/**
 * Works a field out of runs: lag, screening, held zones, odd runs, robust solve.
 *
 * @param knownLag estimated before from the same runs, which need not be sought again
 * @throws FieldError when no run has a usable reading
 */
export function workOutField(
  given: readonly RunColumns[],
  options: FieldOptions,
  knownLag: LagEstimate | null = null,
): FieldWork {
  const runs = given.map((run) => byCylinder(run, options.probes))
  const { grid, filters } = options
  if (runs.length === 0)
    throw new FieldError('There are no runs to estimate from. Add a run, or choose at least one.', 'runs')
  const logged = runs.filter((run) => !run.handRange)
  const lag =
    options.lag !== null ? fixedLag(options.lag) : (knownLag ?? estimateLag(grid, logged, grid.loadAxis, filters))
  const gathered = gatherSamples(runs, { loadAxis: grid.loadAxis, lag: lag.lag, filters, range: marginRange(grid) })
  const all = thinSamples(gathered, options.mostSamples)
  if (!all.usable.includes(true)) {
    throw new FieldError(`None of these runs has a ${grid.loadAxis} column, which the table's rows need.`, 'loadAxis')
  }
  if (all.count === 0)
    throw new FieldError(
      `No reading is left to estimate from: ${reasonsInWords(all.setAside)}. Loosen the filters or add a run.`,
      'options',
    )

  const heldZones = zonesAmong(grid, all, runs, options.knownZones)
  const { held, edge } = markHeld(grid, all, heldZones)
  const open = keepSamples(
    all,
    held.map((h, i) => (h || edge[i] ? 0 : 1)),
  )
  const trimmed = trimmedOnly(all, runs, held)
  const inHeld = keepSamples(all, trimmed ?? held)
  const first = all.lambda.map((_, c) => solveCylinder(options, c, open))
  const odd = findOdd(options, first)
  const kept = options.leaveOutOdd ? leaveOut(open, odd) : open
  const openCounts = countByRun(open, runs.length)
  const keptCounts = countByRun(kept, runs.length)
  const heldCounts = countByRun(inHeld, runs.length)
  return {
    options,
    runs,
    lag,
    heldZones,
    odd,
    used: keptCounts.map((count, r) => count + heldCounts[r]!),
    setAside: all.setAside.map((one, r) => {
      const left = openCounts[r]! - keptCounts[r]!
      return left > 0 ? { ...one, 'odd band': left } : one
    }),
    cylinders: all.lambda.map((_, c) => ({
      // Where no band was left out, the first solve stands; else it is taken up where it was.
      open: withDoubt(options, c + 1, lag, kept === open ? first[c]! : solveCylinder(options, c, kept, first[c])),
      pinned: withDoubt(options, c + 1, lag, solveCylinder(options, c, inHeld, null, trimmed ? needByTrim : logRatio)),
    })),
  }
}

/** The field that was worked out, with its evidence, by node. */
export function summariseField(work: FieldWork): Field {
  const { options, runs, lag, heldZones, odd, used, setAside } = work
  return {
    grid: options.grid,
    method: 'solve',
    lag,
    cylinders: work.cylinders.map((one, c) => cylinderField(options, c, one, heldZones)),
    heldZones,
    runs: runs.map((run, r) => {
      const band = odd.find((one) => one.run === r)
      return {
        id: run.id,
        used: used[r]!,
        setAside: setAside[r]!,
        odd: band
          ? { fromRpm: band.fromRpm, toRpm: band.toRpm, departurePct: percentFromFactor(Math.exp(band.departure)) }
          : null,
      }
    }),
  }
}

/**
 * Estimates the mixture field from runs, by the method that the options name.
 *
 * @throws FieldError when no run has a usable reading
 * @example
 * const { cylinders } = estimateField(runs, { ...DEFAULT_FIELD_OPTIONS, grid, target })
 */
export function estimateField(runs: readonly RunColumns[], options: FieldOptions): Field {
  if (runs.length > 0 && options.method === 'nearest')
    return nearestCellAverage(
      runs.map((run) => byCylinder(run, options.probes)),
      options,
    )
  return summariseField(workOutField(runs, options))
}

function reasonsInWords(setAside: readonly SetAside[]): string {
  const sums = new Map<string, number>()
  for (const one of setAside)
    for (const [reason, count] of Object.entries(one)) sums.set(reason, (sums.get(reason) ?? 0) + count)
  return (
    [...sums]
      .sort((a, b) => b[1] - a[1])
      .map(([reason, count]) => `${reason} ${count}`)
      .join(', ') || 'the runs are empty'
  )
}

/** Held readings that have trims; null where none has. Without trims they say nothing of what the table needs. */
function trimmedOnly(samples: Samples, runs: readonly RunColumns[], held: Uint8Array): Uint8Array | null {
  const trimmed = runs.map((run) => run.trimShort !== undefined || run.trimLong !== undefined)
  const only = held.map((one, i) => (one && trimmed[samples.run[i]!] ? 1 : 0))
  return only.includes(1) ? only : null
}

/** ln of the fuel needed, of one cylinder, with the closed loop's trims taken in; NaN where it has no reading. */
function logRatio(options: FieldOptions, samples: Samples, lambda: Float32Array): Float32Array {
  const { grid, target } = options
  const { trim } = samples
  const first = target[0]![0]!
  const flat = target.every((cells) => cells.every((value) => value === first))
  return lambda.map((value, i) =>
    Math.log(
      fuelNeeded(
        value,
        flat ? first : interpolate(grid, target, samples.rpm[i]!, samples.load[i]!),
        trim ? trim[i]! : 1,
      ),
    ),
  )
}

/** ln of the fuel needed where the loop holds: it has the mixture at its own lambda, so its trims alone tell what the table is short of. */
function needByTrim(_options: FieldOptions, { trim }: Samples, lambda: Float32Array): Float32Array {
  return lambda.map((_, i) => Math.log(trim ? trim[i]! : 1))
}

/** Samples on the grid, and the field solved from them. */
interface Solved {
  samples: Samples
  placement: Placement
  /** ln of the need, by sample */
  need: Float32Array
  solution: ReturnType<typeof solveField>
}

function solveCylinder(
  options: FieldOptions,
  cylinder: number,
  samples: Samples,
  from?: Solved | null,
  need = logRatio,
): Solved | null {
  const lambda = samples.lambda[cylinder]!
  const here = lambda.some(Number.isNaN)
    ? keepSamples(
        samples,
        Uint8Array.from(lambda, (value) => (Number.isNaN(value) ? 0 : 1)),
      )
    : samples
  if (here.count === 0) return null
  const placement = place(options.grid, here.rpm, here.load)
  const y = need(options, here, here.lambda[cylinder]!)
  return {
    samples: here,
    placement,
    need: y,
    solution: solveField(options.grid, placement, y, options.solve, from?.solution),
  }
}

/** A solved field with its posterior. */
export interface Known extends Solved {
  posterior: Posterior
}

/** ln of the fuel that was added since the job began, by node; undefined for none. */
function correctedBy({ grid, corrected }: FieldOptions, cylinder: number): Float64Array | undefined {
  const own = corrected.filter((one) => one.cylinder === null || one.cylinder === cylinder)
  if (own.length === 0) return undefined
  return Float64Array.from(
    grid.rpm.flatMap((rpm) => grid.load.map((load) => Math.log(fuelSince(own, cylinder, grid.loadAxis, rpm, load)))),
  )
}

/** Error of a lag that nothing determines, s. */
const LAG_DOUBT = 0.06
function withDoubt(options: FieldOptions, cylinder: number, lag: LagEstimate, solved: Solved | null): Known | null {
  if (!solved) return null
  const { placement, samples, need: y, solution } = solved
  const { grid, mostSamples } = options
  const steps = mostSamples === null ? undefined : QUICK_STEPS
  const error = lag.error ?? (lag.from === 'fixed' ? 0 : LAG_DOUBT)
  return {
    ...solved,
    posterior: posteriorField(grid, placement, samples, y, solution, error, {
      steps,
      corrected: correctedBy(options, cylinder),
    }),
  }
}

/** Odd bands over all cylinders. */
function findOdd({ grid }: FieldOptions, cylinders: readonly (Solved | null)[]): OddBand[] {
  const bands: OddBand[] = []
  for (const solved of cylinders) {
    if (!solved) continue
    for (const band of findOddRuns(grid, solved.samples, solved.solution.residual)) {
      const known = bands.find((one) => one.run === band.run)
      if (!known) bands.push(band)
      else {
        known.fromRpm = Math.min(known.fromRpm, band.fromRpm)
        known.toRpm = Math.max(known.toRpm, band.toRpm)
      }
    }
  }
  return bands
}

function leaveOut(samples: Samples, bands: readonly OddBand[]): Samples {
  if (bands.length === 0) return samples
  const keep = new Uint8Array(samples.count).fill(1)
  for (let i = 0; i < samples.count; i++) {
    if (
      bands.some(
        (band) => band.run === samples.run[i] && samples.rpm[i]! >= band.fromRpm && samples.rpm[i]! < band.toRpm,
      )
    )
      keep[i] = 0
  }
  return keepSamples(samples, keep)
}

function countByRun(samples: Samples, runs: number): number[] {
  const counts = new Array<number>(runs).fill(0)
  for (let i = 0; i < samples.count; i++) counts[samples.run[i]!]!++
  return counts
}

/** Lambda at which a closed loop holds the mixture. */
const LOOP_LAMBDA = 1
const UNKNOWN: NodeEvidence = { samples: 0, passes: 0, half: Infinity, grade: 'none' }

function cylinderField(
  options: FieldOptions,
  c: number,
  { open, pinned }: CylinderWork,
  zones: readonly HeldZone[],
): CylinderField {
  const { grid, target } = options
  const loads = grid.load.length
  const held = build(grid, (row, column) =>
    zones.some((zone) => zone.row === row && grid.rpm[column]! >= zone.fromRpm && grid.rpm[column]! <= zone.toRpm),
  )
  const isHeld = (k: number): boolean => held[k % loads]![Math.floor(k / loads)]!
  const evidenceOf = (known: Known | null): NodeEvidence[] =>
    known ? nodeEvidence(known.placement, known.samples, known.solution, known.posterior, isHeld) : []
  const openEvidence = evidenceOf(open)
  const heldEvidence = evidenceOf(pinned)
  const node = (row: number, column: number): { x: number; evidence: NodeEvidence } => {
    const k = column * loads + row
    const [solved, evidence] = held[row]![column] ? [pinned, heldEvidence[k]] : [open, openEvidence[k]]
    return { x: solved?.posterior.x[k] ?? NaN, evidence: evidence ?? UNKNOWN }
  }
  const known = (row: number, column: number, value: (x: number, half: number) => number): number | null => {
    const { x, evidence } = node(row, column)
    return evidence.grade === 'none' || !Number.isFinite(x) ? null : value(x, evidence.half)
  }
  const percent = (x: number): number => percentFromFactor(Math.exp(x))
  const hasTrims = pinned !== null && pinned.samples.trim?.some((one) => one !== 1) === true
  const byTrim = build(grid, (row, column) => held[row]![column]! && hasTrims)
  const isUnknown = (row: number, column: number): boolean => held[row]![column]! && !byTrim[row]![column]
  const inCell = (row: number, column: number, value: (x: number, half: number) => number): number | null =>
    isUnknown(row, column) ? null : known(row, column, value)
  // Where trims tell, the aim is the loop's own lambda.
  const aim = build(grid, (row, column) => (byTrim[row]![column] ? LOOP_LAMBDA : target[row]![column]!))
  return {
    cylinder: c + 1,
    lambda: build(grid, (r, k) => known(r, k, (x) => aim[r]![k]! * Math.exp(x))),
    target: aim,
    changePct: build(grid, (r, k) => inCell(r, k, percent)),
    lowPct: build(grid, (r, k) => inCell(r, k, (x, half) => percent(x - half))),
    highPct: build(grid, (r, k) => inCell(r, k, (x, half) => percent(x + half))),
    samples: build(grid, (r, k) => node(r, k).evidence.samples),
    passes: build(grid, (r, k) => node(r, k).evidence.passes),
    evidence: build(grid, (r, k) => (isUnknown(r, k) ? 'none' : node(r, k).evidence.grade)),
    held,
    byTrim,
    noise: open?.solution.scale ?? pinned?.solution.scale ?? 0,
  }
}
