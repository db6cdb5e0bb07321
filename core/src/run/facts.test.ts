import { humpTorque, knownPull, recordPull } from '../../trials/knownPull'
import type { RunColumns } from './run'
import { DEFAULT_CURVE, runCurve } from '../curves/lay/curve'
import { runFacts } from './facts'
import { DEFAULT_DRUM, measuredTorque } from '../curves/torque/measuredTorque'
import { torqueNm } from '../curves/torque/powerUnits'
import { stopsOf, stopName } from './stops'

const even = (n: number, of: (k: number) => number): Float32Array => Float32Array.from({ length: n }, (_, k) => of(k))

describe('facts of a run', () => {
  it('stop, span, gear, ratio, weather and coolant are told by its columns', () => {
    const { time, rpm, throttle, coolant } = recordPull(knownPull({ from: 2500, to: 9000 }))
    const facts = runFacts(
      {
        time,
        rpm,
        throttle: throttle!.map((value) => (value > 50 ? 60 : 1)),
        coolant: coolant!,
        gear: rpm.map(() => 4),
        drum: rpm.map((value) => value / 2.5),
        ambient: rpm.map(() => 19.5),
        barometer: rpm.map(() => 100.8),
      },
      'sweep',
    )
    expect(facts).toMatchObject({ stop: 60, gear: 4, ratio: 2.5, coolantFrom: 86 })
    expect(Math.abs(facts.fromRpm - 2560)).toBeLessThan(120)
    expect(Math.abs(facts.toRpm - 8940)).toBeLessThan(120)
    expect(facts.weather).toEqual({ temperatureC: 19.5, pressureKpa: 100.8, humidityPct: 50 })
  })
  it('hand readings and runs without a throttle have no stop; without temperature and pressure there is no weather', () => {
    const columns = { time: even(5, (k) => k), rpm: even(5, () => 4000) }
    expect(runFacts(columns, 'sweep')).toMatchObject({ stop: null, gear: null, weather: null })
    expect(runFacts({ ...columns, throttle: even(5, () => 30) }, 'hand readings').stop).toBeNull()
  })
})

describe('throttle stops of some runs', () => {
  const run = (stop: number | null, kind = 'sweep') => ({ kind, facts: stop === null ? null : { stop } }) as never
  it('are grouped by nearness, widest open first, runs in their order, blind runs last', () => {
    const runs = [run(20.3), run(99.6), run(19.8), run(40), run(100), run(null), run(60, 'hold')] as Parameters<
      typeof stopsOf
    >[0]
    const stops = stopsOf(runs)
    expect(stops.map((one) => [one.stop, one.runs.length])).toEqual([
      [100, 2],
      [40, 1],
      [20, 2],
      [null, 1],
    ])
    expect(stops[2]!.runs).toEqual([runs[0], runs[2]])
    expect([100, 40, null].map(stopName)).toEqual(['wide open', '40 %', 'throttle not logged'])
  })
})

describe('torque of a run', () => {
  const run = recordPull(knownPull({ between: 0, noise: 0 }))
  const { torque: known, ...blind } = run
  it('comes from a power column over engine speed', () => {
    const kw = known!.map((nm, i) => (nm * run.rpm[i]!) / 9549.3)
    expect(measuredTorque({ ...blind, power: kw })!.torque[200]).toBeCloseTo(known![200]!, 2)
  })
  it('comes from a drum: known inertia, speed and acceleration give the known torque within 1.5 %', () => {
    const inertia = 8
    const ratio = 2.2
    // The engine drives the drum: J w dw/dt = torque x engine speed, integrated from 2,500 rpm.
    const hz = 50
    const rows: [number, number][] = []
    let w = (2500 / ratio) * (Math.PI / 30)
    for (let i = 0; rows.at(-1) === undefined || rows.at(-1)![1] < 9300; i++) {
      const rpm = (w * ratio * 30) / Math.PI
      rows.push([i / hz, rpm])
      const steps = 20
      for (let k = 0; k < steps; k++) {
        const engine = w * ratio
        w += (humpTorque((engine * 30) / Math.PI) * engine) / (inertia * w) / (hz * steps)
      }
    }
    const pull: RunColumns = {
      id: 'drum',
      time: Float32Array.from(rows, (row) => row[0]),
      rpm: Float32Array.from(rows, (row) => row[1]),
      drum: Float32Array.from(rows, (row) => row[1] / ratio),
      lambda: [],
    }
    const ruler = { first: 3500, step: 500, count: 11 }
    const { torque, torqueFrom } = runCurve(pull, ruler, { ...DEFAULT_CURVE, drum: { inertia, window: 0.4 } })
    expect(torqueFrom).toMatch(/drum of 8 kg·m², its speed fitted over 0.4 s/)
    torque!.forEach((value, bin) => expect(Math.abs(value / humpTorque(3500 + 500 * bin) - 1)).toBeLessThan(0.015))
  })
  it('says what is missing: inertia of zero or none, a source that is not there, a run too short', () => {
    const drum = { ...blind, drum: run.rpm }
    expect(() => measuredTorque(drum, { inertia: 0, window: 0.4 })).toThrow(
      expect.objectContaining({ code: 'no-torque' }),
    )
    expect(() => measuredTorque(drum, { inertia: 0, window: 0.4 }, 'drum')).toThrow(/inertia in kg·m², above zero/)
    expect(measuredTorque(drum, DEFAULT_DRUM)).toBeNull()
    expect(() => measuredTorque(run, DEFAULT_DRUM, 'power')).toThrow(expect.objectContaining({ code: 'no-torque' }))
    const short = { ...drum, time: run.time.subarray(0, 4), rpm: run.rpm.subarray(0, 4), drum: run.rpm.subarray(0, 4) }
    expect(() => measuredTorque(short, { inertia: 5, window: 0.4 })).toThrow(/too short/)
  })
  it('there is none where the engine stands', () => {
    expect(torqueNm(10, 0)).toBeNaN()
  })
})

it('tells riding modes where a run has them', () => {
  const n = 200
  const column = (of: (i: number) => number): Float32Array => Float32Array.from({ length: n }, (_, i) => of(i))
  const columns = { time: column((i) => i / 50), rpm: column(() => 4000), throttle: column(() => 30) }
  const both = { ...columns, mode: column((i) => (i < 100 ? 2 : 1)) }
  expect(runFacts(both, 'road')).toMatchObject({ modes: [1, 2] })
  expect(runFacts(columns, 'road')).not.toHaveProperty('modes')
})
