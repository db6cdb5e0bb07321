import type { Fitted, Slot } from '../carburettor'
import type { Predicted } from '../model/predict'
import type { Gain } from './worth'

/** A combination of parts, what it would do, and what it costs. */
export interface Proposal {
  fitted: Fitted
  changed: Slot[]
  minutes: number
  /** departure from target, weighted, RMS of ln */
  off: number
  /** by how much that is less than now, RMS of ln, with its 90 % interval */
  gain: Gain
  /** opening that it leaves furthest off, share of the throttle, and by how much fuel, % (above zero: lean) */
  worst: { opening: number; pct: number }
  predicted: Predicted[]
  /** leaner at full throttle than the readings support; told, and never put first */
  leanAtFull: boolean
  /** it takes most of what the worst range reads off: such a one comes first */
  answers: boolean
}

export interface ProposalList {
  /** off target with what is fitted now */
  now: number
  /** best with one change, two and three; empty where nothing is better beyond its doubt */
  byChanges: Proposal[][]
  tried: number
  /** circuits about which the readings say nothing */
  unknown: ('pilot' | 'needle' | 'main')[]
}
