import {
  DEFAULT_BODY,
  EMPTY_BOX,
  type Body,
  type Box,
  type CarburettorKind,
  type Fitted,
} from '../../jetting/carburettor'
import type { OpeningReading } from '../../jetting/model/calibrate'
import { diameterAt, type Needle } from '../../jetting/model/needle'
import { usualTargets } from '../../jetting/model/targets'
import { seededRandom, type Random } from '../../numbers/random'
import type { Behind } from './breath'
import { lambdaOf, OPENINGS, PRESSURES, trimmed, wantedBy, type Circuits } from './designed'
import { fullLiftAt, needledFuel, needlePlace, type NeedledCarburettor, type NeedledParts } from './needled'
import { rodFuel, type RodCarburettor } from './rods'
import { screwFuel, type ScrewCarburettor } from './screws'

/** A carburettor of a kind with its box, what is fitted, and its truth: for tests, trials and the bench. */
export interface TrueCarburettor {
  body: Body
  box: Box
  fitted: Fitted
  /** where it is read: shares of the throttle, or of 100 kPa with metering rods */
  openings: readonly number[]
  /** mean over the speeds that are run */
  lambda(fitted: Fitted, opening: number): number
  /** readings with an error of `noise`, ln */
  read(fitted: Fitted, openings?: readonly number[], noise?: number): OpeningReading[]
}

const range = (from: number, to: number, step: number): number[] =>
  Array.from({ length: Math.round((to - from) / step) + 1 }, (_, k) => from + k * step)
const within = (random: Random, low: number, high: number): number => low + (high - low) * random.uniform()
const pick = <T>(random: Random, list: readonly T[]): T => list[Math.floor(random.uniform() * list.length)]!

function engineOf(random: Random, cc: number, tunedAt: number): Behind {
  const [peak, width] = [within(random, 0.8, 0.95), within(random, 0.5, 0.8) * tunedAt]
  return {
    displacement: cc * 1e-6,
    filling: (rpm) => peak * (0.72 + 0.28 * Math.exp(-(((rpm - tunedAt) / width) ** 2))),
    pressure: 100.2e3,
    kelvin: 294,
  }
}

const thicker = (needle: Needle, name: string, by: number): Needle => ({
  name,
  points: needle.points.map((one) => ({ ...one, diameter: one.diameter + by })),
})

function needled(kind: 'slide' | 'constant-vacuum', random: Random) {
  const body: Body = { ...DEFAULT_BODY, kind, bore: 29, needleJet: 2.62, groove: 0.85 }
  const box: Box = {
    ...EMPTY_BOX,
    main: range(100, 150, 2.5),
    pilot: range(30, 55, 2.5),
    cutaway: kind === 'slide' ? [2, 2.5, 3] : [],
    springs: kind === 'slide' ? [] : [0.8, 0.9, 1, 1.1, 1.25],
  }
  const usual: Fitted = {
    main: 122.5,
    pilot: 40,
    needle: 'K1',
    clip: 3,
    screw: 1.5,
    ...(kind === 'slide' ? { cutaway: 2.5 } : { spring: 1 }),
  }
  const engine = engineOf(random, within(random, 180, 260), within(random, 6000, 7500))
  const carb: NeedledCarburettor = {
    kind,
    bore: body.bore,
    needleJet: body.needleJet,
    boost: within(random, 1.6, 2.6),
    hooded: (kind === 'slide' ? 1 : 0.7) * within(random, 0.92, 0.985),
    bleed: within(random, 0, 0.12),
    cutaway: { share: within(random, 0.15, 0.4), fades: within(random, 0.2, 0.4) },
    pilot: { bypass: within(random, 0.4, 1.4), at: within(random, 0.04, 0.12), bleed: within(random, 0.1, 0.35) },
    piston: { holds: 1, rises: within(random, 0.2, 0.6) },
    liftMm: within(random, 6, 16),
  }
  // A spring that lets the piston all the way up a little below the speed of most power.
  carb.piston.holds = fullLiftAt(carb, engine, within(random, 5200, 6500))
  const partsOf = (one: Fitted): NeedledParts => {
    const needle = box.needles.find(({ name }) => name === one.needle)!
    return {
      mainMm: one.main! / 100,
      pilotMm: one.pilot! / 100,
      needleAt: (mm) => diameterAt(needle, mm),
      clip: one.clip!,
      groove: body.groove,
      cutaway: one.cutaway ?? 0,
      spring: one.spring ?? 1,
      turns: one.screw!,
    }
  }
  const circuits: Circuits = (one, rpm, opening) => needledFuel(carb, engine, partsOf(one), rpm, opening)
  const design = { usual, pilotShare: within(random, 0.75, 0.95), openings: OPENINGS, speeds: [3500, 4800, 6100, 7400] }
  const wanted = wantedBy(usualTargets(kind), random)
  // The maker cuts the needle until what is usual reads what he wants.
  const places = [0.04, 0.08, 0.14, 0.22, 0.33, 0.48, 0.65, 0.82, 1].map((opening) => ({
    opening,
    at: needlePlace(carb, engine, { clip: 3, groove: body.groove, spring: 1 }, 5500, opening),
    // Wide open the needle leaves the jet to itself.
    ring: opening < 1 ? 0.1 + 2 * opening : 2.6,
  }))
  const cut = (): Needle => ({
    name: 'K1',
    points: places
      .filter((one, k) => k === places.length - 1 || one.at < places[k + 1]!.at - 0.2)
      .map(({ at, ring }) => ({ at, diameter: Math.sqrt(Math.max(0.5, body.needleJet ** 2 - (4 / Math.PI) * ring)) })),
  })
  for (let round = 0; round < 25; round++) {
    box.needles = [cut()]
    const lambda = lambdaOf(circuits, design, wanted)
    let last = 0.012
    for (const one of places.slice(0, -1)) {
      const more = Math.min(1.3, Math.max(0.75, (lambda(usual, one.opening) / wanted(one.opening)) ** 1.2))
      one.ring = Math.min(2.6, Math.max(last, one.ring * more))
      last = one.ring + 0.002
    }
  }
  box.needles = [cut(), thicker(cut(), 'K2', 0.01), thicker(cut(), 'K3', -0.015)].map((one) => ({
    ...one,
    points: one.points.map(({ at, diameter }) => ({ at, diameter: Math.min(2.618, diameter) })),
  }))
  const fitted: Fitted = {
    ...usual,
    main: pick(random, [115, 117.5, 120, 122.5, 125, 127.5, 130]),
    pilot: pick(random, [37.5, 40, 42.5]),
    clip: pick(random, [2, 3, 4]),
  }
  return { body, box, fitted, openings: OPENINGS, lambda: lambdaOf(circuits, design, wanted) }
}

