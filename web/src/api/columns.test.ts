import type { RunInfo } from '@yuzumix/core'
import { api } from './client'
import { fetchColumns } from './columns'

jest.mock('./client', () => ({ api: {} }))

const run = (id: string, over: Partial<RunInfo> = {}): RunInfo =>
  ({
    id,
    samples: 3,
    gaugeScale: null,
    sensorPlace: null,
    leftOut: null,
    channels: ['time', 'rpm', 'lambda1', 'throttle', 'spark'].map((channel) => ({ channel })),
    ...over,
  }) as unknown as RunInfo
/** Values by run and channel. */
const valueOf = (id: string, channel: string): number => id.length * 10 + channel.length
const asked: string[][] = []
beforeAll(() => {
  api.columns = (_job, { runs }) => {
    asked.push(runs.flatMap((one) => one.channels.map((channel) => `${one.run} ${channel}`)))
    const values = runs.flatMap((one) =>
      one.channels.flatMap((channel) => [0, 1, 2].map((k) => k + valueOf(one.run, channel))),
    )
    return Promise.resolve(new Response(Float32Array.from(values).buffer))
  }
})
beforeEach(() => (asked.length = 0))

describe('columns of runs', () => {
  it('are fetched once: another computation asks for what it lacks only', async () => {
    const [first] = await fetchColumns('j', [run('a')], 'field')
    expect(asked).toEqual([['a time', 'a rpm', 'a lambda1', 'a throttle']])
    expect([...first!.rpm]).toEqual([13, 14, 15])
    const [again] = await fetchColumns('j', [run('a')], 'spark')
    expect(asked[1]).toEqual(['a spark'])
    expect([...again!.spark!]).toEqual([15, 16, 17])
    await fetchColumns('j', [run('a')], 'field')
    expect(asked).toHaveLength(2)
  })
  it('of one more run are fetched for that run only', async () => {
    await fetchColumns('j', [run('a'), run('bb')], 'field')
    expect(asked).toEqual([['bb time', 'bb rpm', 'bb lambda1', 'bb throttle']])
  })
  it('are copies: what went to a worker is there for the next', async () => {
    const [first] = await fetchColumns('j', [run('a')], 'field')
    structuredClone(first!.rpm.buffer, { transfer: [first!.rpm.buffer as ArrayBuffer] })
    const [again] = await fetchColumns('j', [run('a')], 'field')
    expect([...again!.rpm]).toEqual([13, 14, 15])
  })
  it('of another scale of the gauge are others', async () => {
    await fetchColumns('j', [run('a', { gaugeScale: 14.1 })], 'field')
    expect(asked).toHaveLength(1)
  })
})
