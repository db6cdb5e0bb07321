import { effectScope, nextTick, shallowRef } from 'vue'
import { DEFAULT_FILTERS, type LoadGrid, type RunInfo } from '@yuzumix/core'
import type { Connected } from '@/workers/connect'
import type { RunsWorker } from '@/workers/runs.worker'
import { useHeldZones } from './useHeldZones'

jest.mock('@/api/columns', () => ({
  fetchColumns: (_job: string, runs: RunInfo[]) =>
    Promise.resolve(runs.map(({ id }) => ({ id, time: new Float32Array(1), rpm: new Float32Array(1), lambda: [] }))),
}))
jest.mock('@/workers/connect', () => ({}))

const GRID: LoadGrid = { loadAxis: 'throttle', rpm: [1, 2], load: [1, 2] }
const run = (id: string, isOut = false): RunInfo =>
  ({
    id,
    gaugeScale: null,
    sensorPlace: null,
    leftOut: isOut ? { fromRpm: null, toRpm: null, reason: 'cold' } : null,
  }) as RunInfo
const settled = async (): Promise<void> => {
  for (let k = 0; k < 40; k++) await nextTick()
}

function setUp() {
  const questions: { runs: number; give: (load: number) => void; fail: (error: Error) => void }[] = []
  const connect = (): Connected<RunsWorker> => ({
    remote: {
      addRun: () => Promise.resolve(),
      held: (asked: unknown[]) =>
        new Promise((resolve, fail) =>
          questions.push({
            runs: asked.length,
            give: (load) => resolve([{ load, fromRpm: 2000, toRpm: 4000 }]),
            fail,
          }),
        ),
    } as unknown as Connected<RunsWorker>['remote'],
    end: () => undefined,
  })
  const asked = shallowRef({
    sets: [
      { id: 'before', runs: [run('a'), run('b', true)] },
      { id: 'after', runs: [run('c')] },
    ],
    grid: GRID,
    filters: DEFAULT_FILTERS,
  })
  const scope = effectScope()
  const state = scope.run(() => useHeldZones(() => 'job', asked, connect))!
  return { questions, asked, scope, ...state }
}

describe('held zones of several sets', () => {
  it('are sought set by set, without the runs that somebody left out, and shown together', async () => {
    const { questions, zones, busy } = setUp()
    await settled()
    expect([questions.length, questions[0]!.runs]).toEqual([1, 1])
    questions[0]!.give(5)
    await settled()
    expect([zones.value, busy.value]).toEqual([{}, true])
    questions[1]!.give(10)
    await settled()
    expect(Object.entries(zones.value).map(([set, list]) => [set, list[0]!.load])).toEqual([
      ['before', 5],
      ['after', 10],
    ])
    expect(busy.value).toBe(false)
  })
  it('of sets that are no longer compared are dropped', async () => {
    const { questions, zones, asked } = setUp()
    await settled()
    asked.value = { ...asked.value, sets: [{ id: 'other', runs: [run('d')] }] }
    await settled()
    questions[1]!.give(20)
    await settled()
    questions[0]!.give(5)
    await settled()
    expect(Object.keys(zones.value)).toEqual(['other'])
  })
  it('that cannot be worked out are told; stopped, nothing more is shown', async () => {
    const { questions, zones, problem, cancel, asked } = setUp()
    await settled()
    questions[0]!.fail(new Error('No reading is left.'))
    await settled()
    expect([problem.value, zones.value]).toEqual(['No reading is left.', {}])
    asked.value = { ...asked.value }
    await settled()
    cancel()
    questions[1]!.give(5)
    await settled()
    expect([zones.value, problem.value]).toEqual([{}, expect.stringMatching(/^Stopped/)])
  })
})
