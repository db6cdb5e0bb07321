import { airPerCycle, volumetricEfficiency, type Breathing, type EngineBuild } from './air'
import { accelerationAsked, fuelIsCut, loopZoneAt, type Calibration } from './controller'
import { deliveredFuel } from './delivery'
import type { RigFaults } from './faults'
import type { Random } from '../numbers/random'
import { filmCycle, type WallFilm } from './wallFilm'

/** What a cycle is burnt from: the machine, its controller and the air of the day. */
export interface CycleSetting {
  engine: EngineBuild
  breathing: Breathing
  calibration: Calibration
  fuel: { stoichAfr: number; ron: number }
  weather: { pressureKpa: number; temperatureC: number }
  faults: RigFaults
  /** share X and time constant of the wall film, s, where the port is not the usual one */
  film?: { share: number; tau: number }
}

/** What lasts from one cycle to the next. */
export interface CycleState {
  films: WallFilm[]
  /** of the charge just burnt, by cylinder */
  lambda: Float64Array
  /** closed loop: its factor on the fuel, and what it has seen of late */
  loop: { trim: number; seen: Float64Array; at: number }
  /** the cycle before: its plate, the share of fuel added then, and s since fuel was last cut */
  before: { plate: number; added: number; sinceCut: number }
}

/** What goes wrong in this cycle. */
export interface CycleFaults {
  /** share of the first cylinder's cycles that do not burn */
  misfire: number
  /** share of air more than the engine was made for */
  drift: number
}

/** What one cycle of all cylinders came to. */
export interface Burnt {
  /** mg of all cylinders */
  air: number
  /** mg that burnt */
  fuel: number
  /** mean filling of a cylinder, share of its swept volume */
  filling: number
}

/** Cycles the loop looks back: gas has to reach its sensor. */
const LOOP_DELAY = 4
const SEEN = 60
const USUAL_FILM = { share: 0.07, tau: 0.15 }

export function cycleState(cylinders: number, film: CycleSetting['film'] = USUAL_FILM): CycleState {
  return {
    films: Array.from({ length: cylinders }, () => ({ mass: 0, ...film })),
    lambda: new Float64Array(cylinders).fill(1),
    loop: { trim: 1, seen: new Float64Array(SEEN).fill(1), at: 0 },
    before: { plate: NaN, added: 0, sinceCut: Infinity },
  }
}

/** Films in balance with a steady state, so that a run does not begin with a transient of its own. */
export function settleFilms(
  { calibration, faults }: CycleSetting,
  state: CycleState,
  rpm: number,
  plate: number,
): void {
  const delivered = deliveredFuel(calibration, faults, rpm, plate)
  state.films.forEach((film, c) => {
    film.mass = (film.share * delivered[c]!) / (1 - Math.exp(-120 / rpm / film.tau))
  })
}

/**
 * Burns one cycle of every cylinder: air by filling, fuel by the controller's tables and its closed loop, through the wall
 * film; updates `state.lambda` and the loop.
 *
 * @param dose times the fuel that the controller asks for; 0 when injectors stand still
 */
export function burnCycle(
  { engine, breathing, calibration, fuel: kind, weather, faults }: CycleSetting,
  state: CycleState,
  { misfire, drift }: CycleFaults,
  rpm: number,
  plate: number,
  random: Random,
  dose = 1,
): Burnt {
  const { films, lambda, loop } = state
  const cut = dose === 0 || isCut(calibration, state, rpm, plate)
  const added = addedFuel(calibration, state, rpm, plate)
  const inLoop = !cut && loopZoneAt(calibration, rpm, plate) !== undefined
  const delivered = cut
    ? []
    : deliveredFuel(calibration, faults, rpm, plate, dose * (inLoop ? loop.trim : 1) * (1 + added))
  const burnt: Burnt = { air: 0, fuel: 0, filling: 0 }
  films.forEach((film, c) => {
    const filling = volumetricEfficiency(engine, breathing, c, rpm, plate) * (1 + drift)
    const air = airPerCycle(
      filling,
      engine.displacementCc / engine.cylinders,
      weather.pressureKpa,
      weather.temperatureC,
    )
    const fuel = filmCycle(film, delivered[c] ?? 0, 120 / rpm)
    const mixed = fuel > 0 ? air / (fuel * kind.stoichAfr) : 4
    const fails = misfire > 0 && c === 0 && random.uniform() < misfire
    // A charge that does not burn passes its oxygen on: the sensor reads lean.
    lambda[c] = cut ? 4 : Math.min(4, mixed * (fails ? 1.35 : 1))
    burnt.air += air
    burnt.fuel += cut ? 0 : fuel
    burnt.filling += filling / engine.cylinders
  })
  // The loop sees the mean of the cylinders a few cycles later and hunts about stoichiometric.
  const late = loop.seen[(loop.at + SEEN - LOOP_DELAY) % SEEN]!
  loop.seen[loop.at] = lambda.reduce((sum, value) => sum + value, 0) / lambda.length
  loop.at = (loop.at + 1) % SEEN
  if (inLoop)
    loop.trim = Math.min(1.3, Math.max(0.7, loop.trim * (1 + 0.12 * (late - 1)) + 0.0012 * Math.sign(late - 1)))
  else loop.trim += (1 - loop.trim) * 0.2
  return burnt
}

/** Whether this cycle gets no fuel: on the overrun, and a while after it where fuel comes back late. */
function isCut(calibration: Calibration, { before }: CycleState, rpm: number, plate: number): boolean {
  const now = fuelIsCut(calibration, rpm, plate)
  before.sinceCut = now ? 0 : before.sinceCut + 120 / rpm
  return now || before.sinceCut < (calibration.cut.backS ?? 0)
}

/** Share of fuel added because the plate opens, or has just opened. */
function addedFuel(calibration: Calibration, { before }: CycleState, rpm: number, plate: number): number {
  const seconds = 120 / rpm
  const rate = Number.isNaN(before.plate) ? 0 : (plate - before.plate) / seconds
  before.plate = plate
  const asked = accelerationAsked(calibration, rpm, rate) / 100
  const decay = calibration.acceleration?.decay ?? 1
  before.added = Math.max(asked, before.added * Math.exp(-seconds / decay))
  return before.added
}
