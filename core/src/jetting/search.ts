import { CIRCUIT_OF, SLOTS_OF, type Fitted, type Slot } from './carburettor'
import { isRead, predictJetting, restAt, type Calibration, type Predicted } from './calibrate'
import { JUDGED_OPENINGS } from './judgedOpenings'
import { minutesOf } from './minutes'
import { circuitShares, passages } from './model'
import { targetAt, type CircuitTarget } from './targets'
import { waysThrough, type Way } from './ways'

/** A circuit that moves the mixture by at least this share where something was read is known. */
const KNOWN_SHARE = 0.2
/** Openings from which full throttle is judged. */
const FULL = 0.85
/** Over target at full throttle by which the upper end of the interval may stand: 12.4 may be 12.8 (common practice). */
const LEAN_LIMIT = 1.035
/** Leaner than now by less than this is not leaner. */
const SAME = 1.005
/** A combination has to be better by this much, RMS, to be worth the work; less cannot be told. */
const WORTH = 0.003
/** Leaner than target counts this many times as much as richer. */
const LEAN_COUNTS = 2
const MOST_CHANGES = 3
const TOLD = 3

/** A combination of parts, what it would do, and what it costs. */
export interface Proposal {
  fitted: Fitted
  changed: Slot[]
  minutes: number
  /** departure from target, weighted, RMS of ln */
  off: number
  predicted: Predicted[]
  /** leaner at full throttle than the readings support; told, and never put first */
  leanAtFull: boolean
}

export interface ProposalList {
  /** off target with what is fitted now */
  now: number
  /** best with one change, two and three; empty where nothing is better */
  byChanges: Proposal[][]
  tried: number
  /** circuits about which the readings say nothing */
  unknown: ('pilot' | 'needle' | 'main')[]
}

/** Circuits whose effect shows in readings at those openings. */
export function unknownCircuits(calibration: Calibration, fitted: Fitted): ('pilot' | 'needle' | 'main')[] {
  const { body, box, coefficients, openings } = calibration
  const all = JUDGED_OPENINGS.map((opening) => circuitShares(passages(body, box, fitted, opening), coefficients))
  const read = openings.map((opening) => circuitShares(passages(body, box, fitted, opening), coefficients))
  return (['pilot', 'needle', 'main'] as const).filter(
    (circuit) =>
      all.some((share) => share[circuit] >= KNOWN_SHARE) && !read.some((share) => share[circuit] >= KNOWN_SHARE),
  )
}

/**
 * Tries every combination of what is in the box (up to three changes, each set as a whole), judges it at 60 openings by
 * the calibrated model, full throttle first, and tells the best with one, two and three changes.
 *
 * @param onProgress share of the combinations that is done
 * @example
 * const { proposals } = searchBox(calibrateJetting(body, box, measured), fitted, usualTargets(body.kind))
 */
export function searchBox(
  calibration: Calibration,
  fitted: Fitted,
  targets: readonly CircuitTarget[],
  onProgress: (share: number) => void = () => undefined,
): ProposalList {
  const unknown = unknownCircuits(calibration, fitted)
  // What the readings do not show is left as it is.
  const slots = SLOTS_OF[calibration.body.kind].filter((slot) => !unknown.includes(CIRCUIT_OF[slot]!))
  const { pilots, mains } = waysThrough(calibration, fitted, slots, MOST_CHANGES)
  const n = JUDGED_OPENINGS.length
  const wanted = JUDGED_OPENINGS.map((opening) => targetAt(targets, opening))
  const logTarget = Float64Array.from(
    wanted,
    (one, j) => -Math.log(one.lambda) - restAt(calibration, JUDGED_OPENINGS[j]!),
  )
  // What lies beyond the readings is not judged.
  const weight = Float64Array.from(wanted, (one, j) => (isRead(calibration, JUDGED_OPENINGS[j]!) ? one.weight : 0))
  const total = weight.reduce((sum, one) => sum + one, 0)
  const scale = Float64Array.from(logTarget, (one) => Math.exp(-one))
  /** Weighted RMS departure; leaner counts more. ln is replaced by its first terms: departures are small. */
  const judge = (main: Float64Array, pilot: Float64Array): number => {
    let sum = 0
    for (let j = 0; j < n; j++) {
      const ratio = (main[j]! + pilot[j]!) * scale[j]! - 1
      const off = ratio - 0.5 * ratio * ratio
      sum += weight[j]! * off * off * (off < 0 ? LEAN_COUNTS : 1)
    }
    return Math.sqrt(sum / total)
  }
  const mine = {
    main: mains.find((one) => one.changed.length === 0)!,
    pilot: pilots.find((one) => one.changed.length === 0)!,
  }
  const now = judge(mine.main.values, mine.pilot.values)
  interface Found {
    off: number
    main: Way
    pilot: Way
    minutes: number
  }
  const best: Found[][] = Array.from({ length: MOST_CHANGES }, () => [])
  let tried = 0
  mains.forEach((main, k) => {
    if (k % 64 === 0) onProgress(k / mains.length)
    for (const pilot of pilots) {
      const changes = main.changed.length + pilot.changed.length
      if (changes === 0 || changes > MOST_CHANGES) continue
      tried++
      const off = judge(main.values, pilot.values)
      const list = best[changes - 1]!
      if (off > now - WORTH || (list.length >= 4 * TOLD && off >= list.at(-1)!.off)) continue
      list.push({ off, main, pilot, minutes: minutesOf([...main.changed, ...pilot.changed]) })
      list.sort((a, b) => a.off - b.off)
      if (list.length > 4 * TOLD) list.pop()
    }
  })
  onProgress(1)
  const byChanges = best.map((list) => {
    const proposals = list.map(({ off, main, pilot, minutes }): Proposal => {
      const next: Fitted = { ...main.fitted }
      for (const slot of pilot.changed) Object.assign(next, { [slot]: pilot.fitted[slot] })
      const predicted = predictJetting(calibration, next, JUDGED_OPENINGS)
      return {
        fitted: next,
        changed: [...main.changed, ...pilot.changed],
        minutes,
        off,
        predicted,
        leanAtFull: isLeanAtFull(calibration, fitted, predicted, targets),
      }
    })
    // Of what cannot be told apart, the one that takes less time comes first; lean at full throttle never does.
    return proposals
      .sort(
        (a, b) =>
          Number(a.leanAtFull) - Number(b.leanAtFull) ||
          (Math.abs(a.off - b.off) < WORTH ? a.minutes - b.minutes : a.off - b.off),
      )
      .slice(0, TOLD)
  })
  return { now, byChanges, tried, unknown }
}

/** Whether full throttle would be leaner than now, and than the evidence supports. */
function isLeanAtFull(
  calibration: Calibration,
  before: Fitted,
  predicted: readonly Predicted[],
  targets: readonly CircuitTarget[],
): boolean {
  const full = predicted.filter(({ opening }) => opening >= FULL)
  const present = predictJetting(
    calibration,
    before,
    full.map(({ opening }) => opening),
  )
  return full.some(
    ({ opening, lambda, high }, k) =>
      lambda > present[k]!.lambda * SAME && high > targetAt(targets, opening).lambda * LEAN_LIMIT,
  )
}
