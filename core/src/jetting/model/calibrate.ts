import { refused } from '../../refusal/refusal'
import { addAt, banded, cholesky, solveFactored, type Banded } from '../../numbers/banded'
import { inverseOf } from '../../numbers/inverseOf'
import { SLOTS_OF, type Body, type Box, type Fitted, type Slot } from '../carburettor'
import { DEPARTURES, EFFECT_SPREAD, TERMS, USUAL, type Law, type Term } from './law'
import { passages, strength } from './model'

/** Mixture read at one opening. */
export interface OpeningReading {
  /** share of full throttle, 0 to 1 */
  opening: number
  lambda: number
  /** standard error of ln lambda */
  error: number
}

/** What was read with something fitted. */
export interface MeasuredFitting {
  fitted: Fitted
  readings: readonly OpeningReading[]
}

/** The model as the readings bend it. */
export interface Calibration {
  /** what this carburettor departs from the usual by */
  law: Law
  /** ln of what the model leaves over, at these openings, straight between them */
  openings: readonly number[]
  rest: readonly number[]
  /** what the effect of a slot's parts is more or less than the model's, share of it, at `BENDS` */
  effects: ReadonlyMap<Slot, readonly number[]>
  /** from which effects are counted: what was read last */
  reference: Fitted
  /** of terms, then rest, then effects slot by slot */
  covariance: readonly (readonly number[])[]
  /** Cholesky factor of its inverse */
  factor: Banded
  terms: readonly Term[]
  body: Body
  box: Box
  /** ln that a prediction may be off beyond what the readings tell: checks left open */
  doubt: number
}

/** How far what is left over wanders over a tenth of the throttle or three quarters as much again, ln, and how far from its level at all. */
const WANDER = 0.12
const LEVEL = 0.15
/** How far two openings are from each other: small ones differ by their ratio. */
const apart = (low: number, high: number): number =>
  Math.max(0.1, (high - low) / 0.1) + Math.log(high / Math.max(0.01, low)) / 0.7
/** The least error of a reading, ln: gauge and driver repeat no better. */
const LEAST_ERROR = 0.006
/** Residual in errors beyond which a reading counts less (Huber). */
const HUBER = 1.8
const ROUNDS = 15
const STEP = 1e-3
/** Openings between which an effect's departure from the model's is straight; and how fast it forgets (share of the throttle). */
const BENDS: readonly number[] = [0.05, 0.2, 0.45, 1]
const FORGETS = 0.5

/** A calibration without what is known of its doubt. */
type Bent = Omit<Calibration, 'covariance' | 'factor' | 'doubt'>

/** Weights of the two neighbours of an opening among the nodes. */
function between(nodes: readonly number[], opening: number): [number, number, number] {
  const next = nodes.findIndex((node) => node >= opening)
  if (next <= 0) {
    const at = next < 0 ? nodes.length - 1 : 0
    return [at, at, 0]
  }
  return [next - 1, next, (opening - nodes[next - 1]!) / (nodes[next]! - nodes[next - 1]!)]
}

const logStrength = (body: Body, box: Box, fitted: Fitted, opening: number, law: Law): number =>
  Math.log(strength(passages(body, box, fitted, opening, law)))

/** ln of fuel that each slot in which one differs from another moves by itself, by the model. */
export function slotEffects(
  { body, box, law, reference }: Pick<Calibration, 'body' | 'box' | 'law' | 'reference'>,
  fitted: Fitted,
  opening: number,
): [Slot, number][] {
  const changed = SLOTS_OF[body.kind].filter((slot) => fitted[slot] !== reference[slot])
  if (changed.length === 0) return []
  const base = logStrength(body, box, reference, opening, law)
  return changed.map((slot) => [
    slot,
    logStrength(body, box, { ...reference, [slot]: fitted[slot] }, opening, law) - base,
  ])
}

