import { otherCarburettor } from '../../../trials/otherCarburettors'
import { seeds } from '../../../trials/seeds'
import {
  READ_AT,
  readCarburettor,
  SHED_BODY,
  SHED_BOX,
  trueLambda,
  unknownCase,
} from '../../simulator/knownCarburettor'
import { DEFAULT_BODY, EMPTY_BOX, type Body, type CarburettorKind, type Fitted } from '../carburettor'
import { readingAdvice } from './advice'
import { proposeParts, type FittingRead } from './propose'
import { CIRCUIT_TARGETS, targetAt, usualTargets, type CircuitTarget } from '../model/targets'

/** Furthest that a proposal leans an opening past target, or past where it was leaner already, ln. */
function leaned(
  lambda: (fitted: Fitted, opening: number) => number,
  before: Fitted,
  after: Fitted,
  targets: readonly CircuitTarget[],
): number {
  const openings = Array.from({ length: 49 }, (_, k) => 0.04 + 0.02 * k)
  return Math.max(
    ...openings.map((opening) => {
      const off = (fitted: Fitted): number => Math.log(lambda(fitted, opening) / targetAt(targets, opening).lambda)
      return off(after) - Math.max(0, off(before))
    }),
  )
}

describe('no proposal makes an opening lean by more than 4 % that was not', () => {
  it.each(seeds(20, 5))('of a slide carburettor of the simulator, %i', (seed) => {
    const { carb, fitted, random } = unknownCase(seed)
    const measured = [{ fitted, readings: readCarburettor(carb, fitted, random) }]
    const { list } = proposeParts(SHED_BODY, SHED_BOX, measured, fitted, CIRCUIT_TARGETS)
    for (const one of list?.byChanges.flat() ?? [])
      expect(leaned((f, o) => trueLambda(carb, f, o), fitted, one.fitted, CIRCUIT_TARGETS)).toBeLessThan(0.04)
  })
  it.each(
    (['slide', 'constant-vacuum', 'metering rods', 'two screws'] as const).flatMap((kind) =>
      seeds(20, 4).map((seed): [CarburettorKind, number] => [kind, seed]),
    ),
  )('of a %s carburettor that is otherwise, %i', (kind, seed) => {
    const carb = otherCarburettor(kind, seed)
    const targets = usualTargets(kind)
    const readings = carb.read(kind === 'metering rods' ? [0.3, 0.4, 0.5, 0.6, 0.7, 0.8, 0.9, 1] : READ_AT)
    const answer = proposeParts(carb.body, carb.box, [{ fitted: carb.fitted, readings }], carb.fitted, targets)
    for (const one of answer.list?.byChanges.flat() ?? [])
      expect(leaned(carb.lambda, carb.fitted, one.fitted, targets)).toBeLessThan(0.04)
  })
})

describe('a model that does not meet its own readings', () => {
  const SCREWS: Body = { ...DEFAULT_BODY, kind: 'two screws' }
  const fitted: Fitted = { high: 1.25, low: 1.25 }
  /** 4 % rich everywhere but for readings that no smooth law meets. */
  const WILD: Record<number, number> = { 0.1: 1.2, 0.2: 0.8, 0.4: 1.16, 0.6: 0.82 }
  const readings = [0.05, 0.1, 0.2, 0.4, 0.6, 0.8, 1].map((opening) => ({
    opening,
    lambda: targetAt(CIRCUIT_TARGETS, opening).lambda * (WILD[opening] ?? 0.96),
    error: 0.006,
  }))
  it('proposes nothing, and says what the readings tell', () => {
    const answer = proposeParts(SCREWS, EMPTY_BOX, [{ fitted, readings }], fitted, CIRCUIT_TARGETS)
    expect(answer.list).toBeNull()
    expect(answer.inadequate).toMatch(/does not meet its own readings: they read .* at \d+ %/)
    expect(answer.advice.join(' ')).toMatch(
      /Full throttle reads 4 % rich at \d+ %: the high screw about an eighth of a turn in/,
    )
  })
  it('in one place leaves what bears there alone, and says so', () => {
    const { carb, fitted: parts, random } = unknownCase(2)
    const read = readCarburettor(carb, parts, random).map((one) =>
      one.opening === 0.05 ? { ...one, lambda: one.lambda * 1.3, error: 0.006 } : one,
    )
    const answer = proposeParts(SHED_BODY, SHED_BOX, [{ fitted: parts, readings: read }], parts, CIRCUIT_TARGETS)
    expect(answer.inadequate).toMatch(/at 5 %.* against it\. What bears there is left alone\.$/)
    for (const one of answer.list!.byChanges.flat())
      expect(Math.abs(Math.log(trueLambda(carb, one.fitted, 0.05) / trueLambda(carb, parts, 0.05)))).toBeLessThan(0.05)
  })
  it('is none where it meets them: the simulator and most carburettors that are otherwise', () => {
    const kinds = ['slide', 'constant-vacuum', 'metering rods', 'two screws'] as const
    const asked = kinds.flatMap((kind) =>
      [3, 5, 8].map((seed) => {
        const carb = otherCarburettor(kind, seed)
        const at = kind === 'metering rods' ? [0.3, 0.4, 0.5, 0.6, 0.7, 0.8, 0.9, 1] : READ_AT
        const one = [{ fitted: carb.fitted, readings: carb.read(at) }]
        return proposeParts(carb.body, carb.box, one, carb.fitted, usualTargets(kind)).list !== null
      }),
    )
    expect(asked.filter(Boolean).length).toBeGreaterThanOrEqual(asked.length / 3)
    const simulated = seeds(20, 20).map((seed) => {
      const { carb, fitted: parts, random } = unknownCase(seed)
      const one = [{ fitted: parts, readings: readCarburettor(carb, parts, random) }]
      return proposeParts(SHED_BODY, SHED_BOX, one, parts, CIRCUIT_TARGETS).list !== null
    })
    expect(simulated.filter(Boolean).length).toBeGreaterThanOrEqual(16)
  })
})

