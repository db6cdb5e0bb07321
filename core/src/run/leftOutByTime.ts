import type { RunColumns } from './run'

/** A part of a run that somebody left out, s, and why. What lies outside of a crop is one, too. */
export interface LeftOutSpan {
  from: number
  to: number
  reason: string
}

/** What a reading is of: where one is left out, the engine still did what it did. */
const READINGS = ['torque', 'power', 'drum', 'knock', 'handRange'] as const

/** Whether a time lies in a part that was left out. */
export const isWithout = (spans: readonly Pick<LeftOutSpan, 'from' | 'to'>[], time: number): boolean =>
  spans.some(({ from, to }) => time >= from && time <= to)

/** Whether any of a stretch, s, was left out: what was measured across a gap is no measurement. */
export const touchesWithout = (
  spans: readonly Pick<LeftOutSpan, 'from' | 'to'>[] | null | undefined,
  from: number,
  to: number,
): boolean => !!spans?.some((one) => one.from < to && one.to > from)

/** A column with no reading where one was left out; itself where none was. */
export const columnWithout = (
  column: Float32Array,
  time: Float32Array,
  spans: readonly Pick<LeftOutSpan, 'from' | 'to'>[] | null | undefined,
): Float32Array => (spans?.length ? column.map((value, row) => (isWithout(spans, time[row]!) ? NaN : value)) : column)

/**
 * A run without the readings of what was left out by time; engine speed and throttle stay, so that what follows is known by
 * what went before.
 *
 * @example
 * withoutSpans(run, [{ from: 0, to: 12.5, reason: 'pushed back to the line' }])
 */
export function withoutSpans(run: RunColumns, spans: readonly LeftOutSpan[]): RunColumns {
  if (spans.length === 0) return run
  const { time } = run
  const of = (column: Float32Array): Float32Array => columnWithout(column, time, spans)
  const named = READINGS.flatMap((name) => (run[name] ? [[name, of(run[name])] as const] : []))
  return {
    ...run,
    ...(Object.fromEntries(named) as Partial<RunColumns>),
    lambda: run.lambda.map(of),
    without: spans.map(({ from, to }) => ({ from, to })),
  }
}
