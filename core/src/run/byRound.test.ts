import { torqueChoice, torqueSide } from '../../trials/torqueSides'
import { compareSides } from '../curves/compare/compareSides'
import { handColumns } from '../log/handReadings'
import { handStops, roundsAt } from './byRound'
import { comparedOfRun, runFacts } from './facts'
import type { RunColumns } from './run'
import { stopsOf } from './stops'

/** Rounds of readings at four speeds and two openings; each round is off by itself. */
function readings(id: string, leaner: number, rounds: number): RunColumns {
  const lines = Array.from({ length: rounds }, (_, round) =>
    [40, 80].flatMap((load) =>
      [3000, 4500, 6000, 7500].map((rpm) => ({
        rpm: rpm + 15 * round,
        load,
        readings: [((0.9 + leaner + 0.01 * Math.sin(rpm / 900) + 0.002 * round) * 14.7).toFixed(2)],
      })),
    ),
  ).flat()
  const made = handColumns(lines, { scale: 14.7, loadAxis: 'throttle' })
  if ('faults' in made) throw new Error(JSON.stringify(made.faults))
  const { time, rpm, load, lambda, handRange } = made.columns
  return { id, time, rpm, throttle: load, lambda, handRange }
}

describe('readings by hand by opening and round', () => {
  const run = readings('by hand', 0, 2)
  it('are told apart', () => {
    expect(handStops(run).map(({ stop, rounds }) => [stop, rounds.map((one) => one.length)])).toEqual([
      [40, [4, 4]],
      [80, [4, 4]],
    ])
    const parts = roundsAt(run, 40)
    expect(parts.map((one) => [one.id, [...one.rpm]])).toEqual([
      ['by hand#1', [3000, 4500, 6000, 7500]],
      ['by hand#2', [3015, 4515, 6015, 7515]],
    ])
    expect(roundsAt(run, null)).toEqual([])
    expect(handStops({ rpm: Float32Array.of(3000, 3000), throttle: Float32Array.of(40, 40) })).toEqual([])
  })
  it('make stops to compare, and none to plan or to lay over each other', () => {
    const facts = runFacts(
      { time: run.time, rpm: run.rpm, throttle: run.throttle!, lambda1: run.lambda[0]! },
      'hand readings',
    )
    const info = [{ kind: 'hand readings' as const, facts }]
    expect(stopsOf(info)).toEqual([])
    expect(stopsOf(info, comparedOfRun).map(({ stop, sweeps }) => [stop, sweeps])).toEqual([
      [80, 2],
      [40, 2],
    ])
  })
  it('are compared as repeats are: a difference is found where there is one, straight between the speeds', () => {
    const choice = { ...torqueChoice(40), quantity: 'lambda' as const }
    const of = (leaner: number) =>
      compareSides([torqueSide('before', [run])], torqueSide('after', [readings('after', leaner, 3)]), choice)
    const { comparison, first, second } = of(0.04)
    expect([first.runs, second.runs]).toEqual([2, 3])
    const told = comparison!.difference.flatMap((one) => (one === null ? [] : [one]))
    expect(told.length).toBeGreaterThan(30)
    for (const one of told) expect(one).toBeCloseTo(0.041, 2)
    expect(comparison!.real.filter(Boolean).length).toBeGreaterThan(25)
    expect(of(0).comparison!.real.some(Boolean)).toBe(false)
    expect(() => compareSides([torqueSide('before', [run])], torqueSide('after', [run]), torqueChoice(40))).toThrow(
      /tell no torque/,
    )
  })
})
