import type { RunInfo } from '../run/runInfo'
import type { TableInfo } from '../contract/table'
import { rechecks } from '../spark/coupling'
import { sparkPlan } from '../spark/sparkPlan'
import { DEFAULT_SPARK_PLAN } from '../spark/choice'
import { DEFAULT_PLAN, SERVICES } from './choice'
import { jobPlan, jobPlanChoice, mostRpm } from './jobPlan'

const table = (to: number): Pick<TableInfo, 'table'> =>
  ({ table: { kind: 'fuel base', rpm: [1500, 4200, to] } }) as Pick<TableInfo, 'table'>
const run = (toRpm: number, channel = 'lambda1'): RunInfo =>
  ({
    kind: 'sweep',
    leftOut: null,
    channels: [{ channel }],
    facts: { stop: 60, fromRpm: 2300, toRpm },
  }) as unknown as RunInfo

describe('a plan of a job', () => {
  it('never asks above the ceiling that was said, nor beyond the table where none was', () => {
    const runs = [run(10427)]
    const highest = (job: object, tables: Pick<TableInfo, 'table'>[]): number =>
      Math.max(...jobPlan({ job, runs, tables }).steps.map((step) => step.toRpm))
    expect(highest({}, [])).toBe(10400)
    expect(highest({}, [table(9300)])).toBe(9300)
    expect(highest({ limits: { revCeiling: 8000 } }, [table(9300)])).toBe(8000)
    // A ceiling that was said goes before the table's end.
    expect(highest({ limits: { revCeiling: 9800 } }, [table(9300)])).toBe(9800)
    expect(highest({ plan: { ...DEFAULT_PLAN, toRpm: 11000 }, limits: { revCeiling: 8000 } }, [])).toBe(8000)
    expect(mostRpm({ job: {}, tables: [table(9300)], redline: 8600 })).toBe(8600)
  })
  it('begins with a middle opening on a mixture that nobody has read, unless somebody chose otherwise', () => {
    const first = (job: object, runs: RunInfo[]): number => jobPlan({ job, runs, tables: [] }).steps[0]!.stop
    expect(first({}, [])).toBe(40)
    expect(first({}, [run(9000, 'torque')])).toBe(40)
    expect(first({}, [run(9000)])).toBe(10)
    expect(first({ plan: { ...DEFAULT_PLAN, order: 'wide open first' } }, [])).toBe(100)
    for (const service of SERVICES) {
      const stops = jobPlan({ job: {}, runs: [], tables: [] }).steps.map((step) => step.stop)
      expect(new Set(stops).size).toBe(stops.length)
      expect(jobPlanChoice({ job: { plan: { ...DEFAULT_PLAN, service } }, runs: [], tables: [] }).service).toBe(service)
    }
  })
  it('what has to be checked again, and the spark plan, go no further either', () => {
    const made = { kind: 'sweep' as const, stop: 80, fromRpm: 3000, toRpm: 10427, at: '2026-01-01', tellsMixture: true }
    const spark = (value: number) => ({
      kind: 'spark base' as const,
      composition: 'add' as const,
      loadAxis: 'throttle' as const,
      rpm: [2000, 11000],
      load: [20, 100],
      values: [
        [value, value],
        [value, value],
      ],
    })
    const history = {
      id: 's',
      name: 'S',
      cylinder: null,
      states: [
        { n: 1, at: '2025-12-01', table: spark(20) },
        { n: 2, at: '2026-02-01', table: spark(26) },
      ],
    }
    expect(rechecks([history], [made])[0]!.toRpm).toBeGreaterThan(10000)
    expect(rechecks([history], [made], 8000)[0]!.toRpm).toBe(8000)
    expect(rechecks([history], [{ ...made, fromRpm: 8200 }], 8000)).toEqual([])
    const speeds = { ...DEFAULT_SPARK_PLAN, rpm: [4000, 7900, 8100] }
    expect(Math.max(...sparkPlan(speeds, [], 8000).steps.map((step) => step.fromRpm))).toBeLessThanOrEqual(8000)
  })
})
