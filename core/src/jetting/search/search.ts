import { NINETY } from '../../numbers/ninety'
import { CIRCUIT_OF, SLOTS_OF, type Fitted, type Slot } from '../carburettor'
import { restAt, type Calibration, type OpeningReading } from '../model/calibrate'
import { isRead, predictJetting, type Predicted } from '../model/predict'
import { JUDGED_OPENINGS } from '../model/judgedOpenings'
import { circuitShares, passages } from '../model/model'
import { targetAt, type CircuitTarget } from '../model/targets'
import { allowedMoves, type AllowedMove } from './allowedMoves'
import { LEAN_COUNTS, asPredicted, worstRange, isAnswered, isLeanAtFull } from './answers'
import { bestTold } from './bestTold'
import { minutesOf } from './minutes'
import type { Proposal, ProposalList } from './proposal'
import { swapsThrough, type Swap } from './swaps'
import { isWorth, judgeWorth, MAY_LEAN, WORTH } from './worth'

/** A circuit that moves the mixture by at least this share where something was read is known. */
const KNOWN_SHARE = 0.2
const MOST_CHANGES = 3
/** Combinations that are looked at with all their doubt, of each number of changes. */
const SHORT_LIST = 16
/** Share of a change that is not sure before all doubt is counted. */
const UNSURE = 0.2

/** Circuits whose effect shows in readings at those openings. */
export function unknownCircuits(calibration: Calibration, fitted: Fitted): ('pilot' | 'needle' | 'main')[] {
  const { body, box, law, openings } = calibration
  const all = JUDGED_OPENINGS.map((opening) => circuitShares(passages(body, box, fitted, opening, law)))
  const read = openings.map((opening) => circuitShares(passages(body, box, fitted, opening, law)))
  return (['pilot', 'needle', 'main'] as const).filter(
    (circuit) =>
      all.some((share) => share[circuit] >= KNOWN_SHARE) && !read.some((share) => share[circuit] >= KNOWN_SHARE),
  )
}

/** ln of fuel over air that is wanted at the judged openings, and how much each counts: nothing beyond the readings. */
function wantedBy(
  calibration: Calibration,
  targets: readonly CircuitTarget[],
): { log: Float64Array; weight: Float64Array } {
  const wanted = JUDGED_OPENINGS.map((opening) => targetAt(targets, opening))
  return {
    log: Float64Array.from(wanted, (one) => -Math.log(one.lambda)),
    weight: Float64Array.from(wanted, (one, j) => (isRead(calibration, JUDGED_OPENINGS[j]!) ? one.weight : 0)),
  }
}

/** A combination as a pair of swaps, with its departure by the model alone. */
interface Found {
  off: number
  main: Swap
  pilot: Swap
}

/**
 * Tries every combination of what is in the box (up to three changes, each set as a whole), judges it at 60 openings by
 * the calibrated model, full throttle first, and tells the best with one, two and three changes.
 *
 * None leans where nothing was read, nor an opening past its target beyond what may be, by all carburettors that the readings leave
 * possible. Told is only what gains beyond its doubt, and more with more changes. One that answers the range that reads worst comes
 * first.
 *
 * @param onProgress share of the combinations that is done
 * @param rows read with what is fitted now; what the model makes of it where nothing was
 * @param missed openings at which the model does not meet its readings
 * @example
 * const { byChanges } = searchBox(calibrateJetting(body, box, measured), fitted, usualTargets(body.kind))
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
  const read = rows.length ? rows : asPredicted(calibration, fitted)
  const { now, best, tried } = everyCombination(
    calibration,
    fitted,
    slots,
    targets,
    allowedMoves(read, targets, JUDGED_OPENINGS, missed),
    onProgress,
  )
  const worst = worstRange(read, targets)
  const wanted = wantedBy(calibration, targets)
  const worthOf = judgeWorth(calibration, fitted, wanted)
  const judged = best.map((list) =>
    list.flatMap(({ main, pilot }): Proposal[] => {
      const next: Fitted = { ...main.fitted }
      for (const slot of pilot.changed) Object.assign(next, { [slot]: pilot.fitted[slot] })
      const changed = [...main.changed, ...pilot.changed]
      const minutes = minutesOf(changed)
      const { off, gain, isSafe } = worthOf(next)
      if (!isSafe || !isWorth(gain, minutes)) return []
      const predicted = predictJetting(calibration, next, JUDGED_OPENINGS)
      const leanAtFull = isLeanAtFull(calibration, fitted, predicted, targets)
      return [
        {
          fitted: next,
          changed,
          minutes,
          off,
          gain,
          worst: worstLeft(predicted, calibration, targets),
          predicted,
          leanAtFull,
          answers: worst === null || isAnswered(calibration, fitted, next, worst),
        },
      ]
    }),
  )
  return { now, byChanges: bestTold(judged), tried, unknown }
}

/** Where a prediction is furthest off among what was read, lean counting twice. */
function worstLeft(
  predicted: readonly Predicted[],
  calibration: Calibration,
  targets: readonly CircuitTarget[],
): Proposal['worst'] {
  const counts = (pct: number): number => (pct > 0 ? LEAN_COUNTS * pct : -pct)
  return predicted
    .filter(({ opening }) => isRead(calibration, opening))
    .map(({ opening, lambda }) => ({ opening, pct: 100 * (lambda / targetAt(targets, opening).lambda - 1) }))
    .reduce((most, one) => (counts(one.pct) > counts(most.pct) ? one : most))
}

