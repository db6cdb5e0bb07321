/** @jest-environment jsdom */
import { createPinia, setActivePinia } from 'pinia'
import { effectScope, nextTick, ref } from 'vue'
import {
  DEFAULT_MIXTURE,
  DEFAULT_SET,
  loopStep,
  type Field,
  type Job,
  type LoopQuestion,
  type NewRevisions,
  type RunInfo,
  type RunSet,
  type Table,
  type TableInfo,
} from '@yuzumix/core'
import { api } from '@/api/client'
import { useJob } from '@/job/openJob'
import { heldWork } from '@/workers/heldWork'
import type { Bench } from './useBench'
import { useLoop } from './useLoop'

jest.mock('@/api/client', () => ({ api: {} }))
jest.mock('@/api/notify', () => ({ notifyProblem: jest.fn(), notifyDone: jest.fn() }))
jest.mock('@/workers/connect', () => ({}))
jest.mock('comlink', () => ({ proxy: (call: unknown) => call }))
jest.mock('@/workers/sendRuns', () => ({ sendRuns: () => Promise.resolve() }))
let fields: Field[] = []

const GRID = { loadAxis: 'throttle' as const, rpm: [3000, 5000], load: [20, 100] }
const TABLE: Table = {
  ...GRID,
  kind: 'fuel trim',
  composition: 'multiply',
  values: [
    [0, 0],
    [0, 0],
  ],
}
/** A field that is so many percent lean everywhere. */
function fieldOf(lean: number): Field {
  const all = <T>(value: T): T[][] => GRID.load.map(() => GRID.rpm.map(() => value))
  const cylinder = {
    cylinder: 1,
    lambda: all(0.9 * (1 + lean / 100)),
    target: all(0.9),
    changePct: all(lean),
    lowPct: all(lean - 0.3),
    highPct: all(lean + 0.3),
    samples: all(200),
    passes: all(3),
    evidence: all('solid' as const),
    held: all(false),
    byTrim: all(false),
    undoPct: all(null),
    silentPct: all(null),
    noise: 0.01,
  }
  return {
    grid: GRID,
    method: 'solve',
    lag: { lag: 0.2, error: 0.01, from: 'fixed', sources: [], disagree: false, byFlow: null, note: '' },
    cylinders: [cylinder],
    runs: [],
    heldZones: [],
    misfires: [],
  } as Field
}
const tableInfo = (id: string, values: number[][], n = 1): TableInfo => ({
  id,
  job: 'j',
  name: `Trim ${id}`,
  cylinder: null,
  inForce: null,
  table: { ...TABLE, values },
  revisions: Array.from({ length: n }, (_, k) => ({
    n: k + 1,
    parent: k || null,
    reason: '',
    override: null,
    runs: k ? ['r1'] : [],
    createdAt: `2026-01-0${k + 1}T00:00:00Z`,
  })),
})
const setOf = (id: string, pass: number | null): RunSet => ({
  ...DEFAULT_SET,
  id,
  job: 'j',
  name: 'whatever it is called',
  pass,
  runCount: 1,
  createdAt: '2026-01-01T00:00:00Z',
})
const runOf = (id: string, set: string, createdAt = '2026-01-05T00:00:00Z'): RunInfo =>
  ({
    id,
    set,
    kind: 'sweep',
    channels: [{ channel: 'lambda1' }, { channel: 'throttle' }, { channel: 'rpm', max: 9000 }],
    leftOut: null,
    revisions: {},
    facts: null,
    createdAt,
  }) as unknown as RunInfo

