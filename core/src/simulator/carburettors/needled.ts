import { breathThrough, depression, type Behind, type Breath } from './breath'
import { fuelThrough, holeOf, oneAfterOther } from './fuelWay'
import { behindPlate, butterflyArea } from './plate'

/** A carburettor with a needle in its jet, on the cable or lifted by vacuum, as it is in truth. Lengths in mm. */
export interface NeedledCarburettor {
  kind: 'slide' | 'constant-vacuum'
  bore: number
  needleJet: number
  boost: number
  /** share of the signal that a shut slide keeps from the jet */
  hooded: number
  /** how much of the main signal the bleed takes at 1 kPa */
  bleed: number
  /** what the slide's cutaway lets by: share of the signal that a mm of it takes at a shut slide, and the opening over which that fades */
  cutaway: { share: number; fades: number }
  /** where the pilot's outlets lie: from the edge, mm; the opening at which half of the second one is behind a slide */
  pilot: { bypass: number; at: number; bleed: number }
  /** Pa that the piston's spring holds, and how much more of it at full lift */
  piston: { holds: number; rises: number }
  liftMm: number
}

/** What is in it. */
export interface NeedledParts {
  mainMm: number
  pilotMm: number
  needleAt(mm: number): number
  clip: number
  groove: number
  cutaway: number
  /** against the usual one */
  spring: number
  /** turns of the air screw */
  turns: number
}

/** Free area under a round-bottomed slide, m²: a bore cut by an arc, near enough the bore by a power of its lift. */
const underSlide = (bore: number, lift: number): number => holeOf(bore) * Math.min(1, 0.012 + 0.988 * lift ** 1.25)

/** Lift of a piston that a depression holds against a spring: found by halving, as more lift is more area and less depression. */
function pistonLift(carb: NeedledCarburettor, breath: Breath, spring: number): number {
  let [low, high] = [0.02, 1]
  for (let k = 0; k < 30; k++) {
    const lift = (low + high) / 2
    const held = carb.piston.holds * spring * (1 + carb.piston.rises * lift)
    if (depression(breath, 0.8 * underSlide(carb.bore, lift)) > held) low = lift
    else high = lift
  }
  return (low + high) / 2
}

/** Pa that a piston's spring holds so that it is all the way up with the plate open at a speed. */
export function fullLiftAt({ bore, piston }: NeedledCarburettor, engine: Behind, rpm: number): number {
  const breath = breathThrough(engine, rpm, 0.8 * butterflyArea(bore, 1))
  return depression(breath, 0.8 * underSlide(bore, 1)) / (1 + piston.rises)
}

/** Where along the needle its jet stands, mm. */
export function needlePlace(
  carb: NeedledCarburettor,
  engine: Behind,
  { clip, groove, spring }: Pick<NeedledParts, 'clip' | 'groove' | 'spring'>,
  rpm: number,
  opening: number,
): number {
  const { lift } = breathing(carb, engine, spring, rpm, opening)
  return lift * carb.bore + (clip - 1) * groove
}

function breathing(
  carb: NeedledCarburettor,
  engine: Behind,
  spring: number,
  rpm: number,
  opening: number,
): { breath: Breath; lift: number } {
  const isSlide = carb.kind === 'slide'
  const free = isSlide ? underSlide(carb.bore, opening) : butterflyArea(carb.bore, opening)
  const breath = breathThrough(engine, rpm, 0.8 * free)
  return { breath, lift: isSlide ? opening : pistonLift(carb, breath, spring) }
}

/** Fuel over air by circuit at an opening of the cable's slide, or of the plate behind a piston; up to a scale of each. */
export function needledFuel(
  carb: NeedledCarburettor,
  engine: Behind,
  parts: NeedledParts,
  rpm: number,
  opening: number,
): { main: number; pilot: number } {
  const isSlide = carb.kind === 'slide'
  const { breath, lift } = breathing(carb, engine, parts.spring, rpm, opening)
  const gap = depression(breath, 0.8 * underSlide(carb.bore, lift))
  const cut = isSlide
    ? Math.exp(-carb.cutaway.share * parts.cutaway * Math.exp(-((opening / carb.cutaway.fades) ** 1.5)))
    : 1
  const signal = carb.boost * gap * cut * (1 - carb.hooded * Math.exp(-lift / 0.1))
  const main = signal / (1 + carb.bleed * Math.sqrt(signal / 1000))
  const needle = parts.needleAt(lift * carb.bore + (parts.clip - 1) * parts.groove)
  const ring = 0.7 * Math.max(0, holeOf(carb.needleJet) - holeOf(needle))
  const way = ring > 0 ? oneAfterOther(0.76 * holeOf(parts.mainMm), ring) : 0
  const behind = Math.min(60e3, engine.pressure - breath.manifold)
  const second = isSlide
    ? 1 / (1 + Math.exp(-(opening - carb.pilot.at) / 0.04))
    : behindPlate(carb.bore, opening, carb.pilot.bypass, 0.8)
  const pocket = behind * (0.45 + 0.55 * second) * carb.pilot.bleed
  const pilot = (0.72 * holeOf(parts.pilotMm)) / (0.55 + 0.3 * parts.turns ** 0.8)
  return {
    main: fuelThrough(way, main, carb.liftMm) / breath.air,
    pilot: fuelThrough(pilot, pocket, 0.5 * carb.liftMm) / breath.air,
  }
}