describe('what the readings themselves tell', () => {
  const rows = (at: Record<number, number>) =>
    Object.entries(at).map(([opening, pct]) => ({
      opening: Number(opening),
      lambda: targetAt(CIRCUIT_TARGETS, Number(opening)).lambda * (1 + pct / 100),
      error: 0.008,
    }))
  it.each<[string, Partial<Body>, Record<number, number>, RegExp]>([
    [
      'a lean low circuit',
      { kind: 'two screws' },
      { 0.1: 9, 1: 0 },
      /Pilot range reads 9 % lean at 10 %: the low screw about a quarter turn out \(richer\), then read again/,
    ],
    [
      'a rich one by an air screw',
      { screwIs: 'air' },
      { 0.1: -9 },
      /the idle screw about an eighth of a turn out \(leaner\)/,
    ],
    ['by a fuel screw', { screwIs: 'fuel' }, { 0.1: -3 }, /the idle screw about an eighth of a turn in \(leaner\)/],
    ['a lean needle range', {}, { 0.5: 6 }, /the clip one groove down, so that the needle stands higher \(richer\)/],
    ['a main by diameter', { scheme: 'diameter' }, { 1: 8 }, /the main jet 2 to 4 % of its number up/],
    ['a main by flow', { scheme: 'flow' }, { 1: 8 }, /the main jet 4 to 8 % of its number up/],
    ['a range against itself', {}, { 0.3: 8, 0.6: -7 }, /no one step serves both/],
  ])('%s', (_what, over, at, said) => {
    expect(readingAdvice(rows(at), CIRCUIT_TARGETS, { ...DEFAULT_BODY, ...over }).join(' ')).toMatch(said)
  })
  it('that scatter too much say to read again, never that it is good enough', () => {
    const vague = rows({ 0.1: 2, 0.5: -3, 1: 1 }).map((one) => ({ ...one, error: 0.08 }))
    expect(readingAdvice(vague, CIRCUIT_TARGETS, DEFAULT_BODY)).toEqual([
      'The readings scatter by ±13 % at an opening: read them again before anything is changed.',
    ])
    expect(readingAdvice(rows({ 0.1: 0, 0.5: 1, 1: 0 }), CIRCUIT_TARGETS, DEFAULT_BODY)[0]).toMatch(/^Good enough/)
  })
  it('puts full throttle first', () => {
    const [first] = readingAdvice(rows({ 0.1: 12, 1: 4 }), CIRCUIT_TARGETS, DEFAULT_BODY)
    expect(first).toMatch(/^Full throttle/)
  })
})

describe('readings of different air', () => {
  const { carb, fitted, random } = unknownCase(4)
  const warm = { temperatureC: 31, pressureKpa: 96, humidityPct: 0 }
  const cold = { temperatureC: 2, pressureKpa: 102, humidityPct: 0 }
  const readIn = (weather: typeof warm | null, parts = fitted): FittingRead => ({
    fitted: parts,
    weather,
    readings: readCarburettor(carb, parts, random).map((one) =>
      weather === warm ? { ...one, lambda: one.lambda * Math.sqrt(DENSITY) } : one,
    ),
  })
  // Density of dry air goes as p over T.
  const DENSITY = 96 / (31 + 273.15) / (102 / (2 + 273.15))
  it('are brought to that of the present fitting, and it is said for which it holds', () => {
    const other = { ...fitted, main: fitted.main! + 5 }
    const answer = proposeParts(SHED_BODY, SHED_BOX, [readIn(warm, other), readIn(cold)], fitted, CIRCUIT_TARGETS)
    expect(answer.air).toMatch(/^Holds for 2 °C and 102\.0 kPa\.$/)
    // Taken as they are, the two would lie 5 % apart and the model meet neither.
    expect(answer.inadequate).toBe('')
    expect(proposeParts(SHED_BODY, SHED_BOX, [readIn(null)], fitted, CIRCUIT_TARGETS).air).toMatch(
      /^The air was not noted/,
    )
  })
})