const settled = async (): Promise<void> => {
  for (let k = 0; k < 20; k++) await nextTick()
}
async function setUp(sets: RunSet[], runs: RunInfo[], rpm = 0) {
  setActivePinia(createPinia())
  const open = useJob()
  const job = { id: 'j', mixture: { ...DEFAULT_MIXTURE, lagMs: 200 }, archived: false } as unknown as Job
  const tables = [tableInfo('a', TABLE.values)]
  const saved: NewRevisions['revisions'][] = []
  const acts: string[] = []
  Object.assign(api, {
    job: () => Promise.resolve(job),
    sets: () => Promise.resolve(sets),
    runs: () => Promise.resolve(runs),
    tables: () => Promise.resolve(tables),
    revision: () => Promise.resolve({ n: 1, table: TABLE }),
    addRevisions: (_job: string, { revisions }: NewRevisions) => {
      saved.push(revisions)
      acts.push('save')
      return Promise.resolve(revisions.map(({ table, values }) => tableInfo(table, values, 2)))
    },
    addSet: (_job: string, set: { pass: number }) => {
      acts.push(`pass ${set.pass}`)
      return Promise.resolve(setOf(`s${set.pass}`, set.pass))
    },
  })
  await open.load('j')
  const bench = {
    state: ref({
      name: 'rig',
      weather: null,
      tables: [{ id: 'trim-1', name: 'Trim a', cylinder: null, table: TABLE }],
    }),
    unkept: ref([]),
    sample: ref({ rpm }),
    problem: ref(''),
    rest: () => Promise.resolve(void acts.push('rest')),
    write: (table: string) => {
      acts.push(`write ${table}`)
      return Promise.resolve(null)
    },
  }
  const { asked, connect } = heldWork<LoopQuestion>()
  const loop = effectScope().run(() => useLoop(bench as unknown as Bench, connect))!
  await settled()
  const field = fields.at(-1)
  if (field && asked[0]) {
    const { tables: own, since } = asked[0].question
    asked[0].give({ field, note: '', step: loopStep(field, own, since), proof: null })
    await settled()
  }
  return { loop, open, saved, acts, bench, asked }
}
beforeEach(() => (fields = []))

describe('the guided loop in the interface', () => {
  it('corrects all tables in one act, then writes, then opens the next pass by its number', async () => {
    fields = [fieldOf(6)]
    const { loop, saved, acts } = await setUp([setOf('s1', 1)], [runOf('r1', 's1')])
    expect(loop.pass.value).toBe(1)
    expect(loop.flatness.value).toMatchObject({ isFlat: false, nodes: 4 })
    expect(loop.changed.value).toHaveLength(4)
    await loop.correct()
    expect(saved).toHaveLength(1)
    expect(saved[0]).toMatchObject([{ table: 'a', parent: 1, reason: 'Guided loop, after pass 1', runs: ['r1'] }])
    expect(saved[0]![0]!.values[0]![0]).toBeGreaterThan(4)
    expect(acts).toEqual(['save', 'rest', 'write trim-1', 'pass 2'])
    expect(loop.problem.value).toBe('')
  })
  it('writes nothing and opens nothing when the change is refused', async () => {
    fields = [fieldOf(6)]
    const { loop, acts } = await setUp([setOf('s1', 1)], [runOf('r1', 's1')])
    Object.assign(api, { addRevisions: () => Promise.reject(new Error('Too large a step.')) })
    await loop.correct()
    expect([acts, loop.problem.value]).toEqual([[], 'Too large a step.'])
  })
  it('opens no pass when the write fails, and says why', async () => {
    fields = [fieldOf(6)]
    const { loop, acts, bench } = await setUp([setOf('s1', 1)], [runOf('r1', 's1')])
    bench.write = () => {
      bench.problem.value = 'Voltage dropped.'
      return Promise.resolve(null)
    }
    await loop.correct()
    expect(acts).toEqual(['save', 'rest'])
    expect(loop.problem.value).toBe('Voltage dropped.')
  })
  it('asks of the pass and the one before, told by number and not by name', async () => {
    fields = [fieldOf(6), fieldOf(1)]
    const sets = [setOf('old', 1), setOf('older', null), setOf('s1', 1), setOf('s2', 2)]
    const runs = [runOf('x', 'old'), runOf('y', 'older'), runOf('r1', 's1'), runOf('r2', 's2')]
    const { loop, asked } = await setUp(sets, runs)
    expect(loop.pass.value).toBe(2)
    const { basis, field } = asked[0]!.question
    expect([basis, field].map((one) => one!.runs.map((run) => run.id))).toEqual([['r1'], ['r2']])
  })
  it('is flat when nothing is left that evidence could tell', async () => {
    fields = [fieldOf(0.1)]
    const { loop } = await setUp([setOf('s1', 1)], [runOf('r1', 's1')])
    expect([loop.flatness.value!.isFlat, loop.changed.value.length]).toEqual([true, 0])
  })
  it('begins at pass 1 after runs that were none of the loop, and goes on after a pass', async () => {
    const first = await setUp([setOf('own', null)], [])
    await first.loop.begin()
    expect(first.acts).toEqual(['pass 1'])
    const later = await setUp([setOf('s3', 3)], [])
    await later.loop.begin()
    expect(later.acts).toEqual(['pass 4'])
  })
})
