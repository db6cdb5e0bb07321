import { effectScope, nextTick, shallowRef } from 'vue'
import { DEFAULT_FIELD_OPTIONS, type Field, type FieldQuestion, type RunInfo } from '@yuzumix/core'
import type { Connected } from './connect'
import type { FieldWorker } from './fieldWork'
import { useField } from './useField'

jest.mock('@/api/columns', () => ({
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
      solve: ({ before, options: { lag } }: FieldQuestion) =>
        new Promise<Field>((give, fail) => solves.push({ lag, before, give, fail })),
    } as unknown as Connected<FieldWorker>['remote'],
    end: () => undefined,
  })
  const options = { ...DEFAULT_FIELD_OPTIONS, lag: 0.1 } as FieldQuestion['options']
  const question = shallowRef<FieldQuestion | null>({
    runs: [run('a')],
    older: [],
    before: [],
    options,
    commanded: null,
  })
  const setLag = (lag: number): void =>
    void (question.value = { ...question.value!, options: { ...question.value!.options, lag } })
  const scope = effectScope()
  const state = scope.run(() => useField(() => 'job', question, connect))!
  return { solves, question, setLag, scope, ...state }
}
const answer = (name: number): Field => ({ name }) as unknown as Field

describe('the field of some runs', () => {
  it('solves one wish at a time; of those that wait only the newest counts', async () => {
    const { solves, setLag, field } = setUp()
    await settled()
    for (const lag of [0.2, 0.3, 0.4]) {
      setLag(lag)
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
    const { solves, question } = setUp()
    await settled()
    expect(solves[0]!.before).toEqual([])
    solves[0]!.give(answer(1))
    await settled()
    question.value = { ...question.value!, before: [[run('x'), run('y')]] }
    await settled()
    expect(solves[1]!.before).toMatchObject([[{ id: 'x' }, { id: 'y' }]])
  })

  it('has no field where solving failed, and says why', async () => {
    const { solves, field, problem, busy } = setUp()
    await settled()
    solves[0]!.fail(new Error('No reading is left.'))
    await settled()
    expect([field.value, problem.value, busy.value]).toEqual([null, 'No reading is left.', false])
  })

  it('stopped, it drops the answer and what waited, and says so', async () => {
    const { solves, setLag, field, problem, cancel } = setUp()
    await settled()
    setLag(0.5)
    await settled()
    cancel()
    solves[0]!.give(answer(1))
    await settled()
    expect([field.value, solves.length]).toEqual([null, 1])
    expect(problem.value).toMatch(/^Stopped\./)
  })

  it('the same question again sets nothing off', async () => {
    const { solves, question } = setUp()
    await settled()
    solves[0]!.give(answer(1))
    question.value = structuredClone(question.value)
    await settled()
    expect(solves).toHaveLength(1)
  })

  it('is none without runs', async () => {
    const { solves, question, field } = setUp()
    await settled()
    solves[0]!.give(answer(1))
    await settled()
    question.value = { ...question.value!, runs: [] }
    await settled()
    expect([field.value, solves.length]).toEqual([null, 1])
  })
})
