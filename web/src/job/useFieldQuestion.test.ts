import { createPinia, setActivePinia } from 'pinia'
import { effectScope, nextTick, ref } from 'vue'
import {
  DEFAULT_MIXTURE,
  DEFAULT_SET,
  type FieldOptions,
  type Job,
  type LoadGrid,
  type RunInfo,
  type RunSet,
  type TableInfo,
} from '@yuzumix/core'
import { api } from '@/api/client'
import { useJob } from './openJob'
import { useFieldQuestion } from './useFieldQuestion'

jest.mock('@/api/notify', () => ({ notifyProblem: jest.fn() }))
jest.mock('@/api/client', () => ({
  api: { revision: () => Promise.reject(new Error('none')) },
}))

const run = (id: string, set = 's'): RunInfo =>
  ({
    id,
    set,
    kind: 'sweep',
    leftOut: null,
    channels: [{ channel: 'lambda1' }, { channel: 'rpm', max: 8400 }, { channel: 'throttle' }],
  }) as unknown as RunInfo
const setOf = (id: string): RunSet => ({ ...DEFAULT_SET, id, job: 'j', name: id, runCount: 1, createdAt: '2026-01-01' })
const TABLE = {
  kind: 'fuel base',
  composition: 'multiply',
  loadAxis: 'throttle',
  rpm: [2000, 5000],
  load: [10, 100],
  values: [
    [9, 9],
    [9, 9],
  ],
}
const GRID: LoadGrid = { loadAxis: 'throttle', rpm: [2000, 5000, 8000], load: [10, 50, 100] }

const settled = async (): Promise<void> => {
  for (let k = 0; k < 40; k++) await nextTick()
}

async function setUp(mixture: Partial<Job['mixture']> = {}) {
  setActivePinia(createPinia())
  const open = useJob()
  open.job = { id: 'j', mixture: { ...DEFAULT_MIXTURE, ...mixture } } as unknown as Job
  open.sets = [setOf('s'), setOf('t')]
  open.runs = [run('a'), run('b'), run('c', 't')]
  const state = effectScope().run(() => useFieldQuestion(ref('solve')))!
  await settled()
  return { open, ...state }
}

describe('runs and options of the field as the job has chosen them', () => {
  it('are those of the chosen set, without the ones left out', async () => {
    const { runs, open } = await setUp({ set: 's', runsLeftOut: ['b'] })
    expect(runs.value.map((one) => one.id)).toEqual(['a'])
    open.job = { ...open.job!, mixture: { ...open.job!.mixture, runsLeftOut: [] } }
    await settled()
    expect(runs.value.map((one) => one.id)).toEqual(['a', 'b'])
  })
  it('runs made on an older revision are left out and counted', async () => {
    jest.spyOn(api, 'revision').mockImplementation(() => Promise.resolve({ table: { ...TABLE } } as never))
    const { runs, question, open } = await setUp({ set: 's' })
    open.tables = [
      {
        id: 'f',
        table: TABLE,
        revisions: [
          { n: 1, createdAt: '2026-01-01' },
          { n: 2, createdAt: '2026-01-02' },
        ],
      } as unknown as TableInfo,
    ]
    open.runs = [1, 2].map((n) => ({ ...run(`on ${n}`), revisions: { f: n }, createdAt: '2026-02-01' }))
    await settled()
    expect([runs.value.map((one) => one.id), question.value!.older.length]).toEqual([['on 2'], 1])
  })
  it('tell what was corrected before the first pass before, where there was one', async () => {
    const stateOf = (n: number) => ({
      kind: 'fuel base',
      composition: 'multiply',
      ...GRID,
      values: GRID.load.map(() => GRID.rpm.map(() => 9 + n)),
    })
    const asked = jest
      .spyOn(api, 'revision')
      .mockImplementation((_job, _table, n) => Promise.resolve({ table: stateOf(Number(n)) } as never))
    const { options, open } = await setUp({ set: 't' })
    open.tables = [
      {
        id: 'f',
        job: 'j',
        cylinder: null,
        table: stateOf(3),
        revisions: [1, 2, 3].map((n) => ({ n, createdAt: `2026-01-0${n}` })),
      } as unknown as TableInfo,
    ]
    const on = (id: string, set: string, n: number) => ({
      ...run(id, set),
      revisions: { f: n },
      createdAt: '2026-02-01',
    })
    open.runs = [on('z', 'another', 1), on('a', 's', 2), on('c', 't', 3)]
    await settled()
    const factor = (of: FieldOptions['corrected'] | null | undefined) => of?.map((one) => one.factor[0]![0])
    expect(factor(options.value!.corrected)).toEqual([expect.closeTo(1.2, 9)])
    expect(factor(options.value!.correctedBefore)).toEqual([expect.closeTo(1.1, 9)])
    open.runs = [on('c', 't', 3)]
    await settled()
    expect(options.value!.correctedBefore).toBeNull()
    // A state never changes: each was asked for once.
    const calls = asked.mock.calls.map((call) => JSON.stringify(call))
    expect(calls).toHaveLength(new Set(calls).size)
  })
  it('the same runs and options again set nothing off', async () => {
    const { question, open } = await setUp({ set: 's' })
    const before = question.value
    open.job = { ...open.job!, title: 'another title' }
    open.runs = [...open.runs]
    await settled()
    expect(question.value === before).toBe(true)
  })
  it('that cannot be are told, and the last ones that could stand', async () => {
    const { options, fault, open } = await setUp({ set: 's' })
    const before = options.value
    open.job = { ...open.job!, mixture: { ...open.job!.mixture, breakpoints: { ...GRID, rpm: [5000, 2000] } } }
    await settled()
    expect(fault.value).toMatch(/rpm/)
    expect(options.value).toBe(before)
  })
})
