import { proposedSets } from './proposedSets'

const revisions = (count: number) =>
  Array.from({ length: count }, (_, k) => ({ n: k + 1, createdAt: '2026-01-01T00:00:00Z' })) as never
const table = (count: number) => ({ id: 't', name: 'Fuel', revisions: revisions(count) })
const sets = [
  { id: 'a', name: 'Before', figures: undefined },
  { id: 'b', name: 'After', figures: undefined },
] as never
const run = (set: string, n: number) => ({ set, revisions: { t: n }, createdAt: '2026-01-02T00:00:00Z' })

describe('the set that new runs would go to', () => {
  it('is the newest while nothing was changed since its runs', () => {
    const [one] = proposedSets(['d'], { sets, runs: [run('a', 1), run('b', 2)], tables: [table(2)] })
    expect(one).toEqual({ set: 'b', why: 'the newest set' })
    expect(proposedSets(['d'], { sets, runs: [run('a', 1)], tables: [table(2)] })[0]!.set).toBe('b')
    expect(proposedSets(['d'], { sets, runs: [run('b', 1)], tables: [] })[0]!.set).toBe('b')
  })
  it('is a new one where all its runs were made on an older state', () => {
    const [one] = proposedSets(['d'], { sets, runs: [run('b', 1), run('b', 2)], tables: [table(3)] })
    expect(one!.set).toBeNull()
    expect(one!.why).toBe('Fuel is at revision 3, and the runs of After were made before')
    expect(proposedSets(['d'], { sets, runs: [run('b', 2), run('b', 3)], tables: [table(3)] })[0]!.set).toBe('b')
  })
  it('is a new one for each day after the first, and in a job without any', () => {
    expect(proposedSets(['d', 'e'], { sets, runs: [], tables: [] }).map((one) => one.set)).toEqual(['b', null])
    expect(proposedSets(['d'], { sets: [], runs: [], tables: [] })[0]!.set).toBeNull()
  })
  it('is none that holds typed figures alone', () => {
    const typed = [...(sets as object[]), { id: 'c', name: 'Typed', figures: { torque: [] } }] as never
    expect(proposedSets(['d'], { sets: typed, runs: [], tables: [] })[0]!.set).toBe('b')
  })
})