/** Every combination by the model alone: the best some with one change, two and three. */
function everyCombination(
  calibration: Calibration,
  fitted: Fitted,
  slots: readonly Slot[],
  targets: readonly CircuitTarget[],
  allowed: readonly AllowedMove[],
  onProgress: (share: number) => void,
): { now: number; best: Found[][]; tried: number } {
  const n = JUDGED_OPENINGS.length
  const { log, weight } = wantedBy(calibration, targets)
  const total = weight.reduce((sum, one) => sum + one, 0)
  const scale = log.map((one, j) => Math.exp(restAt(calibration, JUDGED_OPENINGS[j]!) - one))
  const { pilots, mains } = swapsThrough(calibration, fitted, slots, MOST_CHANGES)
  const mine = { main: unchanged(mains), pilot: unchanged(pilots) }
  const inForce = log.map((_, j) => fuelOf(mine.main, mine.pilot, j))
  const present = inForce.map((fuel, j) => Math.log(fuel * scale[j]!))
  /** Between these each opening may come to lie, as shares of what is wanted. */
  const least = present.map((fuel, j) => Math.exp(Math.max(fuel + allowed[j]!.least, leanestOf(fuel))))
  const most = present.map((fuel, j) => Math.exp(fuel + allowed[j]!.most))
  /**
   * Weighted RMS departure with what a change is uncertain by; leaner counts more. ln is replaced by its first terms: departures are
   * small. Infinity for what may not be, or comes to more than `limit`.
   */
  const judge = (main: Swap, pilot: Swap, limit: number): number => {
    const enough = limit * limit * total
    let sum = 0
    for (let j = 0; j < n; j++) {
      const share = (main.values[j]! + pilot.values[j]!) * main.bend[j]! * pilot.bend[j]! * scale[j]!
      if (share < least[j]! || share > most[j]!) return Infinity
      const ratio = share - 1
      const off = ratio - 0.5 * ratio * ratio
      const doubt = UNSURE * (off - present[j]!)
      sum += weight[j]! * (off * off + doubt * doubt) * (off < 0 ? LEAN_COUNTS : 1)
      if (sum > enough) return Infinity
    }
    return Math.sqrt(sum / total)
  }
  const now = Math.sqrt(
    present.reduce((sum, off, j) => sum + weight[j]! * off * off * (off < 0 ? LEAN_COUNTS : 1), 0) / total,
  )
  const best: Found[][] = Array.from({ length: MOST_CHANGES }, () => [])
  let tried = 0
  mains.forEach((main, k) => {
    if (k % 64 === 0) onProgress(k / mains.length)
    for (const pilot of pilots) {
      const changes = main.changed.length + pilot.changed.length
      if (changes === 0 || changes > MOST_CHANGES) continue
      tried++
      const list = best[changes - 1]!
      const off = judge(main, pilot, Math.min(now - WORTH, list.length >= SHORT_LIST ? list.at(-1)!.off : Infinity))
      if (off === Infinity) continue
      list.push({ off, main, pilot })
      list.sort((a, b) => a.off - b.off)
      if (list.length > SHORT_LIST) list.pop()
    }
  })
  onProgress(1)
  return { now, best, tried }
}

/** Leanest that an opening may become by the model alone, ln of what is wanted: less sure of it, the further it is moved. */
const leanestOf = (now: number): number => (Math.min(0, now) - MAY_LEAN + UNSURE * NINETY * now) / (1 + UNSURE * NINETY)

const unchanged = (swaps: readonly Swap[]): Swap => swaps.find((one) => one.changed.length === 0)!
const fuelOf = (main: Swap, pilot: Swap, j: number): number =>
  (main.values[j]! + pilot.values[j]!) * main.bend[j]! * pilot.bend[j]!
