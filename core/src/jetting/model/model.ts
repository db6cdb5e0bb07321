import type { Body, Box, Fitted } from '../carburettor'
import { jetArea } from './jetSizes'
import { USUAL, type Law } from './law'
import { diameterAt, isKnownNeedle, usualNeedle } from './needle'
import { annulusArea, circleArea, inSeries } from './orifice'

/** Area for fuel over area for air at one opening, by what it passes. */
export interface Passages {
  pilot: number
  /** ring about the needle; Infinity where there is none in series with the jet */
  needle: number
  main: number
}

/** Opening over which the pilot's outlet loses sight of the inlet: its part ends between a quarter and a half (common practice). */
const PILOT_REACH = 0.6
/** What is left of its flow wide open. */
const PILOT_REST = 0.1
/** Slide lift that a mm of cutaway is worth to the air that passes the needle jet; and of the bridge, mm, where there is no cutaway. */
const CUTAWAY_LIFT = 0.7
const BRIDGE = 5
const USUAL_CUTAWAY = 2.5
/** ln of pilot fuel for a turn of the idle screw. */
const SCREW_PER_TURN = 0.25
/** Passage of the pilot against a hole of its size: its bleed takes most of the signal. */
const PILOT_SCALE = 0.3
/** A narrow ring flows less well than a round hole of its area. */
const RING_DISCHARGE = 0.88
/** Opening below which the idle air holds the gap. */
const PILOT_SHUT = 0.03
/** kPa over which the spring lets the rods rise. */
const ROD_BAND = 4
/** Idle fuel against a hole of its size, at 70 kPa of vacuum; and MAP, in units of 100 kPa, from which the main circuit flows. */
const ROD_IDLE = 0.14
const ROD_ONSET = 0.22
/** What a piston lifts wide open at the usual spring, share of its way, and how fast it follows the plate. */
const PISTON_LIFT = 1.1
const PISTON_BEND = 0.6
const ATMOSPHERE = 101.3
/** A needle valve opens less with each turn: its area goes as this power of the turns (common practice, from memory). */
const VALVE_POWER = 0.65
/** mm² that the first turn opens of a high or low needle valve. */
const VALVE_PER_TURN = 0.16
/** Opening up to which the low circuit holds its signal, and over which the high one comes in. */
const LOW_SHUT = 0.1
const HIGH_REACH = 0.35

/** Manifold pressure, in units of 100 kPa, above which a spring (kPa of vacuum) lets metering rods rise. */
export function rodsRiseAt(spring: number): number {
  return (ATMOSPHERE - spring) / 100
}

/** Free area of a round bore that a slide opens from below, mm². */
export function slideArea(bore: number, opening: number): number {
  const radius = bore / 2
  const height = Math.min(bore, Math.max(0.02, opening) * bore)
  const chord = radius - height
  return radius * radius * Math.acos(chord / radius) - chord * Math.sqrt(Math.max(0, height * (bore - height)))
}

/**
 * Passages of what is fitted at an opening.
 *
 * @param opening share of full throttle, 0 to 1; with metering rods the manifold pressure in units of 100 kPa
 * @param law how this carburettor departs from the usual one
 */
