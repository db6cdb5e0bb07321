import { grouped, plain, signed } from '../../numbers/format'
import { mean } from '../../numbers/mean'
import { median } from '../../numbers/median'
import type { RunColumns } from '../../run/run'
import type { LoadGrid } from '../../table/table'
import { place } from '../readings/placement'
import { keepSamples, type Samples } from '../readings/samples'
import { BIN, binnedRuns, GAP, SIDE, stepAt, torqueSteps, wholeCylinders, type BinnedRun } from './torqueSteps'

/** A span of a throttle stop in which every run lacks the torque of whole cylinders: it reads lean, and is not. */
export interface MisfireZone {
  /** throttle stop, % */
  stop: number
  /** rows of the table that its readings bear on */
  rows: number[]
  fromRpm: number
  toRpm: number
  /** from 1, where each cylinder has a probe and one alone reads lean; null for all that the probe sees */
  cylinder: number | null
  /** cylinders that are silent, of how many */
  silent: number
  of: number
  /** torque against the sound side, %; reading against it, %; scatter of single readings over that of the sound side */
  torquePct: number
  leanerPct: number
  scatterRatio: number
}

/** Pieces of a side that its scatter is told from. */
const CHUNKS = 3
/** Signs at the least: half of what a silent cylinder usually shows, since few readings tell them. */
const LEANER = 1.01
const MORE_SCATTER = 1.3
/** % of plate within which a run counts as held at its stop, and the share of it that must be. */
const HELD = { least: 2, share: 0.06, most: 0.8 }
const MOST_ROWS = 10_000
/** Engines of unknown make-up are taken to have one of these numbers of cylinders. */
const USUAL_CYLINDERS = [2, 3, 4]

/**
 * Misfires that every run of a stop shows alike, so that no run is odd: torque steps by the share of one or more cylinders,
 * and on the low side readings are leaner and scatter more (unburnt charge carries its oxygen past the probe). Fuel does not
 * mend it: leads, cap and plugs do.
 *
 * @param runs with a throttle; runs by hand and without torque do not tell
 * @param cylinders of the engine; null when nobody said
 */
export function findMisfires(
  grid: LoadGrid,
  samples: Samples,
  runs: readonly RunColumns[],
  cylinders: number | null,
): MisfireZone[] {
  const { torque } = samples
  if (!torque || cylinders === 1) return []
  const binned = binnedRuns(samples, torque, runs.length)
  const counts = cylinders === null ? USUAL_CYLINDERS : [cylinders]
  return stopsAmong(runs).flatMap(({ stop, members }) => {
    const curves = members.map((run) => binned[run]!).filter((one) => one.torque.some(Number.isFinite))
    return curves.length < 2 ? [] : zonesAt(grid, samples, stop, members, curves, counts)
  })
}

/**
 * Whether a cell lies in a misfire, so that its readings tell nothing of fuel.
 *
 * @param cylinder from 1
 * @param row from 0 at the lowest load
 * @param column from 0 at the lowest speed
 */
export function isMisfire(
  zones: readonly MisfireZone[],
  { rpm }: LoadGrid,
  cylinder: number,
  row: number,
  column: number,
): boolean {
  return zones.some(
    (zone) =>
      (zone.cylinder === null || zone.cylinder === cylinder) &&
      zone.rows.includes(row) &&
      rpm[column]! >= zone.fromRpm &&
      rpm[column]! <= zone.toRpm,
  )
}

/**
 * A misfire in words.
 *
 * @param name of the cylinder
 */
export function misfireWords(zone: MisfireZone, name: (cylinder: number) => string): string {
  const { stop, fromRpm, toRpm, silent, of, torquePct, leanerPct, scatterRatio, cylinder } = zone
  const whose = cylinder === null ? `as if ${silent} of ${of} cylinders were silent` : `${name(cylinder)} looks silent`
  return `Misfire at ${stop} %, ${grouped(fromRpm)} to ${grouped(toRpm)} rpm, in every run: torque ${signed(torquePct)} %, ${whose}; reads ${plain(leanerPct, 1)} % leaner and scatters ${plain(scatterRatio, 1)} times as much. No fuel: leads, cap, plugs first.`
}

