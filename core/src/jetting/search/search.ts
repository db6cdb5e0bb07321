import { CIRCUIT_OF, SLOTS_OF, type Fitted, type Slot } from '../carburettor'
import { allowedMoves } from './allowedMoves'
import {
  isRead,
  predictJetting,
  restAt,
  type Calibration,
  type OpeningReading,
  type Predicted,
} from '../model/calibrate'
import { JUDGED_OPENINGS } from '../model/judgedOpenings'
import { minutesOf } from './minutes'
import { circuitShares, passages } from '../model/model'
import { targetAt, type CircuitTarget } from '../model/targets'
import { swapsThrough, type Swap } from './swaps'
import { LEAN_COUNTS, asPredicted, worstRange, isAnswered, isLeanAtFull } from './answers'

/** A circuit that moves the mixture by at least this share where something was read is known. */
const KNOWN_SHARE = 0.2
/** A combination has to be better by this much, RMS, to be worth the work; less cannot be told. */
const WORTH = 0.003
const MOST_CHANGES = 3
/** ln by which the lean end of a prediction may go past target, or past where it stands now. */
const MAY_LEAN = 0.03
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
  /** it takes most of what the worst range reads off: such a one comes first */
  answers: boolean
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
 * No combination moves an opening further than the readings about it want, or the other way, and none leans where nothing was
 * read. One that answers the range that reads worst comes first.
 *
 * @param onProgress share of the combinations that is done
 * @param rows read with what is fitted now; what the model makes of it where nothing was
 * @param missed openings at which the model does not meet its readings
 * @example
 * const { proposals } = searchBox(calibrateJetting(body, box, measured), fitted, usualTargets(body.kind))
 */
export function searchBox(
  calibration: Calibration,
  fitted: Fitted,
  targets: readonly CircuitTarget[],
  onProgress: (share: number) => void = () => undefined,
  rows: readonly OpeningReading[] = [],
  missed: readonly number[] = [],
): ProposalList {
  const unknown = unknownCircuits(calibration, fitted)
  // What the readings do not show is left as it is.
  const slots = SLOTS_OF[calibration.body.kind].filter((slot) => !unknown.includes(CIRCUIT_OF[slot]!))
  const single = swapsThrough(calibration, fitted, slots, 1)
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
  /**
   * Weighted RMS departure; leaner counts more. ln is replaced by its first terms: departures are small. What comes to more than
   * `most` is not worked out to its end.
   */
  const judge = (main: Float64Array, pilot: Float64Array, most = Infinity): number => {
    const limit = most * most * total
    let sum = 0
    for (let j = 0; j < n && sum <= limit; j++) {
      const ratio = (main[j]! + pilot[j]!) * scale[j]! - 1
      const off = ratio - 0.5 * ratio * ratio
      sum += weight[j]! * off * off * (off < 0 ? LEAN_COUNTS : 1)
    }
    return Math.sqrt(sum / total)
  }
  const mine = {
    main: single.mains.find((one) => one.changed.length === 0)!,
    pilot: single.pilots.find((one) => one.changed.length === 0)!,
  }
  const now = judge(mine.main.values, mine.pilot.values)
  const read = rows.length ? rows : asPredicted(calibration, fitted)
  const allowed = allowedMoves(read, targets, JUDGED_OPENINGS, missed)
  const inForce = Float64Array.from(mine.main.values, (value, j) => value + mine.pilot.values[j]!)
  /** Factors on the fuel between which each opening may come to lie. */
  const bounds = {
    least: Float64Array.from(allowed, ({ least }, j) => inForce[j]! * Math.exp(least)),
    most: Float64Array.from(allowed, ({ most }, j) => inForce[j]! * Math.exp(most)),
  }
  const isAllowed = (main: Float64Array, pilot: Float64Array): boolean => {
    for (let j = 0; j < n; j++) {
      const value = main[j]! + pilot[j]!
      if (value < bounds.least[j]! || value > bounds.most[j]!) return false
    }
    return true
  }
  const worst = worstRange(read, targets)
  // Two parts that cancel in the model alone may not do so in truth: each by itself must be allowed, too.
  const leansAlone = new Set<string>()
  for (const [swaps, rest] of [
    [single.pilots, mine.main.values],
    [single.mains, mine.pilot.values],
  ] as const)
    for (const { changed, fitted: one, values } of swaps)
      if (changed.length === 1 && values.some((value, j) => value + rest[j]! < bounds.least[j]!))
        leansAlone.add(`${changed[0]} ${one[changed[0]!]}`)
  const { pilots, mains } = swapsThrough(
    calibration,
    fitted,
    slots,
    MOST_CHANGES,
    (slot, value) => !leansAlone.has(`${slot} ${value}`),
  )
  interface Found {
    off: number
    main: Swap
    pilot: Swap
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
      if (!isAllowed(main.values, pilot.values)) continue
      const list = best[changes - 1]!
      const least = list.length >= 4 * TOLD ? list.at(-1)!.off : Infinity
      const off = judge(main.values, pilot.values, Math.min(now - WORTH, least))
      if (off > now - WORTH || off >= least) continue
      list.push({ off, main, pilot, minutes: minutesOf([...main.changed, ...pilot.changed]) })
      list.sort((a, b) => a.off - b.off)
      if (list.length > 4 * TOLD) list.pop()
    }
  })
  onProgress(1)
  const present = predictJetting(calibration, fitted, JUDGED_OPENINGS)
  /** Furthest that the lean end of an interval goes past target, or past where it stands now, ln. */
  const mayLean = (predicted: readonly Predicted[]): number =>
    Math.max(
      ...predicted.map(({ opening, high }, j) => {
        const target = wanted[j]!.lambda
        return isRead(calibration, opening)
          ? Math.log(high / target) - Math.max(0, Math.log(present[j]!.high / target))
          : 0
      }),
    )
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
        answers: worst === null || isAnswered(calibration, fitted, next, worst),
      }
    })
    // What may lean an opening that was not lean, by all that is known of the model, is not proposed.
    // Of what cannot be told apart, the one that takes less time comes first; lean at full throttle never does.
    return proposals
      .filter((one) => mayLean(one.predicted) <= MAY_LEAN)
      .sort(
        (a, b) =>
          Number(a.leanAtFull) - Number(b.leanAtFull) ||
          Number(b.answers) - Number(a.answers) ||
          (Math.abs(a.off - b.off) < WORTH ? a.minutes - b.minutes : a.off - b.off),
      )
      .slice(0, TOLD)
  })
  return { now, byChanges, tried, unknown }
}