/** Share by which a slot's effect departs from the model's at an opening. */
export function effectAt({ effects }: Pick<Calibration, 'effects'>, slot: Slot, opening: number): number {
  const bends = effects.get(slot)
  if (!bends) return 0
  const [low, high, share] = between(BENDS, opening)
  return bends[low]! * (1 - share) + bends[high]! * share
}

/** Precision of an effect's departures: normal, alike near each other. */
function effectPrecision(spread: number): number[][] {
  const size = BENDS.length
  const covariance = banded(size, size - 1)
  BENDS.forEach((a, i) => {
    for (let j = 0; j <= i; j++)
      addAt(covariance, i, j, spread ** 2 * Math.exp(-(((a - BENDS[j]!) / FORGETS) ** 2) / 2) + (i === j ? 1e-5 : 0))
  })
  return inverseOf(covariance)
}

/** What ln of fuel at an opening depends on, by parameter: terms, rest, effects. */
export function gradientOf(calibration: Bent, fitted: Fitted, opening: number): Float64Array {
  const { body, box, law, terms, openings } = calibration
  const slots = SLOTS_OF[body.kind]
  const row = new Float64Array(terms.length + openings.length + slots.length * BENDS.length)
  const base = logStrength(body, box, fitted, opening, law)
  terms.forEach((term, k) => {
    row[k] = (logStrength(body, box, fitted, opening, { ...law, [term]: law[term] + STEP }) - base) / STEP
  })
  const add = (from: number, nodes: readonly number[], by: number): void => {
    const [low, high, share] = between(nodes, opening)
    row[from + low]! += by * (1 - share)
    row[from + high]! += by * share
  }
  add(terms.length, openings, 1)
  for (const [slot, effect] of slotEffects(calibration, fitted, opening))
    add(terms.length + openings.length + slots.indexOf(slot) * BENDS.length, BENDS, effect)
  return row
}

/** ln of fuel over air to expect. */
export function expectedLog(calibration: Bent, fitted: Fitted, opening: number): number {
  const { body, box, law } = calibration
  return slotEffects(calibration, fitted, opening).reduce(
    (sum, [slot, effect]) => sum + effect * effectAt(calibration, slot, opening),
    logStrength(body, box, fitted, opening, law) + restAt(calibration, opening),
  )
}

/**
 * Bends the model to what was read: how this carburettor departs from the usual one, a smooth rest over the openings, and how far
 * the effect of each slot's parts departs from what the model makes of it, by Gauss-Newton with Huber weights and priors that say
 * how far each may be. With one fitting the rest takes up most of it; another tells the effect of just the parts that were changed.
 *
 * @param doubt ln to add to what predictions may be off
 * @throws Refusal 'no-jetting' without readings
 * @example
 * const calibration = calibrateJetting(body, box, [{ fitted, readings: [{ opening: 1, lambda: 0.9, error: 0.01 }] }])
 */
