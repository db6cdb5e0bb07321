/**
 * A field from logs as old loggers and worn looms make them: ignition noise on the speed signal, a throttle sensor that lets
 * go, a sensor that drops out to 0 and a gauge that shows 9.99 when it is lost (common practice). The field is that of the clean logs.
 */
import type { RunInfo } from '../src/run/runInfo'
import { estimateField } from '../src/field/estimate'
import { DEFAULT_FIELD_OPTIONS, type Field } from '../src/field/field'
import type { RunColumns } from '../src/run/run'
import { assembleRun } from '../src/run/runColumns'
import { knownCase, knownRoad, knownRuns, random } from './knownTruthLog'
import { seeds } from './seeds'

/** One of a hundred rows of each kind. */
const RARE = 0.01

function soiled(run: RunColumns, seed: number): RunColumns {
  const next = random(seed)
  const some = (values: Float32Array, to: (value: number) => number): Float32Array =>
    values.map((value) => (next() < RARE ? to(value) : value))
  const dropped = some(run.lambda[0]!, () => (next() < 0.5 ? 0 : 9.99))
  return {
    ...run,
    rpm: some(run.rpm, (rpm) => (next() < 0.5 ? 0 : rpm * (1.5 + next()))),
    throttle: some(run.throttle!, () => 0),
    lambda: [dropped],
  } as RunColumns
}
/** As the store hands it to whatever is worked out. */
const stored = (run: RunColumns): RunColumns =>
  assembleRun({ id: run.id, leftOut: null } as RunInfo, (channel) =>
    channel === 'lambda1' ? run.lambda[0]! : ((run as unknown as Record<string, Float32Array>)[channel] ?? null),
  )

describe.each(seeds(3, 1))('seed %i', (seed) => {
  const c = knownCase(53 * seed, { misfire: null })
  const fieldOf = (runs: RunColumns[]): Field =>
    estimateField(runs, { ...DEFAULT_FIELD_OPTIONS, grid: c.grid, target: c.target })
  it.each([
    ['sweeps', knownRuns(c)],
    ['the road', [knownRoad({ ...c, hz: 50 }, 8)]],
  ])('%s: the field is that of the clean logs', (_what, runs) => {
    const clean = fieldOf(runs.map(stored))
    const dirty = fieldOf(runs.map((run, k) => stored(soiled(run, 100 * seed + k))))
    const [before, after] = [clean, dirty].map(({ cylinders }) => cylinders[0]!)
    const apart = before!.changePct.flatMap((cells, row) =>
      cells.flatMap((one, k) => {
        const other = after!.changePct[row]![k]
        return one === null || other == null ? [] : [one - other]
      }),
    )
    expect(apart.length).toBeGreaterThan(60)
    // A step or two of the lag (5 ms) is between them.
    expect(Math.sqrt(apart.reduce((sum, one) => sum + one * one, 0) / apart.length)).toBeLessThan(0.25)
    expect(Math.max(...apart.map(Math.abs))).toBeLessThan(1)
    expect(Math.abs(dirty.lag.lag - clean.lag.lag)).toBeLessThan(0.03)
  })
  it.each([
    ['was never connected', () => 0],
    ['stands in free air', () => 1.5],
    ['comes to life at the end of each run', (value: number, share: number) => (share > 0.9 ? value : NaN)],
  ])('a second sensor that %s takes nothing from the first', (_what, second) => {
    const runs = knownRuns(c)
    const withSecond = runs.map((run) =>
      assembleRun({ id: run.id, leftOut: null } as RunInfo, (channel) => {
        const [first] = run.lambda
        if (channel === 'lambda2') return first!.map((value, i) => second(value, i / first!.length))
        return channel === 'lambda1' ? first! : ((run as unknown as Record<string, Float32Array>)[channel] ?? null)
      }),
    )
    const [alone, beside] = [fieldOf(runs.map(stored)), fieldOf(withSecond)].map(({ cylinders }) => cylinders)
    expect(beside).toHaveLength(2)
    const known = (one: (typeof alone & object)[number]): number =>
      one.evidence.flat().filter((e) => e !== 'none').length
    expect(known(beside![0]!)).toBeGreaterThan(0.95 * known(alone![0]!))
    expect(known(alone![0]!)).toBeGreaterThan(80)
  })
  it('a reading of 0 stops no field, wherever runs come from', () => {
    const runs = knownRuns({ ...c, stops: [20, 60] }).map((run) => ({
      ...run,
      lambda: [run.lambda[0]!.map((value, i) => (i % 50 === 0 ? 0 : value))],
    }))
    const { changePct } = fieldOf(runs).cylinders[0]!
    expect(changePct.flat().filter((one) => one !== null && Number.isFinite(one)).length).toBeGreaterThan(20)
  })
})
