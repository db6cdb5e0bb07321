import { createPinia, setActivePinia } from 'pinia'
import { effectScope, nextTick } from 'vue'
import {
  DEFAULT_JETTING,
  DEFAULT_MIXTURE,
  DEFAULT_SET,
  type Job,
  type JettingQuestion,
  type JobChange,
  type NewSet,
  type RunInfo,
  type RunSet,
} from '@yuzumix/core'
import { api } from '@/api/client'
import { useJob } from '@/job/openJob'
import { heldWork } from '@/workers/heldWork'
import { useJetting } from './useJetting'

jest.mock('@/workers/connect', () => ({}))
jest.mock('@/api/notify', () => ({ notifyProblem: jest.fn() }))
jest.mock('comlink', () => ({ proxy: (call: unknown) => call, transfer: (what: unknown) => what }))
jest.mock('@/api/client', () => ({
  api: {},
}))
jest.mock('@/api/columns', () => ({
  fetchColumns: (_job: string, runs: RunInfo[]) =>
    Promise.resolve(runs.map(({ id }) => ({ id, time: new Float32Array(1), rpm: new Float32Array(1), lambda: [] }))),
}))

const NEEDLE = {
  name: 'N1',
  points: [
    { at: 0, diameter: 2.5 },
    { at: 50, diameter: 1.8 },
  ],
}
const BOX = { ...DEFAULT_JETTING.box, main: [110, 115, 120], pilot: [35, 38], needles: [NEEDLE] }
const partsWith = (main: number) => ({ main, needle: 'N1', clip: 3, pilot: 35, screw: 1.5, cutaway: 2.5 })
const fitting = (id: string, main: number): RunSet => ({
  ...DEFAULT_SET,
  id,
  job: 'j',
  name: id,
  runCount: 1,
  createdAt: '2026-01-01',
  fitting: { fitted: [partsWith(main)], reason: '', predicted: null },
})
const run = (id: string, set: string): RunInfo =>
  ({
    id,
    set,
    kind: 'hand readings',
    leftOut: null,
    gaugeScale: null,
    sensorPlace: null,
    channels: [{ channel: 'lambda1' }, { channel: 'throttle' }],
  }) as unknown as RunInfo
const settled = async (): Promise<void> => {
  for (let k = 0; k < 80; k++) await nextTick()
}

function setUp(sets: RunSet[], runs: RunInfo[]) {
  setActivePinia(createPinia())
  const open = useJob()
  const jetting = { ...DEFAULT_JETTING, box: BOX }
  open.job = { id: 'j', mixture: DEFAULT_MIXTURE, jetting } as unknown as Job
  open.sets = sets
  open.runs = runs
  const changes: JobChange[] = []
  const made: NewSet[] = []
  Object.assign(api, {
    changeJob: (_id: string, change: JobChange) => {
      changes.push(change)
      return Promise.resolve({ ...open.job, ...change })
    },
    addSet: (_job: string, set: NewSet) => {
      made.push(set)
      return Promise.resolve({ ...fitting('new', 120), ...set })
    },
  })
  const { asked, connect } = heldWork<JettingQuestion>()
  const scope = effectScope()
  return { open, scope, changes, made, asked, ...scope.run(() => useJetting(connect))! }
}

const told = (name: string) => ({
  readings: [],
  warnings: ['One bank reads leaner.'],
  tipIn: [null],
  present: { name },
  list: null,
})

describe('the carburettor of a job', () => {
  it('is asked about with all that was measured, and shows what is answered', async () => {
    const { asked, model, progress, warnings, fitted } = setUp(
      [fitting('first', 110), fitting('second', 115)],
      [run('a', 'first'), run('b', 'second')],
    )
    await settled()
    expect(fitted.value).toEqual(partsWith(115))
    const { question } = asked[0]!
    expect(question.fittings.map((one) => [one.fitted, one.field.runs.map(({ id }) => id)])).toEqual([
      [[partsWith(110)], ['a']],
      [[partsWith(115)], ['b']],
    ])
    asked[0]!.progress(0.4)
    expect(progress.value).toBe(0.4)
    asked[0]!.give(told('model'))
    await settled()
    expect([model.value, warnings.value]).toEqual([{ name: 'model' }, ['One bank reads leaner.']])
  })
  it('takes nothing for held by a closed loop, which a carburettor has not', async () => {
    const { asked } = setUp([fitting('first', 110)], [run('a', 'first')])
    await settled()
    expect(asked[0]!.question.fittings.map((one) => one.field.options.hasLoop)).toEqual([false])
  })
  it('stopped, it drops the answer and what progress still comes', async () => {
    const { asked, model, progress, cancel, busy } = setUp([fitting('first', 110)], [run('a', 'first')])
    await settled()
    cancel()
    asked[0]!.progress(0.9)
    asked[0]!.give(told('late'))
    await settled()
    expect([model.value, progress.value, busy.value]).toEqual([null, 0, false])
  })
  it('checks ticked in quick succession are all kept', async () => {
    const { choose, settings } = setUp([fitting('first', 110)], [])
    await settled()
    choose({ checks: [...settings.value.checks, 'float'] as never })
    choose({ checks: [...settings.value.checks, 'leaks'] as never })
    expect(settings.value.checks).toEqual(['float', 'leaks'])
  })
  it('says that a carburettor is being saved until it is, or is refused', async () => {
    const { change, isSaving } = setUp([], [])
    let answer = (): void => undefined
    api.changeJob = () => new Promise((_resolve, reject) => (answer = () => reject(new Error('no'))))
    const saved = change({ box: BOX })
    expect(isSaving.value).toBe(true)
    answer()
    await expect(saved).rejects.toThrow('no')
    expect(isSaving.value).toBe(false)
  })
  it('what is fitted from now on is a set of its own, named by what differs', async () => {
    const { fit, made } = setUp([fitting('first', 110)], [])
    await settled()
    await fit([partsWith(120)], 'leaner up top', null, null)
    expect(made[0]).toMatchObject({
      name: expect.stringMatching(/^Fitting 2: .*120/) as string,
      fitting: { fitted: [partsWith(120)], reason: 'leaner up top' },
    })
  })
})
