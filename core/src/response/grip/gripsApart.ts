import { grouped, plain } from '../../numbers/format'
import type { RunColumns } from '../../run/run'
import { gripMap, type GripMap } from './gripMap'

/** The map of one riding mode, or of one gear. */
interface GripOf {
  /** which mode, or gear, from 1 */
  of: number
  grip: GripMap
}

/** Maps that differ from each other, side by side. */
export interface GripsApart {
  /** none where fewer than two were measured, or where they are the same as far as readings tell */
  maps: GripOf[]
  /** what there is to be said of them; empty where fewer than two were measured */
  text: string
}

/** A controller has up to so many modes that are looked at side by side. */
const MOST_MODES = 4
const MOST_GEARS = 6
/** % of plate, beyond what the readings leave open, that make two maps two. */
const WORTH = 2

/** Maps by riding mode, however alike: a rider changes between them. */
export function gripByMode(runs: readonly RunColumns[]): GripsApart {
  const maps = mapsBy(runs, ({ mode }) => mode, MOST_MODES)
  const most = furthest(maps)
  if (!most) return { maps: [], text: '' }
  return {
    maps,
    text:
      most.apart > WORTH
        ? `${placed('Modes', most)}: whoever changes modes while riding feels it.`
        : `Modes ${maps.map((one) => one.of).join(', ')} move the plate alike, within ${plain(Math.max(WORTH, most.apart), 0)} %.`,
  }
}

/** Maps by gear, where it matters which one is in. */
export function gripByGear(runs: readonly RunColumns[]): GripsApart {
  const maps = mapsBy(runs, ({ gear }) => gear, MOST_GEARS)
  const most = furthest(maps)
  if (!most) return { maps: [], text: '' }
  return most.apart > WORTH
    ? { maps, text: `${placed('Gears', most)}: each gear has a map of its own.` }
    : { maps: [], text: 'No gear dependence of the plate: any gear will do.' }
}

/** Maps by what a channel says, of those with most readings, in its order. */
function mapsBy(
  runs: readonly RunColumns[],
  channelOf: (run: RunColumns) => Float32Array | undefined,
  most: number,
): GripOf[] {
  const counts = new Map<number, number>()
  const both = runs.filter((run) => run.grip && run.throttle && channelOf(run))
  for (const run of both)
    for (const value of channelOf(run)!) {
      const one = Math.round(value)
      if (one > 0) counts.set(one, (counts.get(one) ?? 0) + 1)
    }
  if (counts.size < 2) return []
  return [...counts]
    .sort((a, b) => b[1] - a[1])
    .slice(0, most)
    .map(([one]) => one)
    .sort((a, b) => a - b)
    .flatMap((of) => {
      const grip = gripMap(both.map((run) => only(run, channelOf(run)!, of)))
      return grip ? [{ of, grip }] : []
    })
}

/** A run whose grip is known only while a channel says so. */
function only(run: RunColumns, channel: Float32Array, of: number): RunColumns {
  return { ...run, grip: run.grip!.map((value, i) => (Math.round(channel[i]!) === of ? value : NaN)) }
}

/** Where two of the maps lie furthest apart: % of plate beyond both intervals; null with fewer than two. */
interface Furthest {
  pair: [number, number]
  grip: number
  rpm: number
  /** beyond the intervals, and in all */
  apart: number
  difference: number
}

function furthest(maps: readonly GripOf[]): Furthest | null {
  if (maps.length < 2) return null
  let best: Furthest = { pair: [maps[0]!.of, maps[1]!.of], grip: 0, rpm: 0, apart: 0, difference: 0 }
  maps.forEach((one, k) =>
    maps.slice(k + 1).forEach((other) =>
      one.grip.grip.forEach((grip, g) =>
        one.grip.rpm.forEach((rpm, c) => {
          const at = other.grip.rpm.indexOf(rpm)
          const [here, there] = [one.grip.plate[g]![c], at < 0 ? null : other.grip.plate[g]![at]]
          if (here == null || there == null) return
          const difference = Math.abs(here - there)
          const apart = difference - Math.hypot(one.grip.half[g]![c] ?? 0, other.grip.half[g]![at] ?? 0)
          if (apart > best.apart) best = { pair: [one.of, other.of], grip, rpm, apart, difference }
        }),
      ),
    ),
  )
  return best
}

function placed(what: string, { pair, grip, rpm, difference }: Furthest): string {
  return `${what} ${pair[0]} and ${pair[1]} lie up to ${plain(difference, 0)} % of plate apart, at ${grip} % of grip and ${grouped(rpm)} rpm`
}
