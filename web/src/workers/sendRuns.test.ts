import type { RunColumns, RunInfo } from '@yuzumix/core'
import { sendRuns } from './sendRuns'

jest.mock('@/api/client', () => ({}))
jest.mock('comlink', () => ({ transfer: (one: unknown) => one }))

const run = (id: string, samples: number): RunInfo => ({ id, samples, gaugeScale: null }) as RunInfo
const columnsOf = ({ id }: RunInfo): RunColumns => ({
  id,
  time: new Float32Array(1),
  rpm: new Float32Array(1),
  lambda: [],
})

/** Sends runs. @returns ids of each answer that was asked for, ids handed over, shares told, and keys that were sent */
async function send(runs: RunInfo[], sent = new Set<string>(), wanted = () => true) {
  const asked: string[][] = []
  const added: string[] = []
  const shares: number[] = []
  const fetch = (_job: string, some: readonly RunInfo[]): Promise<RunColumns[]> => {
    asked.push(some.map(({ id }) => id))
    return Promise.resolve(some.map(columnsOf))
  }
  const add = (_key: string, { id }: RunColumns): Promise<void> => Promise.resolve(void added.push(id))
  await sendRuns('j', runs, 'field', sent, add, (share) => shares.push(share), wanted, fetch)
  return { asked, added, shares, sent }
}

describe('columns on their way to a worker', () => {
  it('of short runs come together, of long ones by themselves; all are handed over, and how far it is, is told', async () => {
    const short = Array.from({ length: 250 }, (_, k) => run(`s${k}`, 1000))
    const { asked, added, shares } = await send([...short, run('long', 400_000), run('last', 1000)])
    expect(asked.map((some) => some.length)).toEqual([100, 100, 51, 1])
    expect(asked.at(-1)).toEqual(['last'])
    expect(added).toHaveLength(252)
    expect(new Set(added).size).toBe(252)
    expect(shares).toHaveLength(253)
    expect([shares[0], shares.at(-1)]).toEqual([0, 1])
  })
  it('never asks for more runs than one answer gives', async () => {
    const { asked } = await send(Array.from({ length: 1200 }, (_, k) => run(`s${k}`, 10)))
    expect(asked.map((some) => some.length)).toEqual([500, 500, 200])
  })
  it('come once, whether they came before or are named twice', async () => {
    const { sent } = await send([run('a', 10)])
    const { asked, shares } = await send([run('a', 10), run('b', 10), run('b', 10)], sent)
    expect([asked, shares]).toEqual([[['b']], [0, 1]])
  })
  it('stop where the work was given up: what did not arrive counts as not sent', async () => {
    let left = 3
    const runs = ['a', 'b', 'c', 'd'].map((id) => run(id, 200_000))
    const { added, sent } = await send(runs, new Set(), () => left-- > 0)
    expect(added.length).toBeLessThan(4)
    expect(sent.size).toBe(added.length)
  })
})
