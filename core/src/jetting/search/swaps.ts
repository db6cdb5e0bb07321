import { JUDGED_OPENINGS } from '../model/judgedOpenings'
import { effectAt, slotEffects, type Calibration } from '../model/calibrate'
import { CIRCUIT_OF, SLOTS_OF, type Body, type Box, type Fitted, type Slot } from '../carburettor'
import { jetArea } from '../model/jetSizes'
import { passages, type Passages } from '../model/model'
import { isKnownNeedle } from '../model/needle'

/** Turns tried of a screw about where it stands, and the step: eighths, and never far at once (common practice). */
const TURNS = { each: 0.5, step: 0.125, least: 0.25 }

/** One way fuel takes, with what some parts let through at each judged opening. */
export interface Swap {
  fitted: Fitted
  changed: Slot[]
  values: Float64Array
  /** what the readings made of the effect of these parts, as a factor on all fuel */
  bend: Float64Array
}

/** Values to try in a slot: the one fitted first, then those in the box. */
function choicesOf(body: Body, box: Box, fitted: Fitted, slot: Slot): (number | string)[] {
  const present = typeof fitted[slot] === 'number' ? fitted[slot] : 0
  const turns = Array.from(
    { length: (2 * TURNS.each) / TURNS.step + 1 },
    (_, k) => present - TURNS.each + k * TURNS.step,
  ).filter((one) => one >= TURNS.least)
  // Of a needle that nobody measured nobody can say what its clip does.
  const isMeasured = !box.needles.some((one) => one.name === fitted.needle && !isKnownNeedle(one))
  const all: Record<Slot, readonly (number | string)[]> = {
    main: box.main,
    pilot: box.pilot,
    needle: isMeasured ? box.needles.filter(isKnownNeedle).map((one) => one.name) : [],
    clip: isMeasured ? Array.from({ length: body.clips }, (_, k) => k + 1) : [],
    cutaway: box.cutaway,
    // A spring at a time: what the next one does is known once this one was read.
    spring: besides(box.springs, fitted.spring),
    rod: box.rods.map((one) => one.name),
    screw: turns,
    high: turns,
    low: turns,
  }
  return [...new Set([fitted[slot]!, ...all[slot]])]
}

/** The next sizes on either side of one. */
function besides(sizes: readonly number[], fitted: number | undefined): number[] {
  if (fitted === undefined) return [...sizes]
  const [below, above] = [sizes.filter((one) => one < fitted), sizes.filter((one) => one > fitted)]
  return [...(below.length ? [Math.max(...below)] : []), ...(above.length ? [Math.min(...above)] : [])]
}

/** Slots of `of` in which one differs from another. */
const changedIn = (one: Fitted, from: Fitted, of: readonly Slot[]): Slot[] =>
  of.filter((slot) => one[slot] !== from[slot])

/**
 * What can be fitted, by the two ways that fuel takes: through the pilot circuit, and through needle and main jet. Each is
 * worked out by itself, for what flows adds up.
 *
 * @param slots that may be changed
 * @param most changes of one combination
 * @param isOffered which parts may be put in; those that are in now may always stay
 */
export function swapsThrough(
  calibration: Calibration,
  fitted: Fitted,
  slots: readonly Slot[],
  most: number,
  isOffered: (slot: Slot, value: number | string) => boolean = () => true,
): { pilots: Swap[]; mains: Swap[] } {
  const { body, box, law, reference } = calibration
  const offered = (slot: Slot): (number | string)[] =>
    choicesOf(body, box, fitted, slot).filter((value) => value === fitted[slot] || isOffered(slot, value))
  const choices = new Map(slots.map((slot) => [slot, offered(slot)]))
  /** By slot and value: how much more or less its effect is than the model's, from what was read last. */
  const bends = new Map(
    slots.map((slot) => [
      slot,
      new Map(
        choices.get(slot)!.map((value) => [
          value,
          Float64Array.from(JUDGED_OPENINGS, (opening) => {
            const [[, effect] = [slot, 0]] = slotEffects(calibration, { ...reference, [slot]: value }, opening)
            return Math.exp(effect * effectAt(calibration, slot, opening))
          }),
        ]),
      ),
    ]),
  )
  const bendOf = (one: Fitted, of: readonly Slot[]): Float64Array =>
    of.reduce((product, slot) => {
      const bend = bends.get(slot)!.get(one[slot]!)!
      return product.map((value, j) => value * bend[j]!)
    }, new Float64Array(JUDGED_OPENINGS.length).fill(1))
  const isPilot = (slot: Slot): boolean => CIRCUIT_OF[slot] === 'pilot'
  /** All values of some slots, with no more than so many changes. */
  const combos = (of: readonly Slot[]): Fitted[] =>
    of.reduce<Fitted[]>(
      (list, slot) =>
        list.flatMap((one) =>
          choices
            .get(slot)!
            .map((value) => ({ ...one, [slot]: value }))
            .filter((next) => changedIn(next, fitted, of).length <= most),
        ),
      [{ ...fitted }],
    )
  const at = (one: Fitted): Passages[] => JUDGED_OPENINGS.map((opening) => passages(body, box, one, opening, law))
  const pilotSlots = slots.filter(isPilot)
  const pilots = combos(pilotSlots).map((one): Swap => ({
    fitted: one,
    changed: changedIn(one, fitted, pilotSlots),
    values: Float64Array.from(at(one), (p) => p.pilot),
    bend: bendOf(one, pilotSlots),
  }))
  // Where a needle's ring stands before the main jet, the jet's area alone tells one main from another: what lies around
  // it is worked out once.
  const hasRing = slots.includes('main') && SLOTS_OF[body.kind].includes('needle')
  const mainSlots = slots.filter((slot) => !isPilot(slot))
  const sizes = hasRing ? (choices.get('main') as number[]) : [fitted.main!]
  const mains = combos(mainSlots.filter((slot) => !(hasRing && slot === 'main'))).flatMap((around) => {
    const p = at(around)
    const jet = Float64Array.from(p, (one) => one.main)
    const ring = Float64Array.from(p, (one) => one.needle)
    return sizes.flatMap((size): Swap[] => {
      const one = hasRing ? { ...around, main: size } : around
      const changed = changedIn(one, fitted, mainSlots)
      if (changed.length > most) return []
      const ratio = hasRing ? jetArea(size, body.scheme) / jetArea(fitted.main!, body.scheme) : 1
      return [{ fitted: one, changed, values: inSeries(jet, ratio, ring), bend: bendOf(one, mainSlots) }]
    })
  })
  return { pilots, mains }
}

/** What a jet and the ring of a needle let through one after the other, the jet by its share of the size fitted now. */
function inSeries(jet: Float64Array, ratio: number, ring: Float64Array): Float64Array {
  const values = new Float64Array(jet.length)
  for (let j = 0; j < values.length; j++) {
    const through = jet[j]! * ratio
    values[j] =
      ring[j]! === Infinity ? through : (through * ring[j]!) / Math.sqrt(through * through + ring[j]! * ring[j]!)
  }
  return values
}
