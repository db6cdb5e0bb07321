/** @jest-environment jsdom */
import { effectScope } from 'vue'
import type { RigSample } from '@yuzumix/core'
import { api } from '@/api/client'
import { useBench } from './useBench'

jest.mock('@/api/client', () => {
  const mocked = {}
  const socketUrl = (path: string): string => `ws://localhost/api/v1${path}`
  return { api: mocked, apiAs: () => mocked, socketUrl }
})
jest.mock('element-plus', () => ({ ElMessageBox: { prompt: jest.fn() } }))

/** Frames that were asked for, and the socket that was opened, to be driven by hand. */
let frames: (() => void)[] = []
interface Socket {
  url: string
  readyState: number
  sent: string[]
  onopen(): void
  onmessage(event: { data: string }): void
  onclose(event: object): void
}
let socket: Socket | null = null
let opened = 0

beforeEach(() => {
  jest.useFakeTimers()
  frames = []
  socket = null
  opened = 0
  Object.assign(globalThis, {
    requestAnimationFrame: (show: () => void) => frames.push(show),
    cancelAnimationFrame: () => undefined,
    WebSocket: class {
      static OPEN = 1
      readyState = 1
      onopen = (): void => undefined
      onmessage = (): void => undefined
      onclose = (): void => undefined
      sent: string[] = []
      constructor(readonly url: string) {
        opened++
        // eslint-disable-next-line @typescript-eslint/no-this-alias
        socket = this
      }
      send(text: string): void {
        this.sent.push(text)
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
  it('shows what was heard at most every 40 ms and once a frame, however much it was', async () => {
    const { bench, hear } = await joined()
    for (const time of [1, 1.02, 1.04]) hear({ sample: sample(time) })
    expect(frames).toHaveLength(1)
    frames[0]!()
    expect(bench.sample.value!.time).toBe(1.04)
    expect(bench.recent.value).toHaveLength(3)
    hear({ samples: [sample(1.06), sample(1.08)], left: 2 })
    jest.advanceTimersByTime(39)
    expect(frames).toHaveLength(1)
    jest.advanceTimersByTime(1)
    expect(frames).toHaveLength(2)
    frames[1]!()
    expect([bench.sample.value!.time, bench.recent.value.length, bench.missing.value]).toEqual([1.08, 5, 2])
    jest.advanceTimersByTime(40)
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

  it('takes up a stream that was cut by itself, and says so meanwhile', async () => {
    const { bench, hear } = await joined()
    expect(socket!.url).toBe('ws://localhost/api/v1/jobs/j/bench/stream?together=16')
    hear({ news: { you: true, runs: 0 } })
    expect([bench.connection.value, bench.isDriving.value]).toEqual(['open', true])
    const first = socket!
    first.onclose({})
    expect([bench.connection.value, bench.isDriving.value]).toEqual(['lost', false])
    jest.advanceTimersByTime(1000)
    expect(socket).not.toBe(first)
    socket!.onopen()
    expect(bench.connection.value).toBe('open')
  })
  it('does not call for a bench that was let go elsewhere, and joins the one that took its place', async () => {
    const { bench } = await joined()
    const first = socket!
    Object.assign(api, { bench: () => Promise.resolve(null) })
    first.onclose({ code: 4000 })
    for (let k = 0; k < 5; k++) await Promise.resolve()
    jest.advanceTimersByTime(60_000)
    expect([opened, bench.connection.value, bench.state.value]).toEqual([1, 'none', null])
    Object.assign(api, { bench: () => Promise.resolve({ name: 'another' }) })
    await bench.join()
    expect([opened, bench.connection.value]).toEqual([2, 'opening'])
  })
  it('takes nothing up after it was let go or the job was left', async () => {
    Object.assign(api, { disconnectBench: () => Promise.resolve() })
    const { bench, scope } = await joined()
    await bench.disconnect()
    socket!.onclose({})
    jest.advanceTimersByTime(60_000)
    expect([opened, bench.connection.value]).toEqual([1, 'none'])
    await bench.join()
    scope.stop()
    socket!.onclose({})
    jest.advanceTimersByTime(60_000)
    expect(opened).toBe(2)
  })
  it('shows nothing of a rig that was let go, though more had been heard', async () => {
    Object.assign(api, { disconnectBench: () => Promise.resolve() })
    const { bench, hear } = await joined()
    hear({ sample: sample(1) })
    frames[0]!()
    hear({ sample: sample(1.02) })
    await bench.disconnect()
    jest.advanceTimersByTime(1000)
    expect([frames.length, bench.sample.value]).toEqual([1, null])
  })
  it('says what its driver wishes, and nothing while the stream is down', async () => {
    const { bench } = await joined()
    bench.drive()
    bench.set({ throttle: 20 })
    expect(socket!.sent.map((text) => JSON.parse(text) as object)).toEqual([
      { act: 'drive' },
      { act: 'set', controls: { throttle: 20 } },
    ])
    const { sent } = socket!
    socket!.onclose({})
    bench.stop()
    expect(sent).toHaveLength(2)
    expect(bench.refused.value).toMatch(/no link/)
  })
  it('wishes nothing of a source whose columns are being told anew, until its new stream is open', async () => {
    const { bench } = await joined()
    bench.state.value = { ...bench.state.value!, lines: { source: 'x', baud: null } } as never
    const lines = bench.state.value
    Object.assign(api, { connectBench: () => Promise.resolve(lines), bench: () => Promise.resolve(lines) })
    const first = socket!
    const told = bench.remap({})
    expect(bench.connection.value).toBe('opening')
    await told
    expect(bench.connection.value).toBe('opening')
    first.onclose({ code: 4000 })
    for (let k = 0; k < 5; k++) await Promise.resolve()
    socket!.onopen()
    expect([opened, bench.connection.value]).toEqual([2, 'open'])
    Object.assign(api, { connectBench: () => Promise.reject(new Error('no')) })
    await bench.remap({})
    expect([bench.connection.value, bench.problem.value]).toEqual(['open', 'no'])
  })
  it('adds up keys pressed faster than they are answered', async () => {
    const { bench, hear } = await joined()
    const shift = (): void => bench.set({ gear: bench.controls.value!.gear + 1 })
    const answer = (gear: number): void => hear({ controls: { throttle: 0, gear } })
    answer(0)
    shift()
    shift()
    answer(1)
    shift()
    expect(JSON.parse(socket!.sent.at(-1)!) as object).toEqual({ act: 'set', controls: { gear: 3 } })
    answer(2)
    expect(bench.controls.value!.gear).toBe(3)
    // What it came to in the end is shown.
    answer(4)
    expect(bench.controls.value!.gear).toBe(4)
  })
  it('shows what a failed write left behind, and the reason', async () => {
    const { bench } = await joined()
    const after = { id: 'b', controller: { readable: false, unkept: ['base'] } }
    Object.assign(api, {
      writeBench: () => Promise.reject(new Error('Voltage dropped.')),
      bench: () => Promise.resolve(after),
    })
    expect((await bench.write('base', [[1]]))!.message).toBe('Voltage dropped.')
    expect([bench.problem.value, bench.unkept.value]).toEqual(['Voltage dropped.', ['base']])
  })
})
