import { SLOTS_OF, type Body, type Box, type Fitted } from '../carburettor'
import { jetArea } from './jetSizes'
import { diameterAt, isKnownNeedle, usualNeedle } from './needle'
import { annulusArea, circleArea, inSeries } from './orifice'

/** A circuit whose discharge is calibrated. */
export const CIRCUITS = ['pilot', 'cutaway', 'needle', 'main'] as const
export type Circuit = (typeof CIRCUITS)[number]

/** Departures of the circuits from the model's own discharge, as natural logarithms; all zero before anything is measured. */
export type Coefficients = Record<Circuit, number>
export const UNTOUCHED: Coefficients = { pilot: 0, cutaway: 0, needle: 0, main: 0 }

/** Area for fuel over area for air at one opening, before coefficients, by what it passes. */
export interface Passages {
  pilot: number
  /** ring about the needle; Infinity where there is none in series with the jet */
  needle: number
  main: number
  /** d ln of the signal by ln of how much the cutaway opens toward the needle jet */
  cutaway: number
}

/** Opening over which the pilot's outlet loses sight of the inlet: its part ends between a quarter and a half (common practice). */
const PILOT_REACH = 0.6
/** What is left of its flow wide open. */
const PILOT_REST = 0.1
/** Slide lift that a mm of cutaway is worth to the air that passes the needle jet; and of the bridge, mm, where there is no cutaway. */
const CUTAWAY_LIFT = 2
const BRIDGE = 5
const USUAL_CUTAWAY = 2.5
/** ln of pilot fuel for a turn of the idle screw. */
const SCREW_PER_TURN = 0.25
/** Passage of the pilot against a hole of its size: its bleed takes most of the signal. */
const PILOT_SCALE = 0.18
/** A narrow ring flows less well than a round hole of its area. */
const RING_DISCHARGE = 0.88
/** Opening below which the idle air holds the gap. */
const PILOT_SHUT = 0.03
const LOG_STEP = 0.02
/** kPa over which the spring lets the rods rise. */
const ROD_BAND = 4
const ATMOSPHERE = 101.3
/** mm² that a turn opens of a high or low needle valve. */
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
 * @param opening share of full throttle, 0 to 1; with metering rods the manifold pressure in units of 100 kPa; for a constant-vacuum
 * carburettor the piston's lift
 */
export function passages(body: Body, box: Box, fitted: Fitted, opening: number): Passages {
  const decay = (reach: number): number => PILOT_REST + (1 - PILOT_REST) * Math.exp(-opening / reach)
  const none = { pilot: 0, needle: Infinity, main: 0, cutaway: 0 }
  const turns = ((fitted.screw ?? body.usualTurns) - body.usualTurns) * (body.screwIs === 'fuel' ? 1 : -1)
  switch (body.kind) {
    case 'slide':
    case 'constant-vacuum': {
      const lift = body.kind === 'slide' ? opening : Math.min(1, opening / (fitted.spring ?? 1))
      const cutaway = body.kind === 'slide' ? CUTAWAY_LIFT * (fitted.cutaway ?? USUAL_CUTAWAY) : BRIDGE
      const passing = (scale: number): number => slideArea(body.bore, lift + (scale * cutaway) / body.bore)
      const air = passing(1)
      const own = box.needles.find((one) => one.name === fitted.needle)
      const needle = own && (isKnownNeedle(own) ? own : usualNeedle(own.name, body))
      const at = lift * body.bore + ((fitted.clip ?? 1) - 1) * body.groove
      return {
        pilot:
          (PILOT_SCALE * jetArea(fitted.pilot!, body.scheme) * decay(PILOT_REACH) * Math.exp(SCREW_PER_TURN * turns)) /
          slideArea(body.bore, Math.max(PILOT_SHUT, lift)),
        needle: needle ? (RING_DISCHARGE * annulusArea(body.needleJet, diameterAt(needle, at))) / air : Infinity,
        main: jetArea(fitted.main!, body.scheme) / air,
        cutaway: body.kind === 'slide' ? -Math.log(passing(1 + LOG_STEP) / air) / LOG_STEP : 0,
      }
    }
    case 'metering rods': {
      const rod = box.rods.find((one) => one.name === fitted.rod)!
      const vacuum = ATMOSPHERE - 100 * opening
      const raised = 1 / (1 + Math.exp((4 * (vacuum - (fitted.spring ?? 20))) / ROD_BAND))
      const jet = jetArea(fitted.main!, body.scheme)
      const cruise = Math.max(0, jet - circleArea(rod.cruise))
      const power = Math.max(0, jet - circleArea(rod.power))
      const air = circleArea(body.bore)
      return {
        ...none,
        pilot: ((0.1 * Math.exp(SCREW_PER_TURN * turns)) / air) * decay(0.3),
        main: (cruise + raised * (power - cruise)) / air,
      }
    }
    case 'two screws': {
      const air = slideArea(body.bore, opening)
      return {
        ...none,
        pilot:
          (VALVE_PER_TURN * Math.max(0, fitted.low ?? 0) * decay(0.35)) /
          slideArea(body.bore, Math.max(LOW_SHUT, opening)),
        main: (VALVE_PER_TURN * Math.max(0, fitted.high ?? 0) * (1 - Math.exp(-((opening / HIGH_REACH) ** 2)))) / air,
      }
    }
  }
}

/** Fuel over air that passages give, up to a factor that calibration finds. */
export function strength(p: Passages, c: Coefficients): number {
  const main = Number.isFinite(p.needle)
    ? inSeries(p.main * Math.exp(c.main), p.needle * Math.exp(c.needle))
    : p.main * Math.exp(c.main)
  return main * Math.exp(p.cutaway * (Math.exp(c.cutaway) - 1)) + p.pilot * Math.exp(c.pilot)
}

/**
 * Share of each circuit at an opening: how many percent the mixture moves when one percent is put to its passage. They add
 * up to 1.
 */
export function circuitShares(p: Passages, c: Coefficients): Record<'pilot' | 'needle' | 'main', number> {
  const whole = strength(p, c)
  const pilot = (p.pilot * Math.exp(c.pilot)) / whole
  if (!Number.isFinite(p.needle)) return { pilot, needle: 0, main: 1 - pilot }
  // Of two in series the narrower one rules: d ln A / d ln A1 = A² / A1².
  const [jet, ring] = [p.main * Math.exp(c.main), p.needle * Math.exp(c.needle)]
  const ofJet = jet > 0 && ring > 0 ? (ring * ring) / (jet * jet + ring * ring) : 0
  return { pilot, needle: (1 - pilot) * (1 - ofJet), main: (1 - pilot) * ofJet }
}

/** Whether a kind has that circuit at all. */
export function hasCircuit(body: Body, circuit: Circuit): boolean {
  const slots = SLOTS_OF[body.kind]
  if (circuit === 'cutaway') return slots.includes('cutaway')
  if (circuit === 'needle') return slots.includes('needle')
  return true
}
