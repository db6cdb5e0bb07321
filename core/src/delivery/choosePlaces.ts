import { interpolate } from '../table/lookup'
import { factorFromPercent } from '../fuel/mixture'
import { seededRandom } from '../numbers/random'
import { firstPlaces } from './firstPlaces'
import { fitTable, type FittedTable } from './fitTable'
import type { Places } from './onBreakpoints'
import { type Points, pointsOf, searchPoints } from './points'
import { AXES, rasterOver, type Axis, type PlacesAsked } from './raster'
import { knownSpan, withoutGaps, type Wanted } from './wanted'

/** Rounds of shaking and settling again; more gain nothing on surfaces seen. */
const ROUNDS = 20
/** Of the best places found on half of the points, those that are looked at with all of them. */
const LOOKED_AT_AGAIN = 3
/** Points looked at by all fits of a search together, after which no new round begins. */
const MOST_LOOKED_AT = 8e6

/**
 * Where a coarse table's breakpoints stand, and its values: chosen together to leave the least cost.
 *
 * Places to begin with are the best for straight lines through the surface itself, axis by axis (dynamic programming, exact
 * for that). From there each place is moved along its raster, nearest first, with all values fitted anew, until no move gains;
 * then some are shaken, and settled again.
 *
 * @param onProgress share that is done
 * @returns the same for the same seed
 */
export function choosePlaces(wanted: Wanted, asked: PlacesAsked, onProgress?: (share: number) => void): FittedTable {
  const rasters = { rpm: rasterOf(wanted, asked, 'rpm'), load: rasterOf(wanted, asked, 'load') }
  const filled = withoutGaps(wanted)
  const factors = filled.pct.map((cells) => cells.map((one) => factorFromPercent(one!)))
  const at = (rpm: number, load: number): number => interpolate(wanted, factors, rpm, load)
  const first = firstPlaces(wanted, asked, rasters, at)
  // Half as many points do to find the places by.
  const rough = searchPoints(filled, 1)
  const random = seededRandom(asked.seed ?? 1)
  const looked = { at: 0 }
  const settled = [settle(rough, rasters, fitTable(rough, first), Infinity, looked)]
  const best = (): FittedTable => settled[0]!
  for (let round = 0; round < ROUNDS && best().cost > 1e-12 && looked.at < MOST_LOOKED_AT; round++) {
    onProgress?.(round / (ROUNDS + 3))
    const shaken = shake(best(), rasters, random.uniform)
    settled.push(settle(rough, rasters, fitTable(rough, shaken, best()), Infinity, looked))
    settled.sort((one, other) => one.cost - other.cost)
  }
  // With all points in, another of the best may turn out to be the best.
  const whole = searchPoints(filled)
  const distinct = settled.filter((one, k) => k === 0 || one.cost > settled[k - 1]!.cost * (1 + WORTH))
  const found = distinct
    .slice(0, LOOKED_AT_AGAIN)
    .map((one) => settle(whole, rasters, fitTable(whole, one, one), 1))
    .reduce((one, other) => (other.cost < one.cost ? other : one))
  return fitTable(pointsOf(filled), found, found)
}

type Rasters = Record<Axis, readonly number[] | null>

/** The raster that places of an axis may be moved on; null where they are given. */
function rasterOf(wanted: Wanted, asked: PlacesAsked, axis: Axis): readonly number[] | null {
  const choice = asked[axis]
  return 'given' in choice ? null : rasterOver(knownSpan(wanted, axis), choice.step)
}

/**
 * Moves places one by one while that gains anything.
 *
 * @param reach steps of the raster that a place may go at once
 * @param looked counts the points looked at
 */
export function settle(
  points: Points,
  rasters: Rasters,
  from: FittedTable,
  reach = Infinity,
  looked = { at: 0 },
): FittedTable {
  let best = from
  for (let moved = true; moved;) {
    moved = false
    for (const axis of AXES) {
      const raster = rasters[axis]
      if (!raster) continue
      for (let k = 0; k < best[axis].length; k++) {
        const better = moveOne(points, best, [axis, k], raster, reach, looked)
        if (better) [best, moved] = [better, true]
      }
    }
  }
  return best
}

/** Gains below this share are none: they would go on for ever. */
const WORTH = 1e-4
/** Values are fitted to this share of the cost while places move: from those beside they are nearly right after one step. */
const ROUGHLY = 1e-2

/** The best place for one breakpoint between its neighbours, searched outwards; null where it stands best as it is. */
function moveOne(
  points: Points,
  table: FittedTable,
  [axis, k]: readonly [Axis, number],
  raster: readonly number[],
  reach: number,
  looked: { at: number },
): FittedTable | null {
  const now = raster.indexOf(table[axis][k]!)
  const least = k > 0 ? raster.indexOf(table[axis][k - 1]!) + 1 : 0
  const most = k + 1 < table[axis].length ? raster.indexOf(table[axis][k + 1]!) - 1 : raster.length - 1
  let best: FittedTable | null = null
  const cost = (): number => best?.cost ?? table.cost
  const tryAt = (to: number): boolean => {
    if (to < least || to > most || to === now) return false
    const places = { ...table, [axis]: table[axis].map((value, i) => (i === k ? raster[to]! : value)) }
    looked.at += points.factor.length
    const tried = fitTable(points, places, best ?? table, ROUGHLY)
    if (!(tried.cost < cost() * (1 - WORTH))) return false
    best = tried
    return true
  }
  // A few steps either way on a fine raster, the nearest of all on a coarse one.
  const span = most - least
  for (const direction of [1, -1] as const) {
    for (
      let step = Math.max(1, Math.min(reach, Math.floor(span / 4))), to = now;
      step >= 1;
      step = Math.floor(step / 2)
    ) {
      while (tryAt(to + direction * step)) to += direction * step
    }
  }
  return best
}

/** Some places put elsewhere: one taken out and set between two others, one moved at random. */
function shake({ rpm, load }: FittedTable, rasters: Rasters, uniform: () => number): Places {
  const shaken = { rpm: [...rpm], load: [...load] }
  for (const axis of AXES) {
    const raster = rasters[axis]
    const own = shaken[axis]
    if (!raster || raster.length <= own.length) continue
    const free = raster.filter((value) => !own.includes(value))
    const out = Math.floor(uniform() * own.length)
    const into = free[Math.floor(uniform() * free.length)]!
    own[out] = into
    own.sort((a, b) => a - b)
  }
  return shaken
}
