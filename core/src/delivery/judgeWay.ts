import type { Caution } from './cautions'
import { givenOf, standingOf } from './givenOf'
import { givenAt, leftOf, residual, residualPct, type Given, type Left, type Worst } from './left'
import { minutesOf } from './minutes'
import { pointsOf, type Points } from './points'
import { settingsCautions } from './settingsCautions'
import { HIGH_LOAD, MOST_LEAN, type Wanted } from './wanted'
import type { AskedOf, SettingsOf, ToldWay, WayKind } from './ways'

/** What a search tells beside the numbers that it found. */
export type Found<K extends WayKind> = { settings: SettingsOf[K]; free?: SettingsOf[K] } & Pick<ToldWay<K>, 'points'>

/**
 * What some numbers of a way would leave of a wanted change, between cells, too, and what has to be said of them: numbers that
 * were searched for, or that somebody set.
 *
 * @throws RangeError when nothing is wanted
 * @example
 * const { left } = judgeWay(wanted, { kind: 'global' }, { settings: { pct: 3 } })
 */
export function judgeWay<K extends WayKind>(wanted: Wanted, asked: AskedOf<K>, found: Found<K>): ToldWay<K> {
  const points = pointsOf(wanted)
  const judge = (given: Given): Left => leftOf(points, givenAt(points, given))
  const given = givenOf(asked, found.settings)
  const left = judge(given)
  const free = found.free && { settings: found.free, left: judge(givenOf(asked, found.free)) }
  const cautions = [
    ...settingsCautions(asked, found.settings),
    ...(free ? ruleCautions(left, free.left, judge(standingOf(asked) ?? (() => 1))) : []),
    ...leanCautions(points, given),
    ...unreadCautions(wanted, given, standingOf(asked)),
  ]
  return {
    kind: asked.kind as K,
    settings: found.settings,
    left,
    residualPct: residualPct(wanted, given),
    cautions,
    ...(free && { free }),
    ...(found.points && { points: found.points }),
    minutes: minutesOf(asked.kind as K, found.settings),
  }
}

/** A rule that costs less than this, %, is not worth a word. */
const WORTH_TELLING = 0.05

/** What the rule for load costs: a way that leaves more than doing nothing, or more than it could without the rule. */
function ruleCautions(left: Left, free: Left, nothing: Left): Caution[] {
  const [costPct, nothingPct, freePct] = [left.costPct, nothing.costPct, free.costPct]
  return [
    ...(costPct > nothingPct + 1e-9 ? [{ code: 'worse than nothing', costPct, nothingPct } as const] : []),
    ...(costPct - freePct > WORTH_TELLING ? [{ code: 'rule costs', costPct, freePct } as const] : []),
  ]
}

/** A place under load, between cells, too, that ends leaner than it may. */
function leanCautions(points: Points, given: Given): Caution[] {
  const gives = givenAt(points, given)
  let worst: Worst | null = null
  for (const [k, factor] of points.factor.entries()) {
    const [rpm, load] = [points.rpm[points.column[k]!]!, points.load[points.row[k]!]!]
    const pct = 100 * residual(factor, gives[k]!)
    if (load >= HIGH_LOAD && (worst === null || pct > worst.pct)) worst = { pct, rpm, load }
  }
  return worst && worst.pct > 100 * MOST_LEAN + 1e-6 ? [{ code: 'lean under load', worst }] : []
}

/** Fuel taken away, %, that is worth a word. */
const TAKEN_AWAY = 0.3

/** Fuel taken away under load in a cell of which nothing is known. */
function unreadCautions({ rpm, load, pct }: Wanted, given: Given, before: Given | null): Caution[] {
  let worst: Worst | null = null
  for (const [row, cells] of pct.entries())
    for (const [column, one] of cells.entries()) {
      const [speed, at] = [rpm[column]!, load[row]!]
      if (one !== null || at < HIGH_LOAD) continue
      const moved = 100 * (given(speed, at) / (before?.(speed, at) ?? 1) - 1)
      if (worst === null || moved < worst.pct) worst = { pct: moved, rpm: speed, load: at }
    }
  return worst && worst.pct < -TAKEN_AWAY ? [{ code: 'leaned unread', worst }] : []
}
