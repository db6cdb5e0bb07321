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
import { useFieldOptions } from './useFieldOptions'

jest.mock('@/api/client', () => ({
  api: { revision: () => Promise.reject(new Error('none')) },
  ProblemError: class extends Error {},
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
const GRID: LoadGrid = { loadAxis: 'throttle', rpm: [2000, 5000, 8000], load: [10, 50, 100] }

function setUp(mixture: Partial<Job['mixture']> = {}, grid: LoadGrid | null = null) {
  setActivePinia(createPinia())
  const open = useJob()
  open.job = { id: 'j', mixture: { ...DEFAULT_MIXTURE, ...mixture } } as unknown as Job
  open.sets = [setOf('s'), setOf('t')]
  open.runs = [run('a'), run('b'), run('c', 't')]
  const chosen = ref(grid)
  const state = effectScope().run(() => useFieldOptions(ref('solve'), chosen))!
  return { open, chosen, ...state }
}

describe('runs and options of the field as the job has chosen them', () => {
  it('are those of the chosen set, without the ones left out', async () => {
    const { runs, open } = setUp({ set: 's', runsLeftOut: ['b'] })
    expect(runs.value.map((one) => one.id)).toEqual(['a'])
    open.job = { ...open.job!, mixture: { ...open.job!.mixture, runsLeftOut: [] } }
    await nextTick()
    expect(runs.value.map((one) => one.id)).toEqual(['a', 'b'])
  })
  it('runs made on an older revision are left out and counted, but for who tells them apart itself', async () => {
    const { runs, older, open } = setUp({ set: 's' })
    open.tables = [
      {
        id: 'f',
        table: { kind: 'fuel base', ...GRID },
        revisions: [
          { n: 1, createdAt: '2026-01-01' },
          { n: 2, createdAt: '2026-01-02' },
        ],
      } as unknown as TableInfo,
    ]
    open.runs = [1, 2].map((n) => ({ ...run(`on ${n}`), revisions: { f: n }, createdAt: '2026-02-01' }))
    await nextTick()
    expect([runs.value.map((one) => one.id), older.value]).toEqual([['on 2'], 1])
    const all = effectScope().run(() => useFieldOptions(ref('solve'), ref(null), true))!
    expect([all.runs.value.length, all.older.value]).toEqual([2, 0])
  })
  it('tell what was corrected before the first pass before, where there was one', async () => {
    const stateOf = (n: number) => ({
      kind: 'fuel base',
      composition: 'multiply',
      ...GRID,
      values: GRID.load.map(() => GRID.rpm.map(() => 9 + n)),
    })
    jest.spyOn(api, 'revision').mockImplementation((_job, _table, n) => Promise.resolve({ table: stateOf(n) } as never))
    const { options, open } = setUp({ set: 't' })
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
    for (let k = 0; k < 30; k++) await nextTick()
    const factor = (of: FieldOptions['corrected'] | null | undefined) => of?.map((one) => one.factor[0]![0])
    expect(factor(options.value!.corrected)).toEqual([expect.closeTo(1.2, 9)])
    expect(factor(options.value!.correctedBefore)).toEqual([expect.closeTo(1.1, 9)])
    open.runs = [on('c', 't', 3)]
    for (let k = 0; k < 30; k++) await nextTick()
    expect(options.value!.correctedBefore).toBeNull()
  })
  it('the same runs and options again set nothing off', async () => {
    const { runs, options, open } = setUp({ set: 's' })
    const [before, chosen] = [runs.value, options.value]
    open.job = { ...open.job!, title: 'another title' }
    open.runs = [...open.runs]
    await nextTick()
    expect([runs.value === before, options.value === chosen]).toEqual([true, true])
  })
  it('stand on the table to be changed where there is one, whatever breakpoints were chosen', async () => {
    const { options, chosen } = setUp({ set: 's', lagMs: 250, breakpoints: { ...GRID, rpm: [1000, 9000] } }, GRID)
    expect([options.value!.grid.rpm, options.value!.lag]).toEqual([GRID.rpm, 0.25])
    chosen.value = null
    await nextTick()
    expect(options.value!.grid.rpm).toEqual([1000, 9000])
  })
  it('that cannot be are told, and the last ones that could stand', async () => {
    const { options, fault, open } = setUp({ set: 's' })
    const before = options.value
    open.job = { ...open.job!, mixture: { ...open.job!.mixture, breakpoints: { ...GRID, rpm: [5000, 2000] } } }
    await nextTick()
    expect(fault.value).toMatch(/rpm/)
    expect(options.value).toBe(before)
  })
})
