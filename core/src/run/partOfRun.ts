import { firstFrom } from './firstFrom'
import type { RunInfo } from './runInfo'
import type { Stretch } from './stretches'

/** A stretch of a run with its id, by which it is asked for wherever a run is, and its name. */
export interface NamedStretch extends Stretch {
  id: string
  name: string
}

const ms = (seconds: number): number => Math.round(1000 * seconds)

/**
 * The id of a stretch: its run's, with its ends in ms. It says by itself what it is, and nothing of it is stored.
 *
 * @example
 * stretchId('run', { from: 1.5, to: 4 }) // 'run@1500-4000'
 */
export const stretchId = (run: string, { from, to }: Pick<Stretch, 'from' | 'to'>): string =>
  `${run}@${ms(from)}-${ms(to)}`

/**
 * A stretch of one of some runs, as a run of its own: no column is copied. Null where the id is none of a stretch, or its run is not
 * there, or it ends before it begins.
 */
export function partOfRun(runs: readonly RunInfo[], id: string): RunInfo | null {
  const found = /^(.+)@(\d{1,9})-(\d{1,9})$/.exec(id)
  const run = found && runs.find((one) => one.id === found[1])
  const [from, to] = [Number(found?.[2]) / 1000, Number(found?.[3]) / 1000]
  if (!run || !(to > from) || from > run.duration) return null
  return {
    ...run,
    id,
    name: `${run.name}, ${from.toFixed(1)} to ${to.toFixed(1)} s`,
    duration: Math.min(to, run.duration) - from,
    facts: null,
    part: { of: run.id, from, to },
  }
}

/** The rows of some columns that lie in a part of their run; views, not copies. */
export function cropped<Columns extends { time: Float32Array }>(
  columns: Columns,
  { from, to }: Pick<Stretch, 'from' | 'to'>,
): Columns {
  const { time } = columns
  const first = firstFrom(time, from)
  let last = first
  while (last < time.length && time[last]! <= to) last++
  const cut = (value: unknown, name = ''): unknown =>
    value instanceof Float32Array
      ? value.subarray(first, last)
      : Array.isArray(value)
        ? value.map((one) => cut(one))
        : name === 'beside'
          ? cutAll(value as object)
          : value
  const cutAll = (of: object): object =>
    Object.fromEntries(Object.entries(of).map(([name, value]) => [name, cut(value, name)]))
  return cutAll(columns) as Columns
}
