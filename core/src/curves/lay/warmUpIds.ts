import { bySweep } from '../../run/bySweep'
import type { RunColumns } from '../../run/run'
import { isSameStop, stopOf } from '../../run/stopOf'
import { DEFAULT_CURVE } from './curve'
import { overlay, rulerOver } from './overlay'

/** Repeats among which a warm-up run can be told. */
const LEAST_REPEATS = 3
/** rpm that a sweep goes over at the least: holds tell no curve. */
const LEAST_SPAN = 1500

/** By the first of some repeats, whose columns never change: which of them were made while the engine warmed up. */
const known = new WeakMap<RunColumns, { repeats: readonly RunColumns[]; warm: string[] }>()

/**
 * Ids of the sweeps that Baseline takes for warm-up runs and keeps out of mean and spread: by the same overlay of repeats, stop by
 * stop and pass by pass.
 *
 * @param passes runs of each pass, in the order in which they were made
 * @example
 * warmUpIds([[]]) // []
 */
export function warmUpIds(passes: readonly (readonly RunColumns[])[]): string[] {
  return passes.flatMap((runs) => warmIn(runs.flatMap(bySweep)))
}

function warmIn(sweeps: readonly RunColumns[]): string[] {
  const stops: { stop: number; repeats: RunColumns[] }[] = []
  for (const sweep of sweeps) {
    const stop = stopOfSweep(sweep)
    if (stop === null) continue
    const same = stops.find((one) => isSameStop(one.stop, stop))
    if (same) same.repeats.push(sweep)
    else stops.push({ stop, repeats: [sweep] })
  }
  return stops.filter((one) => one.repeats.length >= LEAST_REPEATS).flatMap((one) => warmAmong(one.repeats))
}

/** The opening that a sweep was made at; null where it is no sweep. */
function stopOfSweep({ throttle, rpm, handRange }: RunColumns): number | null {
  if (!throttle || handRange || throttle.length === 0) return null
  let [slowest, fastest] = [Infinity, -Infinity]
  for (const speed of rpm) {
    if (speed < slowest) slowest = speed
    if (speed > fastest) fastest = speed
  }
  if (!(fastest - slowest >= LEAST_SPAN)) return null
  return stopOf(throttle)
}

function warmAmong(repeats: readonly RunColumns[]): string[] {
  const last = known.get(repeats[0]!)
  if (last && last.repeats.length === repeats.length && last.repeats.every((one, k) => one === repeats[k]))
    return last.warm
  const ruler = rulerOver(repeats)
  const warm = ruler ? overlay(repeats, ruler, DEFAULT_CURVE, 1).warmUps.map((one) => one.run) : []
  known.set(repeats[0]!, { repeats: [...repeats], warm })
  return warm
}
