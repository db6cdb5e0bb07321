import { runScript } from '../simulator/runScript'
import { DEFAULT_LIVE, liveRig } from '../simulator/liveRig'
import { rigOf, SIMULATED_MACHINES } from '../simulator/machinesById'
import type { RunColumns } from '../run/run'
import type { SparkRun } from './bin'
import { judgeBin } from './judge'
import { proveSpark } from './proof'
import { presentReadings, stepBins } from './stepBins'
import { suggestSpark } from './suggestSpark'

const AT = '2026-03-02T10:00:00.000Z'
const asRun = (columns: RunColumns, kind: 'spark step' | 'hold'): SparkRun => ({
  columns,
  run: { id: columns.id, kind, facts: null, setting: null, createdAt: AT },
})

describe('spark measured, written and proved on the simulated rig', () => {
  const rig = rigOf(SIMULATED_MACHINES.find((one) => one.id === 'curlew-437-stock')!)
  const live = liveRig(rig, { ...DEFAULT_LIVE, coolant: 84 }, 9)
  // The factory held the spark back about here.
  const AT_POINT = { stop: 40, rpm: 5000, gear: 4 } as const
  const step = (k: number): SparkRun =>
    asRun(
      runScript(live, { kind: 'spark step', ...AT_POINT, offsets: [0, -6, -3, 3, 6, 0], seconds: 4 }, `step ${k}`),
      'spark step',
    )
  const before = stepBins([step(1), step(2), step(3)]).map((bin) => judgeBin(bin, []))
  const table = rig.calibration.spark
  const change = suggestSpark(table, before)
  rig.calibration.spark = { ...table, values: change.values }
  const hold = (k: number): SparkRun =>
    asRun(runScript(live, { kind: 'hold', ...AT_POINT, seconds: 5 }, `hold ${k}`), 'hold')
  const now = presentReadings([hold(1), hold(2), hold(3)])

  it('the present advance is what a step begins and ends with', () => {
    const [row, column] = [table.load.indexOf(40), table.rpm.indexOf(5000)]
    expect(before).toHaveLength(1)
    expect(Math.abs(before[0]!.bin.present - table.values[row]![column]!)).toBeLessThan(0.5)
    expect(change.nodes[row]![column]!.changeDeg).toBeGreaterThan(0.4)
  })
  it('torque rises as predicted', () => {
    const [proof, ...others] = proveSpark(before, now)
    expect(others).toEqual([])
    expect(proof).toMatchObject({ stop: 40, rpm: 5000, verdict: 'as predicted' })
    expect(proof!.to - proof!.from).toBeGreaterThan(0.4)
    expect(proof!.predicted.value).toBeGreaterThan(0)
  })
  it('less than was promised is said, and so is a single reading', () => {
    const weak = now.map((one) => ({ ...one, torque: one.torque * 0.97 }))
    expect(proveSpark(before, weak)[0]!.verdict).toBe('less than predicted')
    expect(proveSpark(before, now.slice(0, 1))[0]).toMatchObject({
      verdict: 'one reading, no interval',
      measured: { low: null },
    })
  })
  it('an advance that did not move proves nothing', () => {
    expect(
      proveSpark(
        before,
        presentReadings([step(4)]).map((one) => ({ ...one, advance: before[0]!.bin.present })),
      ),
    ).toEqual([])
  })
})