/** Samples without the readings of cylinders that misfire; counted as set aside where no cylinder is left. */
export function withoutMisfires(samples: Samples, runs: readonly RunColumns[], zones: readonly MisfireZone[]): Samples {
  if (zones.length === 0) return samples
  const stops = runs.map(stopOf)
  const isIn = (zone: MisfireZone, i: number): boolean => {
    const stop = stops[samples.run[i]!]!
    const rpm = samples.rpm[i]!
    return stop !== null && isNear(stop, zone.stop) && rpm >= zone.fromRpm - BIN && rpm < zone.toRpm + BIN
  }
  const setAside = samples.setAside.map((one) => ({ ...one }))
  const keep = new Uint8Array(samples.count).fill(1)
  const lambda = samples.lambda.map((column) => column.slice())
  for (let i = 0; i < samples.count; i++)
    for (const zone of zones) {
      if (!isIn(zone, i)) continue
      if (zone.cylinder !== null) lambda[zone.cylinder - 1]![i] = NaN
      else if (keep[i] === 1) {
        keep[i] = 0
        const one = setAside[samples.run[i]!]!
        one.misfire = (one.misfire ?? 0) + 1
      }
    }
  return keepSamples({ ...samples, lambda, setAside }, keep)
}

const isNear = (one: number, stop: number): boolean => Math.abs(one - stop) <= Math.max(HELD.least, HELD.share * stop)

/** The plate that a run was held at; null for one that was not. */
function stopOf({ throttle, rpm, handRange }: RunColumns): number | null {
  if (!throttle || handRange) return null
  // Evenly chosen rows tell where the plate stood; a road log has millions.
  const stride = Math.max(1, Math.ceil(throttle.length / MOST_ROWS))
  const rows = Array.from({ length: Math.ceil(throttle.length / stride) }, (_, k) => k * stride)
  const open = rows.filter((i) => throttle[i]! > HELD.least && rpm[i]! > 0).map((i) => throttle[i]!)
  const stop = median(open)
  const held = open.filter((one) => isNear(one, stop))
  return held.length > HELD.most * open.length ? stop : null
}

function stopsAmong(runs: readonly RunColumns[]): { stop: number; members: number[] }[] {
  const held = runs
    .flatMap((run, k) => {
      const stop = stopOf(run)
      return stop === null ? [] : [{ stop, k }]
    })
    .sort((a, b) => a.stop - b.stop)
  const groups: (typeof held)[] = []
  for (const one of held) {
    const last = groups.at(-1)?.at(-1)
    if (last && isNear(last.stop, one.stop)) groups.at(-1)!.push(one)
    else groups.push([one])
  }
  return groups.map((group) => ({ stop: mean(group.map((one) => one.stop)), members: group.map((one) => one.k) }))
}

