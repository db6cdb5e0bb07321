import { runScript } from '../simulator/runScript'
import { DEFAULT_LIVE, liveRig } from '../simulator/liveRig'
import { rigOf, SIMULATED_MACHINES } from '../simulator/machinesById'
import { bestAdvance } from '../simulator/spark'
import { volumetricEfficiency } from '../simulator/air'
import { steadyLambda } from '../simulator/rig'
import { DEFAULT_SPARK, fitAdvance } from './fitAdvance'
import type { RunColumns } from '../run/run'
import type { SparkRun } from './bin'
import { presentReadings, stepBins } from './stepBins'

const rig = rigOf(SIMULATED_MACHINES.find((one) => one.id === 'curlew-437-stock')!)
const live = liveRig(rig, { ...DEFAULT_LIVE, coolant: 84 }, 4)
const STEP = { kind: 'spark step', stop: 40, rpm: 5000, seconds: 4, gear: 4 } as const
const stepped = [1, 2].map((k) => runScript(live, { ...STEP, offsets: [-6, -3, 0, 3, 6] }, `step ${k}`))
const held = runScript(live, { kind: 'hold', stop: 40, rpm: 5000, seconds: 5, gear: 4 }, 'hold')

const asRun = (columns: RunColumns, kind: 'spark step' | 'hold'): SparkRun => ({
  columns,
  run: { id: columns.id, kind, facts: null, setting: null, createdAt: '2026-03-02T10:00:00.000Z' },
})
const steps = stepped.map((one) => asRun(one, 'spark step'))
const holds = [asRun(held, 'hold')]

describe('settings out of runs in which the advance was stepped', () => {
  const [bin, ...others] = stepBins([...steps, ...holds])
  it('make one bin with a point for each setting and run', () => {
    expect(others).toEqual([])
    expect(bin).toMatchObject({ stop: 40, rpm: 5000, hasKnockChannel: true })
    expect(bin!.points).toHaveLength(10)
    const settings = [...new Set(bin!.points.map((one) => one.advance))].sort((a, b) => a - b)
    expect(settings).toHaveLength(5)
    // The run that was not stepped tells what is in the controller.
    expect(bin!.present).toBe(settings[2])
  })
  it('and give the best advance of the engine within two degrees', () => {
    const fit = fitAdvance(bin!.points, { ...DEFAULT_SPARK, present: bin!.present, hasKnockChannel: true })
    const filling = volumetricEfficiency(rig.engine, rig.breathing, 0, 5000, 40)
    const truth = bestAdvance(5000, filling, steadyLambda(rig, 0, 5000, 40))
    expect(Math.abs(fit.best!.advance - truth)).toBeLessThan(2)
  })
  it('runs without torque, or that were never stepped, make none', () => {
    expect(stepBins(holds)).toEqual([])
    const { torque: _, ...without } = stepped[0]!
    expect(stepBins([asRun(without, 'spark step')])).toEqual([])
  })
})

it('a table changed on the way: the newest run tells what is there now, the readings stay', () => {
  const later = (run: SparkRun, at: string): SparkRun => ({ ...run, run: { ...run.run, createdAt: at } })
  const moved = {
    ...held,
    id: 'after the change',
    spark: held.spark!.map((value) => value + 2),
  }
  const after = later(asRun(moved, 'hold'), '2026-03-02T11:00:00.000Z')
  const [before] = stepBins([...steps, ...holds])
  // Whatever the order in which runs are listed.
  const [now] = stepBins([after, ...steps, ...holds])
  expect(now!.present).toBe(before!.present + 2)
  expect(now!.presentAt).toBe('2026-03-02T11:00:00.000Z')
  expect(now!.points).toEqual(before!.points)
})

it('a log of the road, in which the table moves the advance from one speed to the next, makes no bin', () => {
  const places = [3000, 4500, 6000].map((rpm) => runScript(live, { ...STEP, kind: 'hold', rpm, seconds: 4 }, `${rpm}`))
  const joined = places.reduce((whole, one) => ({
    ...whole,
    ...Object.fromEntries(
      (['rpm', 'throttle', 'torque', 'spark', 'knock'] as const).map((name) => [
        name,
        Float32Array.from([...whole[name]!, ...one[name]!]),
      ]),
    ),
    time: Float32Array.from([...whole.time, ...one.time.map((t) => t + whole.time.at(-1)! + 0.02)]),
  }))
  const road: SparkRun = { columns: joined, run: { ...steps[0]!.run, id: 'road', kind: 'road' } }
  expect(stepBins([road])).toEqual([])
  // What it holds is what is in use there.
  expect(presentReadings([road]).length).toBeGreaterThanOrEqual(3)
})
it('knock that ends a setting at once counts, though it left no torque', () => {
  const hot = liveRig(rig, { ...DEFAULT_LIVE, coolant: 84 }, 5)
  const script = { ...STEP, stop: 100, rpm: 4500, offsets: [0, -6, -3, 3, 6, 9, 12, 0] } as const
  const [bin] = stepBins([asRun(runScript(hot, script, 'knocking'), 'spark step')])
  expect(bin!.knockFrom).not.toBeNull()
  expect(bin!.knockFrom!).toBeGreaterThan(Math.max(...bin!.points.map((one) => one.advance)))
  const { recommended } = fitAdvance(bin!.points, {
    ...DEFAULT_SPARK,
    present: bin!.present,
    hasKnockChannel: true,
    knockFrom: bin!.knockFrom,
  })
  expect(recommended).not.toBeNull()
  expect(recommended!).toBeLessThanOrEqual(bin!.knockFrom! - DEFAULT_SPARK.knockMargin)
})
