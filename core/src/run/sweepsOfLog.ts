import { isWithout, type LeftOutSpan } from './leftOutByTime'
import { madeSpans } from './madeSpans'
import { isPull, rowsOf, type Rows } from './pulls'
import { stretchesOf, type Stretch } from './stretches'
import { sweepSpans, type SweepSpan } from './sweepSpans'

/** What of a log tells its parts, its columns of one length. */
export interface LogParts {
  time: Float32Array
  rpm: Float32Array
  throttle?: Float32Array | undefined
  /** as somebody split, joined or named them, s */
  stretches?: readonly Pick<Stretch, 'kind' | 'from' | 'to'>[] | null | undefined
  /** left out by time, s */
  without?: readonly Pick<LeftOutSpan, 'from' | 'to'>[] | null | undefined
  /** a ride: the few sweeps among it do not make it a log of sweeps */
  isRide?: boolean | undefined
}

const counts = ({ time, without }: LogParts, { from, to }: Rows): boolean =>
  !without?.length || !isWithout(without, (time[from]! + time[to - 1]!) / 2)

/**
 * The sweeps that a log is cut into: those that its columns show, or those that somebody made of them by splitting and joining.
 * A name alone changes nothing, and a ride stays one.
 *
 * @returns none where it is not cut; every row belongs to one of them otherwise
 */
export function sweepsOfLog(log: LogParts): SweepSpan[] {
  const { time, rpm, throttle, stretches, isRide } = log
  const found = sweepSpans(time, rpm, throttle)
  const isMade = stretches && throttle && (found.length > 0 || !isRide) && isByHand(log)
  return (isMade ? madeSpans(time, rpm, stretches, throttle) : found).filter((span) => counts(log, span))
}

const bounds = (all: readonly Pick<Stretch, 'kind' | 'from' | 'to'>[]): string =>
  JSON.stringify(
    all.flatMap(({ kind, from, to }) => (kind === 'sweep' ? [[Math.round(1000 * from), Math.round(1000 * to)]] : [])),
  )
/** Whether sweeps lie elsewhere than the columns show them. */
const isByHand = ({ time, rpm, throttle, stretches }: LogParts): boolean =>
  bounds(stretches!) !== bounds(stretchesOf(time, rpm, throttle!))

/** Long sweeps, holds and roll-ons of a ride that is not cut into sweeps, each a part that counts as a run of its own. */
export function partsOfRide(log: LogParts): { kind: 'sweep' | 'hold' | 'roll-on'; rows: Rows }[] {
  const { time, rpm, throttle, stretches, isRide } = log
  if (!isRide || !throttle) return []
  return (stretches ?? stretchesOf(time, rpm, throttle)).flatMap(({ kind, ...span }) => {
    const rows = rowsOf(time, span)
    if (kind !== 'sweep' && kind !== 'hold' && kind !== 'roll-on') return []
    const isOne = rows.to - rows.from > 1 && counts(log, rows) && (kind !== 'sweep' || isPull(time, rpm, rows))
    return isOne ? [{ kind, rows }] : []
  })
}
