import { compareSides } from '../src/curves/compare/compareSides'
import { DEFAULT_CURVE } from '../src/curves/lay/curve'
import { overlay, rulerOver } from '../src/curves/lay/overlay'
import { estimateField } from '../src/field/estimate'
import { DEFAULT_FIELD_OPTIONS, type Field } from '../src/field/field'
import { DEFAULT_PLAN } from '../src/plan/choice'
import { doneRuns } from '../src/plan/doneRuns'
import { makePlan } from '../src/plan/makePlan'
import { tickPlan } from '../src/plan/tickPlan'
import type { RunInfo } from '../src/run/runInfo'
import { runFacts } from '../src/run/facts'
import { stopsOf } from '../src/run/stops'
import type { RunColumns } from '../src/run/run'
import { guessKind } from '../src/run/runKind'
import { joined } from './joined'
import { knownCase, knownRuns, type KnownCase } from './knownTruthLog'
import { seeds } from './seeds'
import { SHED, shedRides, type Shed } from './shedRides'
import { torqueChoice, torqueSide } from './torqueSides'

/** A log for each stop, and one for all, beside a file for each sweep. */
const byStop = (runs: readonly RunColumns[], repeats: number): RunColumns[] =>
  Array.from({ length: runs.length / repeats }, (_, k) =>
    joined(runs.slice(k * repeats, (k + 1) * repeats), `log ${k}`),
  )
const GRID = {
  loadAxis: 'throttle' as const,
  rpm: [900, 1700, 2500, 3400, 4300, 5300, 6400, 7500, 8800],
  load: [1, 4, 9, 17, 31, 55, 78, 100],
}
const fieldOfShed = (runs: readonly RunColumns[]): Field =>
  estimateField(runs, {
    ...DEFAULT_FIELD_OPTIONS,
    grid: GRID,
    target: GRID.load.map((load) => GRID.rpm.map(() => SHED.wanted(load))),
  })
const fieldOfKnown = (c: KnownCase, runs: readonly RunColumns[]): Field =>
  estimateField(runs, { ...DEFAULT_FIELD_OPTIONS, grid: c.grid, target: c.target, engineCylinders: 4 })

/** How far two fields lie apart at the most, % of fuel, where either knows; Infinity where one alone is solid. */
function apart(one: Field, other: Field): number {
  return Math.max(
    ...one.cylinders.flatMap((cylinder, c) =>
      cylinder.changePct.flatMap((row, r) =>
        row.map((value, k) => {
          const there = other.cylinders[c]!
          const [a, b] = [value, there.changePct[r]![k]!]
          if (a !== null && b !== null) return Math.abs(a - b)
          const isSolid = cylinder.evidence[r]![k] === 'solid' || there.evidence[r]![k] === 'solid'
          return a === b || !isSolid ? 0 : Infinity
        }),
      ),
    ),
  )
}
/** Rows about a cut may change sides, and a lag is estimated from slightly other rows. */
const SAME_PCT = 0.3

