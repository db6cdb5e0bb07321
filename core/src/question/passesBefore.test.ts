import { DEFAULT_MIXTURE } from '../contract/mixture'
import type { RunInfo } from '../run/runInfo'
import { passesBefore } from './passesBefore'

const TABLE = { id: 't', revisions: [1, 2, 3].map((n) => ({ n, createdAt: `2026-01-0${n}` })) as never }
const run = (id: string, set: string, revision: number): RunInfo =>
  ({
    id,
    set,
    kind: 'sweep',
    leftOut: null,
    createdAt: '2026-01-01',
    revisions: { t: revision },
    channels: [{ channel: 'lambda1' }],
  }) as unknown as RunInfo
const sets = [
  { id: 'stock', setup: 'stock pipe' },
  { id: 'one', setup: 'open pipe' },
  { id: 'two', setup: 'open pipe ' },
  { id: 'later', setup: 'open pipe' },
]
const runs = [
  run('s', 'stock', 1),
  run('a', 'one', 1),
  run('b', 'one', 1),
  run('c', 'one', 2),
  run('d', 'two', 2),
  run('e', 'two', 3),
  run('f', 'two', 3),
  run('g', 'later', 3),
]
const before = (own: string[], over: object = {}) =>
  passesBefore(
    runs.filter((one) => own.includes(one.id)),
    { mixture: DEFAULT_MIXTURE, sets, runs, tables: [TABLE], ...over },
  ).map((pass) => pass.map((one) => one.id))

describe('passes before a field', () => {
  it('are those of the same setup, by the revision they were made on, oldest first', () => {
    expect(before(['e', 'f'])).toEqual([['a', 'b'], ['c'], ['d']])
    expect(before(['a', 'b'])).toEqual([])
  })
  it('in its own set a run of the same state is no pass before', () => {
    expect(before(['e'])).toEqual([['a', 'b'], ['c'], ['d']])
  })
  it('leave out what the job leaves out, and are none of runs from several sets', () => {
    expect(before(['e'], { mixture: { ...DEFAULT_MIXTURE, runsLeftOut: ['c'] } })).toEqual([['a', 'b'], ['d']])
    expect(before(['a', 'e'])).toEqual([])
    expect(before([])).toEqual([])
  })
})