function rods(random: Random) {
  const body: Body = { ...DEFAULT_BODY, kind: 'metering rods', bore: 36, screwIs: 'fuel' }
  const box: Box = {
    ...EMPTY_BOX,
    main: range(210, 270, 5),
    springs: [10, 14, 17, 20, 24, 27],
    rods: [
      { name: 'M1', cruise: 1.7, power: 1.3 },
      { name: 'M2', cruise: 1.8, power: 1.3 },
      { name: 'M3', cruise: 1.6, power: 1.3 },
      { name: 'M4', cruise: 1.7, power: 1.15 },
      { name: 'M5', cruise: 1.8, power: 1.45 },
    ],
  }
  const usual: Fitted = { main: 240, rod: 'M1', spring: 17, screw: 1.5 }
  const engine = engineOf(random, within(random, 480, 620), within(random, 3200, 4200))
  const carb: RodCarburettor = {
    venturi: 27,
    boost: within(random, 2.2, 4),
    onset: within(random, 60, 260),
    bleed: within(random, 0.02, 0.2),
    spread: within(random, 0.8, 3),
    idle: { jet: within(random, 0.65, 0.85), seat: 1.6, pitch: within(random, 0.4, 0.6), cone: within(random, 20, 35) },
  }
  const circuits: Circuits = (one, rpm, opening) => {
    const rod = box.rods.find(({ name }) => name === one.rod)!
    const parts = {
      jetMm: one.main! / 100,
      cruiseMm: rod.cruise,
      powerMm: rod.power,
      spring: one.spring!,
      turns: one.screw!,
    }
    return rodFuel(carb, engine, parts, rpm, 100 * opening)
  }
  const fitted: Fitted = {
    main: pick(random, [235, 240, 245, 250]),
    rod: pick(random, ['M1', 'M2', 'M3']),
    spring: pick(random, [14, 17, 20]),
    screw: pick(random, [1, 1.5, 2]),
  }
  const design = { usual, pilotShare: within(random, 0.45, 0.8), openings: PRESSURES, speeds: [1700, 2500, 3300, 4100] }
  const wanted = wantedBy(usualTargets(body.kind), random)
  return { body, box, fitted, openings: PRESSURES, lambda: trimmed(lambdaOf(circuits, design, wanted), usual, wanted) }
}

function screws(random: Random) {
  const body: Body = { ...DEFAULT_BODY, kind: 'two screws', bore: 24 }
  const engine = engineOf(random, within(random, 90, 130), within(random, 8000, 10_000))
  const carb: ScrewCarburettor = {
    bore: body.bore,
    venturi: within(random, 18, 20),
    high: {
      seat: 1.4,
      pitch: within(random, 0.45, 0.7),
      cone: within(random, 18, 30),
      jet: within(random, 0.9, 1.3),
      opensAt: within(random, 250, 900),
    },
    low: { seat: 1.2, pitch: within(random, 0.45, 0.7), cone: within(random, 16, 28) },
    holes: [
      { place: -1, size: 0.8 },
      { place: within(random, 0.3, 1), size: 0.7 },
      { place: within(random, 1.4, 2.6), size: 0.7 },
    ],
  }
  const usual: Fitted = { high: 1.25, low: 1.25 }
  const circuits: Circuits = (one, rpm, opening) =>
    screwFuel(carb, engine, { high: one.high!, low: one.low! }, rpm, opening)
  const turned = (): number => pick(random, [0.875, 1, 1.125, 1.25, 1.375, 1.5, 1.75])
  const design = {
    usual,
    pilotShare: within(random, 0.75, 0.95),
    openings: OPENINGS,
    speeds: [5500, 7500, 9500, 11_500],
  }
  const wanted = wantedBy(usualTargets(body.kind), random)
  const lambda = trimmed(lambdaOf(circuits, design, wanted), usual, wanted)
  return { body, box: EMPTY_BOX, fitted: { high: turned(), low: turned() }, openings: OPENINGS, lambda }
}

/**
 * A carburettor that nobody knows, drawn from a seed: its flow follows compressible air, plate or slide, holes and bleeds, and has
 * no formula in common with what calibrates but the orifice law.
 *
 * @example
 * const { body, box, fitted, read } = trueCarburettor('two screws', 3)
 */
export function trueCarburettor(kind: CarburettorKind, seed: number): TrueCarburettor {
  const random = seededRandom(7001 * seed + kind.length)
  const made = kind === 'metering rods' ? rods(random) : kind === 'two screws' ? screws(random) : needled(kind, random)
  return {
    ...made,
    read: (fitted, openings = made.openings, noise = 0.01) =>
      openings.map((opening) => ({
        opening,
        lambda: made.lambda(fitted, opening) * Math.exp(noise * random.normal()),
        error: noise,
      })),
  }
}