describe('three sweeps in one log are three files', () => {
  const need = (rpm: number, opening: number): number => 0.05 * Math.sin(rpm / 1100) + 0.001 * opening
  it.each(seeds(8, 2))('in the field, its lag, its odd run and its held zones, seed %i', (seed) => {
    const rides = shedRides({ ...SHED, seed, need, hz: 17 + 9 * seed }, [17, 31, 55, 100], 3)
    const [files, logs] = [fieldOfShed(rides), fieldOfShed(byStop(rides, 3))]
    expect(apart(files, logs)).toBeLessThan(SAME_PCT)
    expect(apart(files, fieldOfShed([joined(rides)]))).toBeLessThan(SAME_PCT)
    expect(logs.lag.lag).toBeCloseTo(files.lag.lag, 2)
    const c = knownCase(seed)
    const runs = knownRuns(c)
    const [known, inLogs] = [fieldOfKnown(c, runs), fieldOfKnown(c, byStop(runs, 3))]
    expect(apart(known, inLogs)).toBeLessThan(SAME_PCT)
    expect(inLogs.runs.map((one) => one.id)).toEqual(c.stops.map((_, k) => `log ${k}`))
    const odd = (field: Field) => field.runs.flatMap((one) => one.odd ?? [])
    expect(odd(inLogs)).toEqual(
      odd(known).map((one) => ({ ...one, departurePct: expect.closeTo(one.departurePct, 0) })),
    )
    expect(odd(inLogs).length).toBe(1)
    expect(inLogs.heldZones.map(({ row }) => row)).toEqual(known.heldZones.map(({ row }) => row))
  })
  it.each(seeds(8, 2))('in a misfire that all sweeps show, seed %i', (seed) => {
    const c = knownCase(seed, {
      misfire: null,
      silent: { stop: 60, from: 5600, to: 7400, share: 0.25, lean: 0.07 },
    })
    const runs = knownRuns(c)
    const told = fieldOfKnown(c, byStop(runs, 3)).misfires
    expect(told).toHaveLength(1)
    expect(told[0]).toMatchObject({ stop: 60, silent: 1, of: 4 })
    expect(told).toEqual(
      fieldOfKnown(c, runs).misfires.map(({ stop, fromRpm, toRpm }) =>
        expect.objectContaining({ stop, fromRpm, toRpm }),
      ),
    )
  })
  it.each(seeds(6, 2))('in repeats and comparison, seed %i', (seed) => {
    const machine: Shed = {
      ...SHED,
      seed,
      torque: (rpm, opening) => (26 + 6 * Math.sin((rpm - 2000) / 2600)) * (1 - Math.exp(-opening / 11)),
    }
    const better: Shed = { ...machine, torque: (rpm, opening) => machine.torque!(rpm, opening) + rpm / 9000 }
    const [before, after] = [shedRides(machine, [55, 100], 3), shedRides(better, [55, 100], 3, 50)]
    const at100 = (runs: readonly RunColumns[]): RunColumns[] => runs.slice(3)
    const of = (first: RunColumns[], second: RunColumns[]) =>
      compareSides([torqueSide('before', first)], torqueSide('after', second), torqueChoice(100))
    const files = of(at100(before), at100(after))
    const logs = of([joined(at100(before))], [joined(at100(after))])
    expect(logs.second.runs).toBe(3)
    expect(files.gains.length).toBeGreaterThan(0)
    files.comparison!.difference.forEach((one, k) => {
      const other = logs.comparison!.difference[k]
      if (one != null && other != null) expect(Math.abs(one - other)).toBeLessThan(0.05)
    })
    // A log of both stops serves as well as one of each.
    expect(of([joined(before)], [joined(after)]).second.runs).toBe(3)
    const runs = [joined(before)]
    const laid = overlay(runs, rulerOver(runs)!, DEFAULT_CURVE, 1, 55)
    expect(laid.curves).toHaveLength(3)
  })
  it.each(seeds(6, 2))('in the plan, seed %i', (seed) => {
    const plan = makePlan({ ...DEFAULT_PLAN, fromRpm: 3200, toRpm: 8300 })
    const stops = [...new Set(plan.steps.map((step) => step.stop))].filter((stop) => stop > 10).slice(0, 3)
    const rides = shedRides({ ...SHED, seed }, stops, 3)
    const infoOf = (columns: RunColumns, k: number): RunInfo => {
      const kind = guessKind(columns.time, columns.rpm, columns.throttle)
      const { time, rpm, throttle, lambda } = columns
      return {
        id: `run ${k}`,
        set: 'set',
        kind,
        samples: time.length,
        duration: time.at(-1),
        leftOut: null,
        facts: runFacts({ time, rpm, throttle: throttle!, lambda1: lambda[0]! }, kind),
      } as unknown as RunInfo
    }
    const leftOf = (runs: readonly RunInfo[]): number[] =>
      tickPlan(plan.steps, doneRuns(runs, [{ id: 'set', gear: null }], 'set')).map((tick) => tick.left)
    const files = rides.map(infoOf)
    const left = leftOf(files)
    const asked = plan.steps.reduce((sum, step) => sum + step.repeats, 0)
    expect(left.reduce((sum, one) => sum + one, 0)).toBeLessThanOrEqual(asked - 6)
    expect(leftOf(byStop(rides, 3).map(infoOf))).toEqual(left)
    expect(leftOf([infoOf(joined(rides), 0)])).toEqual(left)
    const all = stopsOf([infoOf(joined(rides), 0)])
    expect(all.map(({ stop, sweeps }) => [stop, sweeps])).toEqual(
      stopsOf(files).map(({ stop, sweeps }) => [stop, sweeps]),
    )
  })
})
