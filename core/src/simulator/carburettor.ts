import { airPerCycle, volumetricEfficiency, type Breathing, type EngineBuild } from './air'
import type { Random } from '../numbers/random'

/** A slide carburettor as it is in truth: geometry, and discharge that nobody is told. Lengths in mm. */
export interface SlideCarburettor {
  bore: number
  needleJet: number
  /** discharge of venturi, main jet, needle ring and pilot */
  cd: { venturi: number; main: number; ring: number; pilot: number }
  /** mm of lift that a mm of cutaway is worth to the air that passes the needle jet */
  cutaway: number
  /** signal at the needle jet against that of the bare bore: its hood and the pulses help */
  boost: number
  /** share of the gap's depression that reaches the pilot jet through its bleed, and the opening over which it fades */
  pilotShare: number
  pilotReach: number
  /** mm that fuel is lifted from the bowl to the jet */
  head: number
}

/** What is in it; the needle by its diameter at a place from the clip's top groove down. */
export interface SlideParts {
  mainMm: number
  pilotMm: number
  needleAt(mm: number): number
  clip: number
  groove: number
  cutaway: number
  /** turns of the air screw */
  turns: number
}

const RHO_FUEL = 745
const GRAVITY = 9.81
/** Pa that an engine draws at most behind a shut slide. */
const MOST_DEPRESSION = 55e3
/** Reynolds number at which a small jet's discharge has come half way to its full value. */
const RE_HALF = 60
const VISCOSITY = 4.4e-4

const hole = (mm: number): number => (Math.PI / 4) * mm * mm * 1e-6

/** Discharge of a small hole falls when little flows through it. */
function dischargeAt(cd: number, mm: number, drop: number): number {
  const speed = Math.sqrt((2 * Math.max(drop, 1)) / RHO_FUEL)
  const reynolds = (RHO_FUEL * speed * mm * 1e-3) / VISCOSITY
  return cd * (reynolds / (reynolds + RE_HALF))
}

/** Free area under a flat slide, m²: the bore cut by a chord, integrated in thin strips. */
function underSlide(bore: number, opening: number): number {
  const strips = 60
  const lift = Math.max(0.012, Math.min(1, opening)) * bore
  let area = 0
  for (let k = 0; k < strips; k++) {
    const height = (lift * (k + 0.5)) / strips - bore / 2
    area += 2 * Math.sqrt(Math.max(0, (bore / 2) ** 2 - height * height)) * (lift / strips)
  }
  return area * 1e-6
}

/** Fuel into one cylinder at an opening, kg/s, for air in kg/s of density kg/m³. */
function carburettorFuel(
  carb: SlideCarburettor,
  parts: SlideParts,
  opening: number,
  air: number,
  airDensity: number,
): number {
  // Past the needle jet the cutaway opens the way further than the slide's edge behind it does.
  const passing = underSlide(carb.bore, opening + (carb.cutaway * parts.cutaway) / carb.bore)
  const drop = (air / (carb.cd.venturi * passing)) ** 2 / (2 * airDensity)
  const signal = Math.max(0, carb.boost * drop - RHO_FUEL * GRAVITY * carb.head * 1e-3)
  const d = parts.needleAt(opening * carb.bore + (parts.clip - 1) * parts.groove)
  const ring = Math.max(0, hole(carb.needleJet) - hole(d))
  const jetWay = dischargeAt(carb.cd.main, parts.mainMm, signal) * hole(parts.mainMm)
  const ringWay = dischargeAt(carb.cd.ring, carb.needleJet - d, signal) * ring
  const way = ringWay > 0 ? 1 / Math.sqrt(1 / jetWay ** 2 + 1 / ringWay ** 2) : 0
  const main = way * Math.sqrt(2 * RHO_FUEL * signal)
  // The pilot outlet sees the depression behind the slide's edge, less as the edge moves away.
  const gap = (air / (carb.cd.venturi * underSlide(carb.bore, Math.max(0.03, opening)))) ** 2 / (2 * airDensity)
  const pilotSignal = Math.min(MOST_DEPRESSION, gap) * carb.pilotShare * Math.exp(-opening / carb.pilotReach)
  const bleed = 1 / (0.62 + 0.26 * parts.turns)
  const pilot =
    dischargeAt(carb.cd.pilot, parts.pilotMm, pilotSignal) *
    hole(parts.pilotMm) *
    bleed *
    Math.sqrt(2 * RHO_FUEL * Math.max(0, pilotSignal))
  return main + pilot
}

/** lambda in steady running at an opening and speed. */
export function carburettorLambda(
  engine: EngineBuild,
  breathing: Breathing,
  carb: SlideCarburettor,
  parts: SlideParts,
  weather: { pressureKpa: number; temperatureC: number },
  stoichAfr: number,
  rpm: number,
  opening: number,
): number {
  const filling = volumetricEfficiency(engine, breathing, 0, rpm, 100 * opening)
  const perCycle = airPerCycle(
    filling,
    engine.displacementCc / engine.cylinders,
    weather.pressureKpa,
    weather.temperatureC,
  )
  // The engine draws through one stroke of four: the venturi sees more than the mean flow.
  const air = (perCycle * 1e-6 * rpm) / 120
  const density = (weather.pressureKpa * 1000) / (287.05 * (weather.temperatureC + 273.15))
  const fuel = carburettorFuel(carb, parts, opening, 2.2 * air, density) / 2.2
  return air / (fuel * stoichAfr)
}

/** A carburettor of an invented make whose discharge is anybody's guess. */
export function unknownCarburettor(random: Random): SlideCarburettor {
  const within = (low: number, high: number): number => low + (high - low) * random.uniform()
  return {
    bore: 26,
    needleJet: 2.6,
    cd: { venturi: within(0.78, 0.92), main: within(0.62, 0.82), ring: within(0.5, 0.78), pilot: within(0.5, 0.8) },
    cutaway: within(1.7, 2.3),
    boost: within(3.2, 4.4),
    pilotShare: within(0.08, 0.16),
    pilotReach: within(0.22, 0.4),
    head: within(8, 18),
  }
}