export function passages(body: Body, box: Box, fitted: Fitted, opening: number, law: Law = USUAL): Passages {
  const decay = (reach: number): number =>
    PILOT_REST + (1 - PILOT_REST) * Math.exp(-opening / (reach * Math.exp(law.reach)))
  const turns = ((fitted.screw ?? body.usualTurns) - body.usualTurns) * (body.screwIs === 'fuel' ? 1 : -1)
  const screw = Math.exp(SCREW_PER_TURN * Math.exp(law.screw) * turns)
  switch (body.kind) {
    case 'slide':
    case 'constant-vacuum': {
      const isSlide = body.kind === 'slide'
      const lift = isSlide ? opening : pistonLift(opening, fitted.spring ?? 1, law)
      const cutaway = isSlide ? CUTAWAY_LIFT * Math.exp(law.cutaway) * (fitted.cutaway ?? USUAL_CUTAWAY) : BRIDGE
      const air = slideArea(body.bore, lift + cutaway / body.bore)
      const own = box.needles.find((one) => one.name === fitted.needle)
      const needle = own && (isKnownNeedle(own) ? own : usualNeedle(own.name, body))
      const at = lift * body.bore + ((fitted.clip ?? 1) - 1) * body.groove
      return {
        pilot:
          (PILOT_SCALE * Math.exp(law.pilot) * jetArea(fitted.pilot!, body.scheme) * decay(PILOT_REACH) * screw) /
          slideArea(body.bore, Math.max(PILOT_SHUT, lift)),
        needle: needle
          ? (RING_DISCHARGE * Math.exp(law.needle) * annulusArea(body.needleJet, diameterAt(needle, at))) / air
          : Infinity,
        main: (Math.exp(law.main) * jetArea(fitted.main!, body.scheme)) / air,
      }
    }
    case 'metering rods': {
      const rod = box.rods.find((one) => one.name === fitted.rod)!
      const vacuum = ATMOSPHERE - 100 * opening
      const band = ROD_BAND * Math.exp(law.spread)
      const raised = 1 / (1 + Math.exp((4 * (vacuum - (fitted.spring ?? 20) - law.shift)) / band))
      const jet = jetArea(fitted.main!, body.scheme)
      const cruise = Math.max(0, jet - circleArea(rod.cruise))
      const power = Math.max(0, jet - circleArea(rod.power))
      const air = circleArea(body.bore)
      // Air goes as the manifold's pressure, idle fuel as the root of its vacuum.
      const idle =
        (ROD_IDLE * Math.exp(law.pilot) * Math.sqrt(Math.max(0, vacuum) / 70) ** Math.exp(law.reach)) / opening
      const onset = Math.min(0.97, (ROD_ONSET * Math.exp(law.rise)) / opening)
      return {
        pilot: (idle * screw) / air,
        needle: Infinity,
        main: (Math.exp(law.main) * (cruise + raised * (power - cruise)) * Math.sqrt(1 - onset * onset)) / air,
      }
    }
    case 'two screws': {
      const air = slideArea(body.bore, opening)
      const valve = (turns: number | undefined, power: number): number =>
        VALVE_PER_TURN * Math.max(0, turns ?? 0) ** (VALVE_POWER * Math.exp(power))
      return {
        pilot:
          (Math.exp(law.pilot) * valve(fitted.low, law.screw) * decay(0.35)) /
          slideArea(body.bore, Math.max(LOW_SHUT, opening)),
        needle: Infinity,
        main:
          (valve(fitted.high, law.lift) * (1 - Math.exp(-((opening / (HIGH_REACH * Math.exp(law.rise))) ** 2)))) / air,
      }
    }
  }
}

/** Share of its way that vacuum lifts a piston to: a stiffer spring holds it lower. */
function pistonLift(opening: number, spring: number, law: Law): number {
  return Math.min(
    1,
    (PISTON_LIFT * Math.exp(law.lift) * opening ** (PISTON_BEND * Math.exp(law.rise))) / Math.sqrt(spring),
  )
}

/** Fuel over air that passages give, up to a factor that calibration finds. */
export function strength({ pilot, needle, main }: Passages): number {
  return (Number.isFinite(needle) ? inSeries(main, needle) : main) + pilot
}

/**
 * Share of each circuit at an opening: how many percent the mixture moves when one percent is put to its passage. They add
 * up to 1.
 */
export function circuitShares(p: Passages): Record<'pilot' | 'needle' | 'main', number> {
  const pilot = p.pilot / strength(p)
  if (!Number.isFinite(p.needle)) return { pilot, needle: 0, main: 1 - pilot }
  // Of two in series the narrower one rules: d ln A / d ln A1 = A² / A1².
  const ofJet = p.main > 0 && p.needle > 0 ? (p.needle * p.needle) / (p.main * p.main + p.needle * p.needle) : 0
  return { pilot, needle: (1 - pilot) * (1 - ofJet), main: (1 - pilot) * ofJet }
}