function zonesAt(
  grid: LoadGrid,
  samples: Samples,
  stop: number,
  members: readonly number[],
  curves: readonly BinnedRun[],
  counts: readonly number[],
): MisfireZone[] {
  const steps = torqueSteps(curves, counts)
  const known = curves.flatMap((one) => [...one.torque.keys()].filter((bin) => Number.isFinite(one.torque[bin])))
  const [first, last] = [Math.min(...known), Math.max(...known) + 1]
  const zones: MisfireZone[] = []
  steps.forEach(({ edge, size }, k) => {
    const isUp = size > 0
    // A span between a step down and a step up is told once, by its lower edge.
    const previous = steps[k - 1]
    if (isUp && previous && previous.size < 0) return
    const next = steps[k + 1]
    const [from, to] = isUp ? [first, edge] : [edge, next && next.size > 0 ? next.edge : last]
    const way = isUp ? -1 : 1
    const signs = samples.lambda.map((_, c) => ({
      c,
      leaner: Math.exp(-Math.sign(size) * mean(curves.map((one) => stepAt(one.lambda[c]!, edge)))),
      scatter:
        scatterOn(samples, members, c, chunks(edge, way, [from, to])) /
        Math.max(1e-4, scatterOn(samples, members, c, chunks(edge, -way, [first, last]))),
    }))
    const lean = signs.filter(({ leaner, scatter }) => leaner >= LEANER && scatter >= MORE_SCATTER)
    const strongest = lean.reduce<(typeof lean)[number] | null>((a, b) => (a && a.leaner >= b.leaner ? a : b), null)
    if (!strongest) return
    const { silent, of } = wholeCylinders(size, counts)!
    zones.push({
      stop: Math.round(stop),
      rows: rowsOf(grid, samples, members, from * BIN, to * BIN),
      fromRpm: from * BIN,
      toRpm: to * BIN,
      cylinder: samples.lambda.length === of && lean.length === 1 ? strongest.c + 1 : null,
      silent,
      of,
      torquePct: 100 * (Math.exp(-Math.abs(size)) - 1),
      leanerPct: 100 * (strongest.leaner - 1),
      scatterRatio: strongest.scatter,
    })
  })
  return zones
}

type Side = readonly [from: number, to: number]

/** Pieces of a few bins each going away from a step, as far as a side reaches. */
function chunks(edge: number, way: number, [from, to]: Side): Side[] {
  return Array.from({ length: CHUNKS }, (_, k): Side => {
    const near = edge + way * (GAP + k * SIDE)
    return way > 0 ? [near, Math.min(to, near + SIDE)] : [Math.max(from, near - SIDE), near]
  }).filter(([start, end]) => end - start >= GAP + 1)
}

/** Standard deviation of single readings about lines through each piece, over the runs. */
function scatterOn(samples: Samples, members: readonly number[], c: number, pieces: readonly Side[]): number {
  return Math.sqrt(mean(pieces.flatMap((piece) => squaresOn(samples, members, c, piece))))
}

function squaresOn(samples: Samples, members: readonly number[], c: number, [from, to]: Side): number[] {
  return members.flatMap((run) => {
    const x: number[] = []
    const y: number[] = []
    for (let i = 0; i < samples.count; i++)
      if (samples.run[i] === run && samples.rpm[i]! >= from * BIN && samples.rpm[i]! < to * BIN) {
        x.push(samples.rpm[i]!)
        y.push(samples.lambda[c]![i]!)
      }
    const [mx, my] = [mean(x), mean(y)]
    const spread = x.reduce((sum, one) => sum + (one - mx) ** 2, 0)
    const slope = spread > 0 ? x.reduce((sum, one, k) => sum + (one - mx) * (y[k]! - my), 0) / spread : 0
    return y.map((one, k) => (one - my - slope * (x[k]! - mx)) ** 2)
  })
}

/** Share of a reading that a row must bear at least. */
const BEARS = 0.25

/** Rows that readings of these runs bear on in a span. */
function rowsOf(grid: LoadGrid, samples: Samples, members: readonly number[], from: number, to: number): number[] {
  const inside = [...samples.rpm.keys()].filter(
    (i) => members.includes(samples.run[i]!) && samples.rpm[i]! >= from && samples.rpm[i]! < to,
  )
  const pick = (values: Float32Array): Float32Array => Float32Array.from(inside, (i) => values[i]!)
  const placed = place(grid, pick(samples.rpm), pick(samples.load))
  const rows = grid.load.length
  const shares = new Float64Array(rows)
  for (let i = 0; i < placed.count; i++) {
    const row = placed.node[i]! % rows
    shares[row]! += 1 - placed.up[i]!
    shares[row + 1]! += placed.up[i]!
  }
  return [...shares.keys()].filter((row) => shares[row]! > BEARS * placed.count)
}
