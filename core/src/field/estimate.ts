import { byCylinder } from '../run/probes'
import { percentFromFactor } from '../fuel/mixture'
import type { RunColumns, SetAside } from '../run/run'
import { build } from '../table/table'
import { nodeEvidence, type Evidence, type NodeEvidence } from './evidence'
import type { CylinderField, Field, FieldOptions } from './field'
import { holdsCell, servesOpen } from './held/holdsCell'
import type { HeldZone } from './held/heldZones'
import { markHeld } from './held/markHeld'
import { gather } from './readings/gathered'
import type { LagEstimate } from './lag/lag'
import { isMisfire, type MisfireZone } from './faults/misfires'
import { nearestCellAverage } from './nearestCell'
import { oddAmongCylinders, withoutOdd } from './faults/oddAmongCylinders'
import type { OddBand } from './faults/oddRuns'
import { keepSamples, type Samples } from './readings/samples'
import { takenBack } from './held/takenBack'
import { wholeRuns } from './readings/wholeRuns'
import { logRatio, needByTrim, solveCylinder, withDoubt, type Known } from './solve/solveCylinder'

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
  misfires: MisfireZone[]
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
 * @param last worked out before from the same runs: a quick look takes the smoothness that they taught
 * @throws Refusal 'no-field' when no run has a usable reading
 */
export function workOutField(
  given: readonly RunColumns[],
  asked: FieldOptions,
  knownLag: LagEstimate | null = null,
  last: FieldWork | null = null,
): FieldWork {
  const { runs, options, lag, misfires, all, heldZones } = gather(given, asked, knownLag)
  const { held, edge } = markHeld(options.grid, all, heldZones)
  const open = keepSamples(
    all,
    held.map((h, i) => (h || edge[i] ? 0 : 1)),
  )
  const trimmed = trimmedOnly(all, runs, held)
  const inHeld = keepSamples(all, trimmed ?? held)
  const first = all.lambda.map((_, c) => solveCylinder(options, c, open))
  const odd = oddAmongCylinders(options.grid, first)
  const kept = options.leaveOutOdd ? withoutOdd(open, odd) : open
  const openCounts = countByRun(open, runs.length)
  const keptCounts = countByRun(kept, runs.length)
  const heldCounts = countByRun(inHeld, runs.length)
  return {
    options,
    runs,
    lag,
    heldZones,
    misfires,
    odd,
    used: keptCounts.map((count, r) => count + heldCounts[r]!),
    setAside: all.setAside.map((one, r) => {
      const left = openCounts[r]! - keptCounts[r]!
      return left > 0 ? { ...one, 'odd band': left } : one
    }),
    cylinders: all.lambda.map((_, c) => ({
      // Where no band was left out, the first solve stands; else it is taken up where it was.
      open: withDoubt(
        options,
        c + 1,
        lag,
        kept === open ? first[c]! : solveCylinder(options, c, kept, first[c]),
        last?.cylinders[c]?.open,
      ),
      pinned: withDoubt(
        options,
        c + 1,
        lag,
        solveCylinder(options, c, inHeld, null, trimmed ? needByTrim : logRatio),
        last?.cylinders[c]?.pinned,
      ),
    })),
  }
}

/**
 * The field that was worked out, with its evidence, by node.
 *
 * @returns matrices `[load][rpm]`; changes in percent of fuel, lambda as lambda
 */
