import type { RunColumns } from '../../run/run'
import { rowFinder } from '../../table/lookup'
import type { LoadGrid } from '../../table/table'
import { findHeldZones, type HeldZone } from './heldZones'
import { markHeld } from './markHeld'
import { keepSamples, type Samples } from '../readings/samples'

/** % of plate near which runs are held (common practice); a stop between two is seen on both. */
const STOPS = [2, 5, 10, 15, 20, 25, 30, 40, 50, 60, 70, 80, 90, 100]
/** Readings of a zone that a row of the table must have: where a stop only grazes a row, noise puts a few there. */
const LEAST_READINGS = 8

/**
 * Held zones on a table by manifold pressure, sought along throttle stops: a loop that lets go by plate or by pressure steps
 * somewhere along a sweep, while a row of pressure is made of pieces of several sweeps and may show no edge at all.
 *
 * @param runs that the samples came from; those without a throttle show nothing here
 * @param column readings, by sample
 * @returns zones on rows of the table
 */
export function zonesByStop(
  grid: LoadGrid,
  all: Samples,
  runs: readonly RunColumns[],
  column: Float32Array,
): HeldZone[] {
  const plates = plateOf(all, runs)
  const known = Uint8Array.from(plates, (one) => (Number.isNaN(one) ? 0 : 1))
  const samples = keepSamples(all, known)
  const [plate, lambda] = [plates, column].map((one) => one.filter((_, i) => known[i])) as [Float32Array, Float32Array]
  const onStops = { ...samples, load: plate }
  const nearest = rowFinder({ load: STOPS })
  const used = new Set(Array.from(plate, nearest))
  const stops: LoadGrid = { loadAxis: 'throttle', rpm: grid.rpm, load: STOPS.filter((_, k) => used.has(k)) }
  return findHeldZones(stops, onStops, lambda).flatMap((zone) =>
    onRows(grid, samples, markHeld(stops, onStops, [zone]).held),
  )
}

/** % of plate by sample. Readings are kept only where the plate stands still, so that the lag does not matter. */
function plateOf(samples: Samples, runs: readonly RunColumns[]): Float32Array {
  const plate = new Float32Array(samples.count).fill(NaN)
  let [run, row] = [-1, 0]
  for (let i = 0; i < samples.count; i++) {
    if (samples.run[i] !== run) [run, row] = [samples.run[i]!, 0]
    const { time, throttle } = runs[run]!
    if (!throttle) continue
    while (row + 1 < time.length && time[row]! < samples.time[i]!) row++
    plate[i] = throttle[row]!
  }
  return plate
}

/** The held samples as a zone on each row of the table that they lie on. */
function onRows(grid: LoadGrid, samples: Samples, held: Uint8Array): HeldZone[] {
  const rowOf = rowFinder(grid)
  const rows = new Map<number, { count: number; load: number; from: number; to: number }>()
  for (let i = 0; i < samples.count; i++) {
    if (!held[i]) continue
    const row = rowOf(samples.load[i]!)
    const one = rows.get(row) ?? { count: 0, load: 0, from: Infinity, to: -Infinity }
    one.count++
    one.load += samples.load[i]!
    one.from = Math.min(one.from, samples.rpm[i]!)
    one.to = Math.max(one.to, samples.rpm[i]!)
    rows.set(row, one)
  }
  return [...rows].flatMap(([row, { count, load, from, to }]) =>
    count < LEAST_READINGS ? [] : [{ row, load: load / count, fromRpm: Math.floor(from), toRpm: Math.ceil(to) }],
  )
}
