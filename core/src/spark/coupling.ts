import { isSameStop } from '../run/stopOf'
import { kindOfTable } from '../table/kinds'
import { fuelMoved, sparkMoved, type TableHistory } from '../change/history'

/** Mixture moved by more than this makes spark results stale, %: it changes how fast a charge burns (common practice). */
const FUEL_MAKES_STALE = 3
/** Spark moved by more than this makes the mixture worth measuring again, degrees (common practice). */
const SPARK_MAKES_STALE = 2
/** % of plate from which an engine counts as loaded. */
export const AT_LOAD = 20

/** A move that made results stale at a point. */
export interface Stale {
  /** results from before this time are stale */
  before: string
  /** how far the other side moved since: % of fuel, or degrees of advance */
  moved: number
}

type Moved = (histories: readonly TableHistory[], at: string, rpm: number, load: number) => number

/**
 * The newest save since which the other side has moved by more than is let pass: results from before it are stale.
 *
 * A move taken back makes nothing stale.
 */
function staleBy(histories: readonly TableHistory[], what: 'fuel' | 'spark', rpm: number, load: number): Stale | null {
  if (load < AT_LOAD) return null
  const [moved, most]: [Moved, number] =
    what === 'fuel' ? [fuelMoved, FUEL_MAKES_STALE] : [sparkMoved, SPARK_MAKES_STALE]
  const saves = histories
    .filter(({ states }) => kindOfTable(states.at(-1)!.table.kind).sets === what)
    .flatMap(({ states }) => states.slice(1).map((one) => one.at))
    .sort()
    .reverse()
  for (const save of saves) {
    const size = moved(histories, justBefore(save), rpm, load)
    if (Math.abs(size) > most) return { before: save, moved: size }
  }
  return null
}

const justBefore = (at: string): string => new Date(Date.parse(at) - 1).toISOString()

/** Whether a mixture change made spark results at a point stale. @param load % of plate */
export function staleSpark(histories: readonly TableHistory[], rpm: number, load: number): Stale | null {
  return staleBy(histories, 'fuel', rpm, load)
}

/** Whether a spark change made the mixture measured at a point stale. @param load % of plate */
export function staleMixture(histories: readonly TableHistory[], rpm: number, load: number): Stale | null {
  return staleBy(histories, 'spark', rpm, load)
}

/** A run of which the plan asks whether it still holds. */
export interface MadeRun {
  kind: string
  /** % of plate; null for none */
  stop: number | null
  fromRpm: number
  toRpm: number
  at: string
  tellsMixture: boolean
}

/** A run to make once more because the other side moved. */
export interface Recheck {
  what: 'mixture' | 'spark'
  stop: number
  fromRpm: number
  toRpm: number
  /** the largest move there, % of fuel or degrees */
  moved: number
  /** runs made since then count */
  since: string
}

/** rpm between points at which a span is looked at, and to which a held speed is told. */
const STRIDE = 250
const POINT_STEP = 50
/** % of plate and rpm within which runs are of one place. */
const SAME_POINT = 300

/**
 * What has to be measured again: stops at which spark moved since the newest mixture run there, and points at which mixture
 * moved since the newest spark steps.
 *
 * @param mostRpm that may be asked for
 */
export function rechecks(histories: readonly TableHistory[], runs: readonly MadeRun[], mostRpm = Infinity): Recheck[] {
  const found: Recheck[] = []
  for (const what of ['mixture', 'spark'] as const) {
    const isPoint = what === 'spark'
    const mine = runs
      .filter(
        (run) => run.stop !== null && (isPoint ? run.kind === 'spark step' : run.kind === 'sweep' && run.tellsMixture),
      )
      .sort((a, b) => (a.at < b.at ? 1 : -1))
    const seen: MadeRun[] = []
    for (const run of mine) {
      const isSeen = seen.some(
        (one) => isSameStop(one.stop!, run.stop!) && (!isPoint || Math.abs(one.fromRpm - run.fromRpm) < SAME_POINT),
      )
      if (isSeen) continue
      seen.push(run)
      const step = Math.max(STRIDE, (run.toRpm - run.fromRpm) / 60)
      const stale: (Stale & { rpm: number })[] = []
      for (let rpm = run.fromRpm; rpm <= run.toRpm; rpm += step) {
        const one = (isPoint ? staleSpark : staleMixture)(histories, rpm, run.stop!)
        if (one && run.at < one.before) stale.push({ rpm, ...one })
      }
      if (stale.length === 0) continue
      const largest = stale.reduce((most, one) => (Math.abs(one.moved) > Math.abs(most.moved) ? one : most))
      const held = POINT_STEP * Math.round(run.fromRpm / POINT_STEP)
      found.push({
        what,
        stop: Math.round(run.stop!),
        fromRpm: isPoint ? held : Math.round(Math.max(run.fromRpm, stale[0]!.rpm - STRIDE)),
        toRpm: isPoint ? held : Math.round(Math.min(run.toRpm, stale.at(-1)!.rpm + STRIDE)),
        moved: largest.moved,
        since: stale
          .map((one) => one.before)
          .sort()
          .at(-1)!,
      })
    }
  }
  return found
    .filter((one) => one.fromRpm <= mostRpm)
    .map((one) => ({ ...one, toRpm: Math.min(one.toRpm, mostRpm) }))
    .sort((a, b) => a.stop - b.stop || a.fromRpm - b.fromRpm)
}
