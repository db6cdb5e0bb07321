import { effectScope, nextTick, shallowRef } from 'vue'
import { DEFAULT_CURVE, DEFAULT_FILTERS, type RunInfo } from '@yuzumix/core'
import type { Connected } from './connect'
import type { RunsWorker } from './runs.worker'
import { useOverlay, type OverlayWish } from './useOverlay'

jest.mock('@/api/columns', () => ({
  fetchColumns: (_job: string, runs: RunInfo[]) =>
    Promise.resolve(runs.map(({ id }) => ({ id, time: new Float32Array(1), rpm: new Float32Array(1), lambda: [] }))),
}))
jest.mock('./connect', () => ({}))

const run = (id: string): RunInfo => ({ id, gaugeScale: null, sensorPlace: null, leftOut: null }) as RunInfo
const wish = (ids: string[], heldIn: string[] = []): OverlayWish => ({
  stops: [{ stop: 100, runs: ids.map(run), sweeps: ids.length }],
  options: DEFAULT_CURVE,
  factor: 1,
  heldIn: heldIn.map(run),
  held: heldIn.length
    ? { grid: { loadAxis: 'throttle', rpm: [1, 2], load: [1, 2] }, filters: DEFAULT_FILTERS, lag: null }
    : null,
})
const settled = async (): Promise<void> => {
  for (let k = 0; k < 30; k++) await nextTick()
}

function setUp(first: OverlayWish | null) {
  const overlays: { runs: number; give: (name: string) => void }[] = []
  const held: { give: (load: number) => void }[] = []
  const sent: string[] = []
  let ended = 0
  const connect = (): Connected<RunsWorker> => ({
    remote: {
      addRun: (key: string) => Promise.resolve(void sent.push((JSON.parse(key) as [string])[0])),
      overlays: (stops: { runs: unknown[] }[]) =>
        new Promise((resolve) => overlays.push({ runs: stops[0]!.runs.length, give: (name) => resolve([{ name }]) })),
      held: () => new Promise((resolve) => held.push({ give: (load) => resolve([{ load, fromRpm: 1, toRpm: 2 }]) })),
    } as unknown as Connected<RunsWorker>['remote'],
    end: () => ended++,
  })
  const wishes = shallowRef<OverlayWish | null>(first)
  const scope = effectScope()
  const state = scope.run(() => useOverlay(() => 'job', wishes, connect))!
  const { overlays: shown, held: zones, problem, cancel } = state
  return { wishes, overlays, held, sent, ended: () => ended, shown, zones, problem, cancel }
}

describe('runs laid over each other', () => {
  it('only the newest choice is shown, and no run is sent twice', async () => {
    const { wishes, overlays, sent, shown } = setUp(wish(['a', 'b']))
    await settled()
    wishes.value = wish(['b', 'c'])
    await settled()
    overlays[1]!.give('new')
    await settled()
    overlays[0]!.give('old')
    await settled()
    expect([shown.value, sent]).toEqual([[{ name: 'new' }], ['a', 'b', 'c']])
  })
  it('held zones are sought once for the same runs, and again for others', async () => {
    const { wishes, overlays, held, zones } = setUp(wish(['a'], ['h']))
    await settled()
    overlays[0]!.give('x')
    await settled()
    held[0]!.give(20)
    await settled()
    wishes.value = wish(['b'], ['h'])
    await settled()
    overlays[1]!.give('y')
    await settled()
    expect([held.length, zones.value![0]!.load]).toEqual([1, 20])
    wishes.value = wish(['b'], ['h', 'i'])
    await settled()
    overlays[2]!.give('z')
    await settled()
    expect(held).toHaveLength(2)
    // Until they come, those of other runs are not shown for theirs.
    expect(zones.value).toBeNull()
    // And back again before they came, they are sought anew.
    wishes.value = wish(['b'], ['h'])
    await settled()
    overlays[3]!.give('z')
    await settled()
    held[2]!.give(30)
    await settled()
    expect(zones.value![0]!.load).toBe(30)
  })
  it('nothing is chosen: nothing is shown; stopped: the next choice begins anew', async () => {
    const { wishes, overlays, shown, cancel, problem, sent, ended } = setUp(wish(['a']))
    await settled()
    cancel()
    overlays[0]!.give('late')
    await settled()
    expect([shown.value, ended(), problem.value]).toEqual([[], 1, expect.stringMatching(/^Stopped/)])
    wishes.value = wish(['a'])
    await settled()
    overlays[1]!.give('again')
    await settled()
    expect([shown.value, sent, problem.value]).toEqual([[{ name: 'again' }], ['a', 'a'], ''])
    wishes.value = null
    await settled()
    expect(shown.value).toEqual([])
  })
})
