import { knownCase, knownRuns } from '../../trials/knownTruthLog'
import { seeds } from '../../trials/seeds'
import { SHED, shedRides } from '../../trials/shedRides'
import { YARD, yardRides, type Yard } from '../../trials/yardRides'
import type { RunColumns } from '../run/run'
import { readChannelAs } from '../run/readAs'
import type { DoubtKind, Ground } from './doubt'
import { lookOver } from './lookOver'

const GROUND: Ground = {
  displacementCc: 640,
  cylinders: 2,
  strokes: 4,
  revCeiling: null,
  grid: {
    loadAxis: 'throttle',
    rpm: [1000, 2000, 3000, 4000, 5000, 6000, 7000, 8000, 9000, 10_000],
    load: [0, 5, 10, 20, 40, 60, 80, 100],
  },
  coolantLeast: 60,
  noise: 0.012,
  names: {},
}

/** Habits of twenty workshops. */
const habit = (seed: number): Partial<Yard> => ({
  seed,
  hz: 10 + 3 * (seed % 20),
  inRounds: seed % 2 === 0,
  withIdle: seed % 3 !== 0,
  cylinders: seed % 4 ? 2 : 1,
  repeats: 2 + (seed % 3),
  between: 0.002 + 0.0006 * (seed % 8),
  stops: [[18, 35, 45, 60, 80], [10, 22, 40, 65, 100], [7, 15, 30], YARD.stops, YARD.stops][seed % 5]!,
})

type Fault = (run: RunColumns, k: number, all: number) => RunColumns
const over = (run: RunColumns, channels: Partial<Record<string, (value: number) => number>>): RunColumns => ({
  ...run,
  ...Object.fromEntries(
    Object.entries(channels).map(([channel, change]) => [
      channel,
      (run as unknown as Record<string, Float32Array>)[channel]!.map((one) => change!(one)),
    ]),
  ),
})
const scaled = (run: RunColumns, factor: number): RunColumns => ({
  ...run,
  lambda: run.lambda.map((column) => column.map((one) => one * factor)),
})
const pull = (run: RunColumns, factor: number): RunColumns =>
  over(run, { torque: (nm) => nm * factor, power: (kw) => kw * factor })

const FAULTS: [what: string, kind: DoubtKind, fault: Fault, yard?: Partial<Yard>][] = [
  ['speed counted twice', 'speed', (run) => over(run, { rpm: (one) => 2 * one })],
  ['speed counted half', 'speed', (run) => over(run, { rpm: (one) => one / 2 })],
  [
    'speed counted twice in some files',
    'speed',
    (run, k) => (k % 4 === 1 ? over(run, { rpm: (one) => 2 * one }) : run),
  ],
  ['a throttle of 8 to 92', 'throttle', (run) => over(run, { throttle: (one) => 8 + 0.84 * one }), { withIdle: true }],
  [
    'a throttle that ends at 70',
    'throttle',
    (run) => over(run, { throttle: (one) => 0.7 * one }),
    { stops: [5, 10, 20, 40, 60, 100] },
  ],
  [
    'probes exchanged in some files',
    'probes exchanged',
    (run, k) => (k % 3 === 1 ? { ...run, lambda: [...run.lambda].reverse() } : run),
  ],
  ['a channel that is a copy', 'probe copied', (run) => ({ ...run, lambda: [run.lambda[0]!, run.lambda[0]!.slice()] })],
  [
    'a probe that ages by 3 %',
    'probe drifts',
    (run, k, all) => scaled(run, 1 + (0.03 * k) / (all - 1)),
    { inRounds: true },
  ],
  [
    'a probe that steps by 3 %',
    'probe drifts',
    (run, k, all) => scaled(run, k > 0.5 * all ? 1.03 : 1),
    { inRounds: true },
  ],
  ['torque of the wheel', 'torque', (run) => pull(run, 2.2)],
  ['one file in another unit of torque', 'torque', (run, k) => (k === 4 ? pull(run, 1.3558) : run)],
  ['a coolant that is stuck', 'coolant', (run) => over(run, { coolant: () => 21 })],
  ['a clock at double speed in one file', 'clock', (run, k) => (k === 3 ? over(run, { time: (one) => one / 2 }) : run)],
  ['the gauge of one file on another scale', 'mixture', (run, k) => (k === 5 ? scaled(run, 14.7 / 14.08) : run)],
  ['all on a scale that cannot be', 'mixture', (run) => scaled(run, 14.7 / 9)],
]

