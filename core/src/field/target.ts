import { USUAL_GAUGE_SCALE } from '../fuel/mixture'
import { build, type Grid, type LoadAxis, type Matrix } from '../table/table'

/** A wanted mixture by name, with the reason people give for it. All values are common practice. */
export interface TargetPreset {
  id: string
  name: string
  reason: string
  /** lambda at full load, and at cruise and below */
  full: number
  cruise: number
}

const full = (afr: number): number => afr / USUAL_GAUGE_SCALE

export const TARGET_PRESETS: readonly TargetPreset[] = [
  {
    id: 'road-13.0',
    name: 'Road, 13.0 at full throttle',
    reason: 'The usual base: near best torque, with a margin for hot days.',
    full: full(13.0),
    cruise: full(14.2),
  },
  {
    id: 'road-13.2',
    name: 'Road, 13.2 at full throttle',
    reason: 'A little leaner, for mild engines on steady fuel.',
    full: full(13.2),
    cruise: full(14.4),
  },
  {
    id: 'road-13.5',
    name: 'Road, 13.5 at full throttle',
    reason: 'The lean end of the usual band; leaves less margin.',
    full: full(13.5),
    cruise: full(14.6),
  },
  {
    id: 'track-12.8',
    name: 'Track, 12.8 at full throttle',
    reason: 'A little richer than the road: long full-throttle spells run hot.',
    full: full(12.8),
    cruise: full(13.8),
  },
  {
    id: 'lambda-0.85',
    name: 'Track, lambda 0.85',
    reason: 'The rich end of the usual lambda band.',
    full: 0.85,
    cruise: 0.95,
  },
  {
    id: 'lambda-0.90',
    name: 'Road, lambda 0.90',
    reason: 'The lean end of the usual lambda band.',
    full: 0.9,
    cruise: 0.98,
  },
  {
    id: 'boost-11.3',
    name: 'Supercharged, 11.3 under boost',
    reason: 'Open loop under boost; 13 there means stop.',
    full: full(11.3),
    cruise: full(14.2),
  },
]

/** A zone of the target set by hand: everything inside gets this lambda. */
export interface TargetZone {
  fromRpm: number
  toRpm: number
  fromLoad: number
  toLoad: number
  lambda: number
}

/** What a range of a carburettor is to give: from and to as a share of full throttle, or in units of 100 kPa. */
interface TargetRange {
  from: number
  to: number
  lambda: number
}

/** A target chosen by name, with zones over it. */
export interface TargetChoice {
  preset: string
  zones: TargetZone[]
  /** ranges of a carburettor, in the place of the preset on tables by that axis */
  ranges?: { loadAxis: LoadAxis; by: TargetRange[] }
}

/** Load from which lean destroys pistons, % of plate; and the leanest lambda wanted there unasked (common practice). */
export const UNDER_LOAD = 70
export const LEANEST_UNDER_LOAD = 0.95

export const DEFAULT_TARGET: TargetChoice = { preset: 'road-13.0', zones: [] }

/**
 * Target lambda at a point: cruise value up to a quarter of the load, full-load value from three quarters up, a straight
 * line between (a carburettor's ranges instead, where the choice has them); the last zone that holds the point goes first.
 *
 * @throws RangeError on an unknown preset
 */
export function targetAt(
  { preset: id, zones, ranges }: TargetChoice,
  loadAxis: LoadAxis,
  rpm: number,
  load: number,
): number {
  const preset = TARGET_PRESETS.find((one) => one.id === id)
  if (!preset) throw new RangeError(`There is no target preset "${id}".`)
  const zone = zones.findLast((z) => rpm >= z.fromRpm && rpm <= z.toRpm && load >= z.fromLoad && load <= z.toLoad)
  if (zone) return zone.lambda
  const by = ranges?.loadAxis === loadAxis ? ranges.by : undefined
  const range = by?.find((one) => load / 100 >= one.from && load / 100 < one.to) ?? by?.at(-1)
  if (range) return range.lambda
  const [low, high] = loadAxis === 'throttle' ? [25, 75] : [55, 90]
  const share = Math.min(1, Math.max(0, (load - low) / (high - low)))
  return preset.cruise + share * (preset.full - preset.cruise)
}

/**
 * Wanted lambda on a grid, as `targetAt` each of its points.
 *
 * @returns `[load][rpm]`
 * @throws RangeError for a preset that there is not
 */
export function targetOn(grid: Grid, loadAxis: LoadAxis, choice: TargetChoice): Matrix {
  return build(grid, (row, column) => targetAt(choice, loadAxis, grid.rpm[column]!, grid.load[row]!))
}

/** One lambda everywhere on the grid. */
export function flatTarget(grid: Grid, lambda: number): Matrix {
  return build(grid, () => lambda)
}
