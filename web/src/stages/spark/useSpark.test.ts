import { createPinia, setActivePinia } from 'pinia'
import { effectScope, nextTick } from 'vue'
import {
  DEFAULT_MIXTURE,
  DEFAULT_POWER,
  DEFAULT_SET,
  type Job,
  type JobChange,
  type RunInfo,
  type RunSet,
  type SparkQuestion,
} from '@yuzumix/core'
import { api } from '@/api/client'
import { useJob } from '@/job/openJob'
import { heldWork } from '@/workers/heldWork'
import { useSpark } from './useSpark'

jest.mock('@/workers/connect', () => ({}))
jest.mock('comlink', () => ({ proxy: (call: unknown) => call, transfer: (what: unknown) => what }))
jest.mock('@/api/notify', () => ({ notifyProblem: jest.fn() }))
jest.mock('@/api/client', () => ({
  api: {},
}))
jest.mock('@/api/columns', () => ({
  fetchColumns: (_job: string, runs: RunInfo[]) =>
    Promise.resolve(runs.map(({ id }) => ({ id, time: new Float32Array(1), rpm: new Float32Array(1), lambda: [] }))),
}))

const run = (id: string, over: Partial<RunInfo> = {}): RunInfo =>
  ({
    id,
    set: 's',
    kind: 'spark step',
    leftOut: null,
    setting: null,
    facts: null,
    gaugeScale: null,
    sensorPlace: null,
    channels: [{ channel: 'torque' }, { channel: 'spark' }],
    createdAt: '2026-02-01T00:00:00Z',
    ...over,
  }) as RunInfo
const SET: RunSet = { ...DEFAULT_SET, id: 's', job: 'j', name: 's', runCount: 1, createdAt: '2026-01-01' }
const settled = async (): Promise<void> => {
  for (let k = 0; k < 60; k++) await nextTick()
}

const told = (name: string) => ({ bins: [{ name }], mixtures: [], proof: [] })

function setUp(runs: RunInfo[]) {
  setActivePinia(createPinia())
  const open = useJob()
  open.job = { id: 'j', mixture: DEFAULT_MIXTURE, power: DEFAULT_POWER } as unknown as Job
  open.sets = [SET]
  open.runs = runs
  open.chosenSet = 's'
  const { asked: questions, connect } = heldWork<SparkQuestion>()
  const changes: JobChange[] = []
  Object.assign(api, {
    histories: () => Promise.resolve([]),
    changeJob: (_id: string, change: JobChange) => {
      changes.push(change)
      return Promise.resolve({ ...open.job, ...change })
    },
  })
  const scope = effectScope()
  const spark = scope.run(() => useSpark(connect))!
  return { open, scope, questions, changes, ...spark }
}

describe('the spark stage', () => {
  beforeEach(() => jest.useFakeTimers({ doNotFake: ['nextTick', 'queueMicrotask'] }))
  afterEach(() => jest.useRealTimers())

  it('asks of runs that tell torque and advance, and shows what comes of it', async () => {
    const { questions, bins, busy, runs } = setUp([
      run('a'),
      run('no torque', { channels: [{ channel: 'spark' }] as RunInfo['channels'] }),
      run('by hand', {
        channels: [{ channel: 'torque' }] as RunInfo['channels'],
        setting: { advance: 28, knock: false },
      }),
      run('left out', { leftOut: { fromRpm: null, toRpm: null, reason: 'cold' } }),
    ])
    await settled()
    expect(runs.value.map((one) => one.id)).toEqual(['a', 'by hand'])
    expect(questions[0]!.question.runs.map((one) => one.id)).toEqual(['a', 'by hand'])
    expect(busy.value).toBe(true)
    questions[0]!.give(told('one point'))
    await settled()
    expect([bins.value, busy.value]).toEqual([[{ name: 'one point' }], false])
  })
  it('a choice sets it off anew; the answer to the one before is dropped', async () => {
    const { questions, bins, choose } = setUp([run('a')])
    await settled()
    choose({ giveAwayPct: 1 })
    await settled()
    expect(questions.map((one) => one.question.judge.giveAway)).toEqual([0.005, 0.01])
    questions[1]!.give(told('new'))
    await settled()
    questions[0]!.give(told('old'))
    await settled()
    expect(bins.value).toEqual([{ name: 'new' }])
  })
  it('choices in quick succession are all kept, and saved once they rest', async () => {
    const { choose, changes, settings } = setUp([run('a')])
    await settled()
    choose({ giveAwayPct: 1 })
    choose({ knockMargin: 3 })
    expect(changes).toEqual([])
    jest.advanceTimersByTime(1000)
    await settled()
    expect(changes).toHaveLength(1)
    expect(changes[0]!.spark).toMatchObject({ giveAwayPct: 1, knockMargin: 3 })
    expect(settings.value.knockMargin).toBe(3)
  })
  it('a failure is told and leaves what was there; stopped, nothing more comes', async () => {
    const { questions, bins, problem, choose, cancel } = setUp([run('a')])
    await settled()
    questions[0]!.give(told('first'))
    await settled()
    choose({ giveAwayPct: 2 })
    await settled()
    questions[1]!.fail(new Error('No point was held.'))
    await settled()
    expect([bins.value, problem.value]).toEqual([[{ name: 'first' }], 'No point was held.'])
    choose({ giveAwayPct: 3 })
    await settled()
    cancel()
    questions[2]!.give(told('late'))
    await settled()
    expect([bins.value, problem.value]).toEqual([[{ name: 'first' }], expect.stringMatching(/^Stopped/)])
  })
  it('nothing comes after the stage was left', async () => {
    const { questions, bins, scope } = setUp([run('a')])
    await settled()
    scope.stop()
    questions[0]!.give(told('late'))
    await settled()
    expect(bins.value).toEqual([])
  })
})
