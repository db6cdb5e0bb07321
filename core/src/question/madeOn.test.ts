import type { RevisionInfo } from '../contract/table'
import { foreignWarning, madeOnNewest, measuredRevision, movedSince, revisionOf, untoldRuns } from './madeOn'

const at = (minute: number): string => `2026-03-02T10:${String(minute).padStart(2, '0')}:00.000Z`
const table = (id: string, ...minutes: number[]) => ({
  id,
  revisions: minutes.map((minute, k) => ({ n: k + 1, createdAt: at(minute) }) as RevisionInfo),
})
const run = (minute: number, revisions: Record<string, number> = {}) => ({ createdAt: at(minute), revisions })
const fuel = table('fuel', 5, 20, 40)

describe('the revision a run was made on', () => {
  it('is the one it was bound to', () => expect(revisionOf(run(50, { fuel: 2 }), fuel)).toBe(2))
  it.each([
    ['before the table came', 1, 1],
    ['after the first', 10, 1],
    ['after the second', 20, 2],
    ['after the last', 59, 3],
  ])('else the latest at the time: %s', (_what, minute, n) => expect(revisionOf(run(minute), fuel)).toBe(n))
  it('a binding to a revision that is not there counts for nothing', () =>
    expect(revisionOf(run(10, { fuel: 9 }), fuel)).toBe(1))
})

describe('runs that may be averaged', () => {
  it('are those of the newest state of all tables', () => {
    const trim = table('trim', 5, 30)
    const runs = [run(10), run(25), run(35), run(36)]
    const made = madeOnNewest(runs, [fuel, trim])
    expect(made.runs).toEqual([runs[2], runs[3]])
    expect(made.older).toEqual([runs[0], runs[1]])
    expect([...made.revisions]).toEqual([
      ['fuel', 2],
      ['trim', 2],
    ])
  })
  it('are all where there is no table, and none of none', () => {
    expect(madeOnNewest([run(1), run(30)], [])).toMatchObject({ older: [], revisions: new Map() })
    expect(madeOnNewest([], [fuel])).toEqual({ runs: [], older: [], revisions: new Map() })
  })
})

it('tables that moved since are those with a newer revision, whatever no run tells of', () => {
  const trim = table('trim', 5, 30)
  const on = new Map([
    ['fuel', 2],
    ['trim', 2],
  ])
  expect(movedSince([fuel, trim, table('spark', 5, 6)], on)).toEqual([{ info: fuel, n: 2 }])
})

describe('what a step is judged against', () => {
  it('is the newest revision that a run rests on, else the first', () => {
    expect(measuredRevision(fuel, [])).toEqual({ n: 1, isMeasured: false })
    expect(measuredRevision(fuel, [run(10), run(25)])).toEqual({ n: 2, isMeasured: true })
  })
})

describe('runs of which it cannot be told on which state they were made', () => {
  const states = (...minutes: number[]) => ({
    id: 'fuel',
    name: 'Fuel',
    revisions: minutes.map(
      (minute, k) => ({ n: k + 1, createdAt: at(minute), runs: [] as string[] }) as unknown as RevisionInfo,
    ),
  })
  const early = { id: 'a', warnings: [] as string[], ...run(1) }
  it('are those before a table of which several states were saved', () => {
    expect(untoldRuns([early], states(5, 20))).toEqual({ table: 'fuel', runs: ['a'], revisions: [1, 2] })
    expect(untoldRuns([early], states(5))).toBeNull()
  })
  it.each([
    ['somebody bound it', [{ ...early, revisions: { fuel: 2 } }]],
    ['it came after the table', [{ ...early, createdAt: at(6) }]],
    ['another run lies between', [early, { id: 'b', warnings: [], ...run(10) }]],
  ])('none where %s', (_what, runs) => expect(untoldRuns(runs, states(5, 20))).toBeNull())
  it('are those made while the controller held what is none of its states, until somebody says which', () => {
    const foreign = { ...early, createdAt: at(30), warnings: [foreignWarning('Fuel')] }
    expect(untoldRuns([foreign], states(5, 20))).toEqual({ table: 'fuel', runs: ['a'], revisions: [1, 2] })
    expect(untoldRuns([{ ...foreign, revisions: { fuel: 2 } }], states(5, 20))).toBeNull()
    expect(untoldRuns([{ ...foreign, warnings: [foreignWarning('Spark')] }], states(5))).toBeNull()
  })
  it('candidates end where a state rests on runs', () => {
    const table = states(5, 20, 30)
    table.revisions[2] = { ...table.revisions[2]!, runs: ['a'] }
    expect(untoldRuns([early], table)!.revisions).toEqual([1, 2])
  })
})
