import { DEFAULT_CURVE } from './curve'
import { overlay, rulerOver } from './overlay'
import { knownCase, knownRuns } from '../../../trials/knownTruthLog'
import type { RunColumns } from '../../run/run'
import { workOutField } from '../../field/estimate'
import { DEFAULT_FIELD_OPTIONS } from '../../field/field'
import { warmUpIds } from './warmUpIds'

const c = knownCase(6, { stops: [30, 60], repeats: 4, misfire: null, held: [], hz: 20 })
/** The first run of each stop is made before the engine is warm: cooler, and richer by what the controller adds. */
const runs = knownRuns(c).map((run, k): RunColumns => {
  const isFirst = k % 4 === 0
  return {
    ...run,
    coolant: new Float32Array(run.time.length).fill(isFirst ? 70 : 88),
    lambda: run.lambda.map((column) => column.map((value) => (isFirst ? 0.95 * value : value))),
  }
})
const solve = (some: readonly RunColumns[]) =>
  workOutField(some, { ...DEFAULT_FIELD_OPTIONS, grid: c.grid, target: c.target, lag: 0.2, warmUps: warmUpIds([some]) })

describe('a warm-up run', () => {
  it('that is out of mean and spread is out of the field, and counted with its reason', () => {
    const { used, setAside } = solve(runs)
    const stop = runs.slice(0, 4)
    expect(overlay(stop, rulerOver(stop)!, DEFAULT_CURVE, 1).warmUps.map((one) => one.run)).toEqual([stop[0]!.id])
    expect(used.map((count) => count > 0)).toEqual([false, true, true, true, false, true, true, true])
    for (const k of [0, 4]) expect(setAside[k]!['warm-up run']).toBeGreaterThan(50)
    for (const k of [1, 2, 3, 5, 6, 7]) expect(setAside[k]!['warm-up run']).toBeUndefined()
  })
  it('changes no cell, and of two runs neither is one', () => {
    const without = runs.filter((_, k) => k % 4 !== 0)
    const [all, rest] = [solve(runs), solve(without)]
    const x = (work: typeof all): number[] => [...work.cylinders[0]!.open!.posterior.x]
    x(rest).forEach((value, k) => expect(x(all)[k]!).toBeCloseTo(value, 6))
    expect(solve(runs.slice(0, 2)).used.every((count) => count > 0)).toBe(true)
  })
})