export function calibrateJetting(body: Body, box: Box, measured: readonly MeasuredFitting[], doubt = 0): Calibration {
  const readings = measured.flatMap(({ fitted, readings }) => readings.map((one) => ({ ...one, fitted })))
  if (readings.length === 0)
    throw refused('no-jetting', 'There are no readings yet. Measure at several openings first.', 'readings')
  if (readings.some((one) => !(one.lambda > 0.4 && one.lambda < 2) || !(one.opening >= 0 && one.opening <= 1.1)))
    throw refused('no-jetting', 'A reading lies outside lambda 0.4 to 2 or outside the throttle.', 'readings')
  if (readings.some((one) => !(strength(passages(body, box, one.fitted, one.opening)) > 0)))
    throw refused(
      'no-jetting',
      'What is fitted lets no fuel through at one of the openings. Check jets and diameters.',
      'fitted',
    )
  const departures = DEPARTURES[body.kind]
  const terms = TERMS.filter((term) => departures[term] !== undefined)
  const openings = [...new Set(readings.map((one) => Math.round(one.opening * 100) / 100))].sort((a, b) => a - b)
  const slots = SLOTS_OF[body.kind]
  const first = { rest: terms.length, effects: terms.length + openings.length }
  const size = first.effects + slots.length * BENDS.length
  const values = new Float64Array(size)
  const reference = measured.findLast((one) => one.readings.length > 0)!.fitted
  const bent = (): Bent => ({
    law: { ...USUAL, ...Object.fromEntries(terms.map((term, k) => [term, values[k]!])) },
    openings,
    rest: [...values.subarray(first.rest, first.effects)],
    effects: new Map(
      slots.map((slot, k) => [
        slot,
        [...values.subarray(first.effects + k * BENDS.length, first.effects + (k + 1) * BENDS.length)],
      ]),
    ),
    reference,
    terms,
    body,
    box,
  })
  // The level of the rest is free: it takes up units, fuel and all that is common to the openings.
  const level =
    readings.reduce(
      (sum, one) => sum - Math.log(one.lambda) - logStrength(body, box, one.fitted, one.opening, USUAL),
      0,
    ) / readings.length
  values.fill(level, first.rest, first.effects)
  const stiff = effectPrecision(EFFECT_SPREAD[body.kind])
  let normal = banded(size, size - 1)
  for (let round = 0; round < ROUNDS; round++) {
    const now = bent()
    normal = banded(size, size - 1)
    const right = new Float64Array(size)
    const add = (row: readonly [number, number][], wanted: number, weight: number): void => {
      for (const [i, a] of row) {
        right[i]! += weight * a * wanted
        for (const [j, b] of row) if (j <= i) addAt(normal, i, j, weight * a * b)
      }
    }
    for (const { fitted, opening, lambda, error } of readings) {
      const sigma = Math.max(LEAST_ERROR, error)
      const left = -Math.log(lambda) - expectedLog(now, fitted, opening)
      const off = Math.abs(left) / sigma
      const row = [...gradientOf(now, fitted, opening).entries()].filter(([, by]) => by !== 0)
      add(row, left, (round > 0 && off > HUBER ? HUBER / off : 1) / sigma ** 2)
    }
    terms.forEach((term, k) => add([[k, 1]], -values[k]!, 1 / departures[term]! ** 2))
    const mean = now.rest.reduce((sum, one) => sum + one, 0) / now.rest.length
    now.rest.forEach((one, j) => add([[first.rest + j, 1]], mean - one, 1 / (LEVEL ** 2 * 4)))
    for (let j = 1; j < openings.length; j++) {
      const sigma = WANDER * Math.sqrt(apart(openings[j - 1]!, openings[j]!))
      add(
        [
          [first.rest + j, 1],
          [first.rest + j - 1, -1],
        ],
        now.rest[j - 1]! - now.rest[j]!,
        1 / sigma ** 2,
      )
    }
    slots.forEach((_, k) => {
      const at = first.effects + k * BENDS.length
      stiff.forEach((row, i) =>
        row.forEach((weight, j) => {
          right[at + i]! -= weight * values[at + j]!
          if (j <= i) addAt(normal, at + i, at + j, weight)
        }),
      )
    })
    const step = solveFactored(cholesky(normal), right)
    // Half a departure at a time: far from the usual the model is not straight.
    const most = terms.reduce((m, term, k) => Math.max(m, Math.abs(step[k]!) / departures[term]!), 1)
    step.forEach((by, k) => (values[k]! += k < first.rest ? by / most : by))
  }
  return { ...bent(), covariance: inverseOf(normal), factor: cholesky(normal), doubt }
}

/** ln of what the calibration adds to the model at an opening. */
export function restAt({ openings, rest }: Pick<Calibration, 'openings' | 'rest'>, opening: number): number {
  const [low, high, share] = between(openings, opening)
  return rest[low]! * (1 - share) + rest[high]! * share
}
