import type { RunColumns } from './run'
import { isAtStop, isSameStop } from './stopOf'

/** Speeds at which an opening must have been read for a line over speed. */
const LEAST_SPEEDS = 2

/** rpm within which two readings are of one speed. */
const SAME_SPEED = 60

/** Readings by hand at one opening: rows of a run, round after round, each round rising in speed. */
interface HandStop {
  /** % */
  stop: number
  rounds: number[][]
}

/** Openings at which a run of hand readings was read at several speeds, smallest first. */
export function handStops({ throttle, rpm }: Pick<RunColumns, 'throttle' | 'rpm'>): HandStop[] {
  if (!throttle) return []
  const rows = [...rpm.keys()]
    .filter((i) => rpm[i]! > 0 && throttle[i]! >= 0)
    .sort((a, b) => throttle[a]! - throttle[b]!)
  const groups: number[][] = []
  for (const i of rows) {
    const first = groups.at(-1)?.[0]
    if (first !== undefined && isAtStop(throttle[i]!, throttle[first]!)) groups.at(-1)!.push(i)
    else groups.push([i])
  }
  return groups.flatMap((group): HandStop[] => {
    const rounds = roundsOf(group, rpm).filter((round) => round.length >= LEAST_SPEEDS)
    const stop = group.reduce((sum, i) => sum + throttle[i]!, 0) / group.length
    return rounds.length ? [{ stop: Math.round(10 * stop) / 10, rounds }] : []
  })
}

/** Points that were read again begin another round. */
function roundsOf(rows: readonly number[], rpm: Float32Array): number[][] {
  const rounds: number[][] = []
  // As they were written down: the first reading of each speed is of the first round.
  for (const i of [...rows].sort((a, b) => a - b)) {
    const free = rounds.find((round) => round.every((k) => Math.abs(rpm[k]! - rpm[i]!) > SAME_SPEED))
    if (free) free.push(i)
    else rounds.push([i])
  }
  return rounds.map((round) => round.sort((a, b) => rpm[a]! - rpm[b]!))
}

/**
 * Readings by hand at a stop, a run for each round; they compare as repeats of a sweep do.
 *
 * @param stop %; null for none, since openings are not told apart then
 */
export function roundsAt(run: RunColumns, stop: number | null): RunColumns[] {
  if (stop === null) return []
  return handStops(run)
    .filter((one) => isSameStop(one.stop, stop))
    .flatMap((one) => one.rounds)
    .map((rows, k): RunColumns => {
      const pick = (column: Float32Array): Float32Array => Float32Array.from(rows, (i) => column[i]!)
      return {
        id: `${run.id}#${k + 1}`,
        time: pick(run.time),
        rpm: pick(run.rpm),
        throttle: pick(run.throttle!),
        lambda: run.lambda.map(pick),
        handRange: pick(run.handRange!),
        ...(run.sensorPlace && { sensorPlace: run.sensorPlace }),
        ...(run.leftOut && { leftOut: run.leftOut }),
      }
    })
}
