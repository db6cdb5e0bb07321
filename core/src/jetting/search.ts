import { SLOTS_OF, type Body, type Box, type Fitted, type Slot } from './carburettor'
import { isRead, predictJetting, restAt, type Calibration, type Predicted } from './calibrate'
import { jetArea } from './jetSizes'
import { circuitShares, passages, type Passages } from './model'
import { targetAt, type CircuitTarget } from './targets'

/** Minutes that a change takes: once to get at the carburettor, and then for the part itself (common practice: most of an hour). */
const STRIP_MINUTES = 30
export const SLOT_MINUTES: Record<Slot, { strips: boolean; minutes: number }> = {
  main: { strips: true, minutes: 8 },
  pilot: { strips: true, minutes: 8 },
  needle: { strips: true, minutes: 15 },
  clip: { strips: true, minutes: 12 },
  cutaway: { strips: true, minutes: 20 },
  spring: { strips: true, minutes: 12 },
  rod: { strips: false, minutes: 10 },
  screw: { strips: false, minutes: 3 },
  high: { strips: false, minutes: 2 },
  low: { strips: false, minutes: 2 },
}

/** Turns tried of a screw, and the step. */
const TURNS = { least: 0.5, most: 3, step: 0.25 }
/** Openings at which combinations are judged. */
export const JUDGED_OPENINGS: readonly number[] = Array.from({ length: 60 }, (_, k) => 0.02 + (0.98 * k) / 59)
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

/** One way fuel takes, with what some parts let through at each judged opening. */
interface Way {
  fitted: Fitted
  changed: Slot[]
  values: Float64Array
}

/** Minutes that some changes take together. */
export function minutesOf(slots: readonly Slot[]): number {
  const strips = slots.some((slot) => SLOT_MINUTES[slot].strips) ? STRIP_MINUTES : 0
  return slots.reduce((sum, slot) => sum + SLOT_MINUTES[slot].minutes, strips)
}

/** Values to try in a slot: the one fitted first, then those in the box. */
function choicesOf(body: Body, box: Box, fitted: Fitted, slot: Slot): (number | string)[] {
  const turns = Array.from(
    { length: Math.round((TURNS.most - TURNS.least) / TURNS.step) + 1 },
    (_, k) => TURNS.least + k * TURNS.step,
  )
  const all: Record<Slot, readonly (number | string)[]> = {
    main: box.main,
    pilot: box.pilot,
    needle: box.needles.map((one) => one.name),
    clip: Array.from({ length: body.clips }, (_, k) => k + 1),
    cutaway: box.cutaway,
    spring: box.springs,
    rod: box.rods.map((one) => one.name),
    screw: turns,
    high: turns,
    low: turns,
  }
  return [...new Set([fitted[slot]!, ...all[slot]])]
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

const CIRCUIT_OF: Partial<Record<Slot, 'pilot' | 'needle' | 'main'>> = {
  pilot: 'pilot',
  screw: 'pilot',
  low: 'pilot',
  needle: 'needle',
  clip: 'needle',
  main: 'main',
  high: 'main',
  rod: 'main',
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
  const { body, box, coefficients } = calibration
  const unknown = unknownCircuits(calibration, fitted)
  // What the readings do not show is left as it is.
  const slots = SLOTS_OF[body.kind].filter((slot) => !unknown.includes(CIRCUIT_OF[slot]!))
  const choices = slots.map((slot) => choicesOf(body, box, fitted, slot))
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
  const c = {
    pilot: Math.exp(coefficients.pilot),
    cutaway: Math.exp(coefficients.cutaway),
    needle: Math.exp(coefficients.needle),
    main: Math.exp(coefficients.main),
  }

  const isPilot = (slot: Slot): boolean => CIRCUIT_OF[slot] === 'pilot'
  const changedIn = (one: Fitted, of: readonly Slot[]): Slot[] => of.filter((slot) => one[slot] !== fitted[slot])
  /** All values of some slots, with no more than so many changes. */
  const combos = (of: readonly Slot[]): Fitted[] =>
    of.reduce<Fitted[]>(
      (list, slot) =>
        list.flatMap((one) =>
          choices[slots.indexOf(slot)]!.map((value) => ({ ...one, [slot]: value })).filter(
            (next) => changedIn(next, of).length <= MOST_CHANGES,
          ),
        ),
      [{ ...fitted }],
    )
  const at = (one: Fitted): Passages[] => JUDGED_OPENINGS.map((opening) => passages(body, box, one, opening))
  const pilotSlots = slots.filter(isPilot)
  const pilots: Way[] = combos(pilotSlots).map((one) => ({
    fitted: one,
    changed: changedIn(one, pilotSlots),
    values: Float64Array.from(at(one), (p) => p.pilot * c.pilot),
  }))
  // Where a needle's ring stands before the main jet, the jet's area alone tells one main from another: what lies around
  // it is worked out once.
  const hasRing = slots.includes('main') && SLOTS_OF[body.kind].includes('needle')
  const aroundSlots = slots.filter((slot) => !isPilot(slot) && !(hasRing && slot === 'main'))
  const mainSlots = slots.filter((slot) => !isPilot(slot))
  const sizes = hasRing ? (choices[slots.indexOf('main')] as number[]) : [fitted.main!]
  const mains: Way[] = combos(aroundSlots).flatMap((around) => {
    const p = at(around)
    const jet = Float64Array.from(p, (one) => one.main * c.main)
    const ring = Float64Array.from(p, (one) => one.needle * c.needle)
    const bend = Float64Array.from(p, (one) => Math.exp(one.cutaway * (c.cutaway - 1)))
    return sizes.flatMap((size): Way[] => {
      const one = hasRing ? { ...around, main: size } : around
      const changed = changedIn(one, mainSlots)
      if (changed.length > MOST_CHANGES) return []
      const ratio = hasRing ? jetArea(size, body.scheme) / jetArea(fitted.main!, body.scheme) : 1
      const values = new Float64Array(n)
      for (let j = 0; j < n; j++) {
        const through = jet[j]! * ratio
        const series =
          ring[j]! === Infinity ? through : (through * ring[j]!) / Math.sqrt(through * through + ring[j]! * ring[j]!)
        values[j] = series * bend[j]!
      }
      return [{ fitted: one, changed, values }]
    })
  })

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
      for (const slot of pilotSlots) Object.assign(next, { [slot]: pilot.fitted[slot] })
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
