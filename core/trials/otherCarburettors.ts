import type { OpeningReading } from '../src/jetting/model/calibrate'
import {
  DEFAULT_BODY,
  EMPTY_BOX,
  type Body,
  type Box,
  type CarburettorKind,
  type Fitted,
} from '../src/jetting/carburettor'

/**
 * Carburettors of each kind that are in truth otherwise than the model and the simulator: other laws for how circuits fade and
 * come in, each drawn by chance. Written for tests only.
 */
export interface OtherCarburettor {
  body: Body
  box: Box
  fitted: Fitted
  lambda(fitted: Fitted, opening: number): number
  read(openings: readonly number[]): OpeningReading[]
}

/** Numbers between 0 and 1 from a seed (Lehmer's, 16807). */
function draw(seed: number): () => number {
  let state = seed * 7919 + 13
  for (let k = 0; k < 5; k++) state = (state * 16807) % 2147483647
  return () => (state = (state * 16807) % 2147483647) / 2147483647
}

const NEEDLE = [
  { at: 0, diameter: 2.5 },
  { at: 6, diameter: 2.47 },
  { at: 14, diameter: 2.3 },
  { at: 24, diameter: 1.9 },
  { at: 33, diameter: 1.35 },
]
const shifted = (name: string, by: number) => ({
  name,
  points: NEEDLE.map((one) => ({ ...one, diameter: one.diameter + by })),
})
const range = (from: number, to: number, step: number): number[] =>
  Array.from({ length: Math.round((to - from) / step) + 1 }, (_, k) => from + k * step)

/** What a slide and a constant-vacuum carburettor have alike. */
const NEEDLED: Box = {
  ...EMPTY_BOX,
  main: range(95, 140, 2.5),
  pilot: range(30, 50, 2.5),
  needles: [shifted('A', 0), shifted('B', 0.03)],
}
const needled = (u: () => number): Fitted => ({
  main: 107.5 + 2.5 * Math.floor(8 * u()),
  pilot: 35 + 2.5 * Math.floor(4 * u()),
  needle: 'A',
  clip: 2 + Math.floor(3 * u()),
  screw: 1.5,
})

const PARTS: Record<CarburettorKind, { box: Box; fitted: (pick: () => number) => Fitted }> = {
  slide: { box: { ...NEEDLED, cutaway: [2, 2.5, 3] }, fitted: (u) => ({ ...needled(u), cutaway: 2.5 }) },
  'constant-vacuum': { box: { ...NEEDLED, springs: [0.8, 1, 1.2] }, fitted: (u) => ({ ...needled(u), spring: 1 }) },
  'metering rods': {
    box: {
      ...EMPTY_BOX,
      main: range(220, 260, 5),
      springs: [13, 17, 20, 24],
      rods: [
        { name: 'R1', cruise: 1.7, power: 1.3 },
        { name: 'R2', cruise: 1.8, power: 1.3 },
        { name: 'R3', cruise: 1.7, power: 1.15 },
      ],
    },
    fitted: (u) => ({ main: 230 + 5 * Math.floor(5 * u()), rod: 'R1', spring: 17, screw: 1.5 }),
  },
  'two screws': {
    box: EMPTY_BOX,
    fitted: (u) => ({ high: 1 + 0.25 * Math.floor(4 * u()), low: 1 + 0.25 * Math.floor(4 * u()) }),
  },
}

/** A carburettor of a kind, its laws and what is fitted drawn from a seed; read with an error of `noise` (ln). */
export function otherCarburettor(kind: CarburettorKind, seed: number, noise = 0.01): OtherCarburettor {
  const u = draw(seed)
  const { box, fitted: make } = PARTS[kind]
  const body: Body = { ...DEFAULT_BODY, kind, bore: 27 }
  const fitted = make(u)
  const [fade, rise, bend, tilt] = [0.16 + 0.14 * u(), 0.3 + 0.2 * u(), 1.1 + 0.8 * u(), 0.12 * (u() - 0.5)]
  const needleAt = (name: string | undefined, mm: number): number => {
    const { points } = box.needles.find((one) => one.name === name)!
    const k = points.findIndex((one) => one.at >= mm)
    const [a, b] = k > 0 ? [points[k - 1]!, points[k]!] : [points[0]!, points[1]!]
    if (k < 0) return points.at(-1)!.diameter
    return a.diameter + (b.diameter - a.diameter) * Math.min(1, Math.max(0, (mm - a.at) / (b.at - a.at)))
  }
  /** Fuel over air, in units in which what is fitted gives about 1. */
  function strengthOf(one: Fitted, o: number): number {
    const low = 0.04 + 0.96 * Math.exp(-((o / fade) ** bend))
    const top = 1 / (1 + Math.exp(-(o - 0.72) / 0.07))
    const middle = Math.max(0, 1 - low - 0.8 * top)
    if (kind === 'two screws') {
      const high = o ** 1.4 / (o ** 1.4 + rise ** 1.4)
      return (
        0.75 * (one.low! ** 0.8 / fitted.low! ** 0.8) * low + (one.high! ** 0.9 / fitted.high! ** 0.9) * high + 0.05
      )
    }
    const pilot = ((one.pilot ?? 40) / (fitted.pilot ?? 40)) ** 1.7 * (1 - 0.11 * ((one.screw ?? 1.5) - 1.5))
    if (kind === 'metering rods') {
      const up = 1 / (1 + Math.exp((101 - 100 * o - one.spring!) / 1.6))
      const areaOf = ({ main, rod }: Fitted, raised: number): number => {
        const its = box.rods.find((other) => other.name === rod)!
        const d = its.cruise + raised * (its.power - its.cruise)
        return (main! / 100) ** 2 - d * d
      }
      return (0.9 * areaOf(one, up)) / areaOf(fitted, 1 / (1 + Math.exp((84 - 100 * o) / 1.6))) + 0.1 * pilot
    }
    const lift = kind === 'slide' ? o : Math.min(1, o / (one.spring ?? 1))
    const ring = (f: Fitted): number => 2.6 ** 2 - needleAt(f.needle, lift * 27 + (f.clip! - 1) * 0.9) ** 2
    const cut = kind === 'slide' ? 1 - 0.05 * (one.cutaway! - 2.5) * Math.exp(-(((o - 0.15) / 0.12) ** 2)) : 1
    return (
      (pilot * low +
        Math.max(0.05, ring(one) / ring(fitted)) ** 0.85 * middle +
        (one.main! / fitted.main!) ** 2.1 * 0.8 * top) *
      cut
    )
  }
  const [size, phase] = [u(), u()]
  const wobble = (o: number): number => 0.06 * (size - 0.5) * Math.sin(7 * o + 5 * phase) + tilt * (o - 0.5)
  const lambda = (one: Fitted, o: number): number =>
    (0.885 * Math.exp(wobble(o) + 0.02) * strengthOf(fitted, o)) / strengthOf(one, o)
  const bell = (): number => Array.from({ length: 12 }, u).reduce((sum, value) => sum + value, -6)
  return {
    body,
    box,
    fitted,
    lambda,
    read: (openings) =>
      openings.map((opening) => ({ opening, lambda: lambda(fitted, opening) * (1 + noise * bell()), error: noise })),
  }
}
