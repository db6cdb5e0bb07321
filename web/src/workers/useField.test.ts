import { effectScope, nextTick, ref, shallowRef } from 'vue'
import { DEFAULT_FIELD_OPTIONS, type Field, type FieldOptions, type RunInfo } from '@yuzumix/core'
import type { Connected } from './connect'
import type { FieldWorker } from './field.worker'
import { useField } from './useField'

jest.mock('@/api/client', () => ({
  fetchColumns: (_job: string, runs: RunInfo[]) =>
    Promise.resolve(runs.map(({ id }) => ({ id, time: new Float32Array(1), rpm: new Float32Array(1), lambda: [] }))),
}))
jest.mock('./connect', () => ({}))

const run = (id: string): RunInfo => ({ id, gaugeScale: null, sensorPlace: null, leftOut: null }) as RunInfo
const settled = async (): Promise<void> => {
  for (let k = 0; k < 30; k++) await nextTick()
}

function setUp() {
  const solves: { lag: number | null; before: unknown; give: (field: Field) => void; fail: (error: Error) => void }[] =
    []
  const connect = (): Connected<FieldWorker> => ({
    remote: {
      addRun: () => Promise.resolve(),
      solve: (_asked: unknown, { lag }: FieldOptions, before: unknown) =>
        new Promise<Field>((give, fail) => solves.push({ lag, before, give, fail })),
    } as unknown as Connected<FieldWorker>['remote'],
    end: () => undefined,
  })
  const runs = shallowRef<RunInfo[]>([run('a')])
  const before = shallowRef<RunInfo[][]>([])
  const options = ref<FieldOptions | null>({ ...DEFAULT_FIELD_OPTIONS, lag: 0.1 } as FieldOptions)
  const scope = effectScope()
  const state = scope.run(() => useField(() => 'job', runs, before, options, connect))!
  return { solves, runs, before, options, scope, ...state }
}
const answer = (name: number): Field => ({ name }) as unknown as Field

describe('the field of some runs', () => {
  it('solves one wish at a time; of those that wait only the newest counts', async () => {
    const { solves, options, field } = setUp()
    await settled()
    for (const lag of [0.2, 0.3, 0.4]) {
      options.value = { ...options.value!, lag }
      await settled()
    }
    expect(solves.map((one) => one.lag)).toEqual([0.1])
    solves[0]!.give(answer(1))
    await settled()
    expect(field.value).toEqual({ name: 1 })
    expect(solves.map((one) => one.lag)).toEqual([0.1, 0.4])
    solves[1]!.give(answer(2))
    await settled()
    expect([field.value, solves.length]).toEqual([{ name: 2 }, 2])
  })

  it('hands on the passes before, and is solved anew when there are others', async () => {
    const { solves, before } = setUp()
    await settled()
    expect(solves[0]!.before).toEqual([])
    solves[0]!.give(answer(1))
    await settled()
    before.value = [[run('x'), run('y')]]
    await settled()
    expect(solves[1]!.before).toMatchObject([[{ key: expect.stringContaining('x') as string }, {}]])
  })

  it('has no field where solving failed, and says why', async () => {
    const { solves, field, problem, busy } = setUp()
    await settled()
    solves[0]!.fail(new Error('No reading is left.'))
    await settled()
    expect([field.value, problem.value, busy.value]).toEqual([null, 'No reading is left.', false])
  })

  it('stopped, it drops the answer and what waited, and says so', async () => {
    const { solves, options, field, problem, cancel } = setUp()
    await settled()
    options.value = { ...options.value!, lag: 0.5 }
    await settled()
    cancel()
    solves[0]!.give(answer(1))
    await settled()
    expect([field.value, solves.length]).toEqual([null, 1])
    expect(problem.value).toMatch(/^Stopped\./)
  })

  it('is none without runs or before the options are known', async () => {
    const { solves, runs, field } = setUp()
    await settled()
    solves[0]!.give(answer(1))
    await settled()
    runs.value = []
    await settled()
    expect([field.value, solves.length]).toEqual([null, 1])
  })
})