export function summariseField(work: FieldWork): Field {
  const { options, runs, lag, heldZones, misfires, odd, used, setAside } = work
  return {
    grid: options.grid,
    method: 'solve',
    lag,
    cylinders: work.cylinders.map((one, c) => cylinderField(options, c, one, work)),
    heldZones,
    misfires,
    runs: wholeRuns(
      runs.map((run, r) => {
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
    ),
  }
}

/**
 * Estimates the mixture field from runs, by the method that the options name.
 *
 * @param knownLag told by more than these runs
 * @throws Refusal 'no-field' when no run has a usable reading
 * @example
 * const { cylinders } = estimateField(runs, { ...DEFAULT_FIELD_OPTIONS, grid, target })
 */
export function estimateField(
  runs: readonly RunColumns[],
  options: FieldOptions,
  knownLag: LagEstimate | null = null,
): Field {
  if (runs.length > 0 && options.method === 'nearest')
    return nearestCellAverage(
      runs.map((run) => byCylinder(run, options.probes)),
      options,
    )
  return summariseField(workOutField(runs, options, knownLag))
}

/** Held readings that have trims; null where none has. Without trims they say nothing of what the table needs. */
function trimmedOnly(samples: Samples, runs: readonly RunColumns[], held: Uint8Array): Uint8Array | null {
  const trimmed = runs.map((run) => run.trimShort !== undefined || run.trimLong !== undefined)
  const only = held.map((one, i) => (one && trimmed[samples.run[i]!] ? 1 : 0))
  return only.includes(1) ? only : null
}

function countByRun(samples: Samples, runs: number): number[] {
  const counts = new Array<number>(runs).fill(0)
  for (let i = 0; i < samples.count; i++) counts[samples.run[i]!]!++
  return counts
}

/** Effective samples that a cell at the edge of a zone must have from beyond it. */
const LEAST_OPEN = 2
/** Lambda at which a closed loop holds the mixture. */
const LOOP_LAMBDA = 1
const UNKNOWN: NodeEvidence = { samples: 0, passes: 0, half: Infinity, grade: 'none' }

function cylinderField(
  options: FieldOptions,
  c: number,
  { open, pinned }: CylinderWork,
  { runs, heldZones, misfires }: Pick<FieldWork, 'runs' | 'heldZones' | 'misfires'>,
): CylinderField {
  const { grid, target } = options
  const loads = grid.load.length
  const inZone = build(grid, (row, column) => heldZones.some((zone) => holdsCell(grid, zone, row, column)))
  const isHeld = (k: number): boolean => inZone[k % loads]![Math.floor(k / loads)]!
  const stands = runs.map((run) => run.handRange !== undefined)
  const evidenceOf = (known: Known | null): NodeEvidence[] =>
    known ? nodeEvidence(known.placement, known.samples, known.solution, known.posterior, isHeld, stands) : []
  const openEvidence = evidenceOf(open)
  const heldEvidence = evidenceOf(pinned)
  const isOpenSide = (row: number, column: number): boolean =>
    heldZones.every((zone) => !holdsCell(grid, zone, row, column) || servesOpen(grid, zone, column))
  // Trims tell of such a cell by themselves; else what is read beyond the edge does.
  const hasTrims = pinned !== null && pinned.samples.trim?.some((one) => one !== 1) === true
  const held = build(
    grid,
    (row, column) =>
      inZone[row]![column]! &&
      (hasTrims ||
        !isOpenSide(row, column) ||
        (openEvidence[column * loads + row]?.grade ?? 'none') === 'none' ||
        openEvidence[column * loads + row]!.samples < LEAST_OPEN),
  )
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
  const byTrim = build(grid, (row, column) => held[row]![column]! && hasTrims)
  const isUnknown = (row: number, column: number): boolean =>
    (held[row]![column]! && !byTrim[row]![column]) || isMisfire(misfires, grid, c + 1, row, column)
  const inCell = (row: number, column: number, value: (x: number, half: number) => number): number | null =>
    isUnknown(row, column) ? null : known(row, column, value)
  const grade = (r: number, k: number): Evidence => (isUnknown(r, k) ? 'none' : node(r, k).evidence.grade)
  // Where trims tell, the aim is the loop's own lambda.
  const aim = build(grid, (row, column) => (byTrim[row]![column] ? LOOP_LAMBDA : target[row]![column]!))
  return {
    cylinder: c + 1,
    lambda: build(grid, (r, k) =>
      isMisfire(misfires, grid, c + 1, r, k) ? null : known(r, k, (x) => aim[r]![k]! * Math.exp(x)),
    ),
    target: aim,
    changePct: build(grid, (r, k) => inCell(r, k, percent)),
    lowPct: build(grid, (r, k) => inCell(r, k, (x, half) => percent(x - half))),
    highPct: build(grid, (r, k) => inCell(r, k, (x, half) => percent(x + half))),
    samples: build(grid, (r, k) => node(r, k).evidence.samples),
    passes: build(grid, (r, k) => node(r, k).evidence.passes),
    evidence: build(grid, grade),
    held,
    byTrim,
    undoPct: takenBack(options, c + 1, heldZones, (r, k) => ({
      held: held[r]![k]! && !byTrim[r]![k],
      grade: grade(r, k),
      need: node(r, k).x,
    })),
    silentPct: build(grid, () => null),
    noise: open?.solution.scale ?? pinned?.solution.scale ?? 0,
  }
}
