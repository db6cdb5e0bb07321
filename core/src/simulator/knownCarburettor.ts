import { carburettorLambda, unknownCarburettor, type SlideCarburettor } from './carburettor'
import { AVOCET_312, STOCK_BREATHING } from './machines'
import { seededRandom, type Random } from '../numbers/random'
import type { OpeningReading } from '../jetting/model/calibrate'
import { DEFAULT_BODY, type Body, type Box, type Fitted } from '../jetting/carburettor'
import { diameterAt, type Needle } from '../jetting/model/needle'
import { targetAt, type CircuitTarget } from '../jetting/model/targets'

const taper = (name: string, thicker: number): Needle => ({
  name,
  points: [
    [0, 2.562],
    [4.4, 2.555],
    [7, 2.522],
    [9.6, 2.47],
    [14.8, 2.365],
    [21, 2.15],
    [27.8, 1.72],
    [34, 1.3],
  ].map(([at, diameter], k) => ({ at: at!, diameter: diameter! + (k < 2 ? thicker / 3 : thicker) })),
})

/** A slide carburettor of an invented make, its box of parts, and its truth: for tests and the demo. */
export const SHED_BODY: Body = { ...DEFAULT_BODY, bore: 26 }
export const SHED_BOX: Box = {
  main: Array.from({ length: 17 }, (_, k) => 100 + 2.5 * k),
  pilot: Array.from({ length: 8 }, (_, k) => 32.5 + 2.5 * k),
  needles: [taper('T1', 0), taper('T2', 0.025), taper('T3', -0.025)],
  cutaway: [2, 2.5, 3],
  springs: [],
  rods: [],
}
const WEATHER = { pressureKpa: 100.6, temperatureC: 21 }
const STOICH = 14.4
const SPEEDS = [3500, 4500, 5500, 6500]
export const READ_AT = [0.05, 0.1, 0.15, 0.2, 0.3, 0.4, 0.6, 0.8, 1]

/** lambda in truth with something fitted, mean over the speeds that are ridden. */
export function trueLambda(carb: SlideCarburettor, fitted: Fitted, opening: number, weather = WEATHER): number {
  const needle = SHED_BOX.needles.find((one) => one.name === fitted.needle)!
  const parts = {
    mainMm: fitted.main! / 100,
    pilotMm: fitted.pilot! / 100,
    needleAt: (mm: number) => diameterAt(needle, mm),
    clip: fitted.clip!,
    groove: SHED_BODY.groove,
    cutaway: fitted.cutaway!,
    turns: fitted.screw!,
  }
  const logs = SPEEDS.map((rpm) =>
    Math.log(carburettorLambda(AVOCET_312, STOCK_BREATHING, carb, parts, weather, STOICH, rpm, opening)),
  )
  return Math.exp(logs.reduce((sum, one) => sum + one, 0) / logs.length)
}

/** Readings by opening with the gauge's noise. */
export function readCarburettor(
  carb: SlideCarburettor,
  fitted: Fitted,
  random: Random,
  openings: readonly number[] = READ_AT,
  noise = 0.01,
): OpeningReading[] {
  return openings.map((opening) => ({
    opening,
    lambda: trueLambda(carb, fitted, opening) * (1 + noise * random.normal()),
    error: noise,
  }))
}

/** Departure from target in truth: weighted RMS of ln, as full throttle counts first. */
export function trueOff(carb: SlideCarburettor, fitted: Fitted, targets: readonly CircuitTarget[]): number {
  let [sum, total] = [0, 0]
  for (let k = 0; k < 30; k++) {
    const opening = 0.03 + (0.97 * k) / 29
    const target = targetAt(targets, opening)
    const off = Math.log(trueLambda(carb, fitted, opening) / target.lambda)
    sum += target.weight * off * off * (off > 0 ? 2 : 1)
    total += target.weight
  }
  return Math.sqrt(sum / total)
}

/** A carburettor nobody knows, with something fitted that is a few steps off. */
export function unknownCase(seed: number): { carb: SlideCarburettor; fitted: Fitted; random: Random } {
  const random = seededRandom(seed)
  const carb = unknownCarburettor(random)
  const pick = <T>(list: readonly T[]): T =>
    list[Math.min(list.length - 1, Math.floor(random.uniform() * list.length))]!
  const fitted: Fitted = {
    main: pick([110, 115, 120, 125]),
    pilot: pick([37.5, 40, 42.5]),
    needle: 'T1',
    clip: pick([2, 3, 4]),
    screw: 1.5,
    cutaway: 2.5,
  }
  return { carb, fitted, random }
}
