import { plain } from '../numbers/format'
import type { RunKind } from './runKind'
import type { RunFacts } from './facts'

/** Readings a second that a run needs at the least; a little under ten, as clocks of loggers are. */
const LEAST_RATE = 9.5

/** What of a run tells whether it is of use. */
export interface MeasuredRun {
  kind: RunKind
  samples: number
  /** s */
  duration: number
  facts: RunFacts | null
}

/** Why a run tells too little to tick a plan, in words; null when it tells enough. Readings by hand are what they are. */
export function runFault({ kind, samples, duration, facts }: MeasuredRun): string | null {
  if (kind === 'hand readings') return null
  const rate = (samples - 1) / duration
  if (duration > 0 && rate < LEAST_RATE)
    return `${plain(rate, rate < 1 ? 2 : 1)} readings a second: too few, ten are needed`
  return facts?.settled === 0 && kind !== 'roll-on'
    ? 'none of its readings is settled and valid, so it tells nothing of the mixture'
    : null
}
