import { effectScope } from 'vue'
import type { RigSample } from '@yuzumix/core'
import { api } from '@/api/client'
import { useBench } from './useBench'

jest.mock('@/api/client', () => ({ api: {} }))

/** Frames that were asked for, and the socket that was opened, to be driven by hand. */
let frames: (() => void)[] = []
let socket: { onopen(): void; onmessage(event: { data: string }): void; close(): void; readyState: number } | null =
  null

beforeEach(() => {
  jest.useFakeTimers()
  frames = []
  socket = null
  Object.assign(globalThis, {
    requestAnimationFrame: (show: () => void) => frames.push(show),
    cancelAnimationFrame: () => undefined,
    location: { href: 'http://127.0.0.1/', protocol: 'http:' },
    WebSocket: class {
      static OPEN = 1
      readyState = 1
      onopen = (): void => undefined
      onmessage = (): void => undefined
      constructor() {
        // eslint-disable-next-line @typescript-eslint/no-this-alias
        socket = this
      }
      close(): void {}
    },
  })
})
afterEach(() => jest.useRealTimers())

const sample = (time: number): RigSample => ({ time, rpm: 3000, lambda: [0.9] }) as RigSample
async function joined() {
  Object.assign(api, { bench: () => Promise.resolve({ id: 'b', controller: { unkept: [] } }) })
  const scope = effectScope(true)
  const bench = scope.run(() => useBench('j', () => undefined))!
  await bench.join()
  socket!.onopen()
  return { bench, scope, hear: (message: object) => socket!.onmessage({ data: JSON.stringify(message) }) }
}

describe('the bench in the interface', () => {
  it('asks for no frame without a bench, nor while nothing is heard', async () => {
    Object.assign(api, { bench: () => Promise.resolve(null) })
    const bench = effectScope(true).run(() => useBench('j', () => undefined))!
    await bench.join()
    expect([frames, socket]).toEqual([[], null])
    await joined()
    expect(frames).toEqual([])
  })
  it('shows what was heard once a frame, however much it was', async () => {
    const { bench, hear } = await joined()
    for (const time of [1, 1.02, 1.04]) hear({ sample: sample(time) })
    expect(frames).toHaveLength(1)
    frames[0]!()
    expect(bench.sample.value!.time).toBe(1.04)
    expect(bench.recent.value).toHaveLength(3)
    hear({ sample: sample(1.06) })
    expect(frames).toHaveLength(2)
  })
  it('says that the link lags when nothing comes, and takes it back', async () => {
    const { bench, hear } = await joined()
    hear({ sample: sample(1) })
    jest.advanceTimersByTime(399)
    expect(bench.lags.value).toBe(false)
    jest.advanceTimersByTime(2)
    expect(bench.lags.value).toBe(true)
    hear({ sample: sample(2) })
    expect(bench.lags.value).toBe(false)
  })
  it('begins anew when a rig was connected anew', async () => {
    const { bench, hear } = await joined()
    hear({ sample: sample(500) })
    hear({ sample: sample(0.1) })
    frames[0]!()
    expect(bench.recent.value.map((one) => one.time)).toEqual([0.1])
  })
})
