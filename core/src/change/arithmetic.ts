import { percentFromFactor } from '../fuel/mixture'
import { leanestAt, type ChangeLimits } from './limits'
import type { Need } from './need'
import { NINETY } from '../numbers/ninety'

/** What decided a cell's change. */
export const CHANGE_REASONS = [
  'as estimated',
  'bridged between readings',
  'shrunk by its interval',
  'limited, richer',
  'limited, leaner',
  'held by closed loop',
  'taken back, a loop held it',
  'misfire, no fuel',
  'does not answer',
  'no evidence',
  'interval too wide',
  'filled from neighbours',
  'tapered off',
  'equal with the rows above high load',
  'too small to matter',
  'limited by the table',
] as const
export type ChangeReason = (typeof CHANGE_REASONS)[number]

/** What a line of the arithmetic behind a cell does. */
export const ARITHMETIC = [
  'measured',
  'bridged',
  'since',
  'filled',
  'taper',
  'equal',
  'undo',
  'shrink',
  'limit',
  'apply',
  'stay',
] as const

/** One line of the arithmetic behind a cell, as numbers; the interface prints it. */
export interface ArithmeticStep {
  what: (typeof ARITHMETIC)[number]
  /** Named inputs, in the order in which they are written */
  values: Record<string, number>
  result: number
  reason?: ChangeReason
}

/** How far the arithmetic has come, and what decided it so far. */
export interface Sum {
  change: number
  reason: ChangeReason
  steps: ArithmeticStep[]
}

/**
 * Share of the estimate that is kept: the part of the mean square that is not noise, so a cell whose interval is as wide
 * as its change keeps about half (positive-part shrinkage; James and Stein 1961).
 *
 * @param change its usual size thereabouts; @param half half width of the 90 % interval; same unit
 */
export function keptShare(change: number, half: number): number {
  if (!(Math.abs(change) > 0)) return 1
  const error = half / NINETY
  return (change * change) / (change * change + error * error)
}

/**
 * The estimate, less what was changed since, shrunk for its interval.
 *
 * @param usual size of what is left thereabouts, %: cells that are judged each by itself end up uneven
 */
export function shrunk({ lambda, target, measured, left, moved, half, isBridged }: Need, usual: number): Sum {
  const steps: ArithmeticStep[] = [
    { what: isBridged ? 'bridged' : 'measured', values: { lambda: lambda!, target }, result: measured },
  ]
  if (moved !== 1)
    steps.push({ what: 'since', values: { change: measured, moved: percentFromFactor(moved) }, result: left })
  const share = keptShare(usual, half)
  const change = left * share
  steps.push({ what: 'shrink', values: { change: left, share, half }, result: change })
  const reason = share < 0.95 ? 'shrunk by its interval' : isBridged ? 'bridged between readings' : 'as estimated'
  return { change, reason, steps }
}

const ONWARD = {
  filled: 'filled from neighbours',
  taper: 'tapered off',
  equal: 'equal with the rows above high load',
} as const

/** A change that comes from the cells beside. */
export function onward(what: keyof typeof ONWARD, change: number): Sum {
  const reason = ONWARD[what]
  return { change, reason, steps: [{ what, values: { neighbours: change }, result: change, reason }] }
}

/** The change held to what one pass may make richer and leaner. */
export function limited(sum: Sum, limits: ChangeLimits, load: number): Sum {
  const leanest = -leanestAt(load, limits)
  const to = Math.min(limits.richest, Math.max(leanest, sum.change))
  if (to === sum.change) return sum
  const reason = to > 0 || sum.change > limits.richest ? 'limited, richer' : 'limited, leaner'
  return {
    change: to,
    reason,
    steps: [...sum.steps, { what: 'limit', values: { change: sum.change, limit: to }, result: to, reason }],
  }
}

/** What takes back what was corrected on the mixture of a closed loop; what the limits leave of it is for the next pass. */
export function takenBack(undo: number, limits: ChangeLimits, load: number): Sum {
  const reason = 'taken back, a loop held it'
  const whole: Sum = { change: undo, reason, steps: [{ what: 'undo', values: {}, result: undo, reason }] }
  return { ...limited(whole, limits, load), reason }
}