const SETS = seeds(20, 4)

describe('what came in is looked over', () => {
  it('and sound readings of three generators are not doubted', () => {
    const said = SETS.flatMap((seed) => [
      ...lookOver(yardRides({ ...YARD, ...habit(seed) }), GROUND),
      ...lookOver(
        shedRides({ ...SHED, seed, torque: (_, opening) => 30 * (1 - Math.exp(-opening / 11)) }, [9, 31, 100]),
        {
          ...GROUND,
          displacementCc: 390,
          cylinders: 1,
        },
      ),
      ...lookOver(knownRuns(knownCase(seed)), GROUND),
    ])
    expect(said.map((one) => one.text)).toEqual([])
  })
  it.each(FAULTS)('%s is named', (_what, kind, fault, yard = {}) => {
    const told = SETS.map((seed) => {
      const runs = yardRides({
        ...YARD,
        seed,
        hz: 10 + 5 * (seed % 7),
        inRounds: seed % 2 === 0,
        withIdle: seed % 3 !== 0,
        ...yard,
      })
      return lookOver(
        runs.map((run, k) => fault(run, k, runs.length)),
        GROUND,
      )
    })
    const named = told.filter((doubts) => doubts.some((one) => one.kind === kind))
    expect(named.length).toBeGreaterThanOrEqual(0.9 * SETS.length)
    // Each fault is told by its own name, and by few others.
    expect(told.flat().filter((one) => one.kind !== kind).length).toBeLessThanOrEqual(0.1 * SETS.length)
    for (const { text } of named.flat()) expect(text).not.toMatch(/NaN|undefined|Infinity/)
  })
  it('names the files in doubt, and offers how to read them', () => {
    const runs = yardRides({ ...YARD, seed: 5 })
    const [speed] = lookOver(
      runs.map((run, k) => (k === 2 || k === 7 ? over(run, { rpm: (one) => 2 * one }) : run)),
      GROUND,
    )
    expect(speed).toMatchObject({ kind: 'speed', runs: [runs[2]!.id, runs[7]!.id], offer: { readAs: { speed: 0.5 } } })
    const [throttle] = lookOver(
      runs.map((run) => over(run, { throttle: (one) => 8 + 0.84 * one })),
      GROUND,
    )
    const { shut } = throttle!.offer!.readAs.throttle!
    expect(shut).toBeCloseTo(8.3, 0)
    const [clock] = lookOver(
      runs.map((run, k) => (k === 3 ? over(run, { time: (one) => one / 2 }) : run)),
      GROUND,
    )
    expect(clock).toMatchObject({ runs: [runs[3]!.id], offer: { readAs: { time: 2 } } })
  })
  it('read as offered, nothing is in doubt any more', () => {
    const runs = yardRides({ ...YARD, seed: 9 })
    const wrong = runs.map((run, k) => (k % 4 === 1 ? over(run, { rpm: (one) => 2 * one }) : run))
    const [doubt] = lookOver(wrong, GROUND)
    const mended = wrong.map((run) =>
      doubt!.runs.includes(run.id) ? { ...run, rpm: readChannelAs(doubt!.offer!.readAs, 'rpm', () => run.rpm)! } : run,
    )
    expect(lookOver(mended, GROUND)).toEqual([])
  })
  it('a size that cannot be is said', () => {
    const [said, ...more] = lookOver([], { ...GROUND, displacementCc: 640, cylinders: 80 })
    expect(said).toMatchObject({ kind: 'machine', text: expect.stringContaining('8.0 cc each') as string })
    expect(more).toEqual([])
  })
  it('noise far above the usual is said, and nothing of nothing', () => {
    expect(lookOver([], { ...GROUND, noise: 0.041 })).toEqual([
      expect.objectContaining({ kind: 'noise', text: expect.stringContaining('4.1 %') as string }),
    ])
    expect(lookOver([], { ...GROUND, noise: null, grid: null, displacementCc: null })).toEqual([])
  })
})
