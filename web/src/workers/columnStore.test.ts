import type { RunColumns, RunInfo } from '@yuzumix/core'
import { columnStore, keyOf } from './columnStore'

const columns = (id: string): RunColumns => ({
  id,
  time: Float32Array.of(0, 1),
  rpm: Float32Array.of(3000, 3100),
  lambda: [],
})
const info = (over: Partial<RunInfo>): RunInfo =>
  ({ id: 'a', gaugeScale: null, sensorPlace: null, leftOut: null, ...over }) as RunInfo

describe('columns that a worker holds', () => {
  it('come once; what is known beside them is what was said last', () => {
    const { add, columnsOf } = columnStore()
    const asked = info({ sensorPlace: 'tailpipe' })
    add(keyOf(asked), columns('a'))
    expect(columnsOf([asked])[0]).toMatchObject({ id: 'a', sensorPlace: 'tailpipe' })
    const later = info({ leftOut: { fromRpm: 3000, toRpm: 3050, reason: 'slip' } })
    expect(keyOf(later)).toBe(keyOf(asked))
    const [run] = columnsOf([later])
    expect(run).toMatchObject({ leftOut: { fromRpm: 3000, toRpm: 3050 } })
    expect(run!.sensorPlace).toBeUndefined()
  })
  it('of another gauge scale are other columns, and what was never sent is left beside', () => {
    const [usual, other] = [info({ gaugeScale: 14.7 }), info({ gaugeScale: 14.1 })]
    expect(keyOf(usual)).not.toBe(keyOf(other))
    expect(columnStore().columnsOf([usual])).toEqual([])
  })
  it('are others once a part was left out by time, stretches were made or it became a ride; a name changes nothing', () => {
    const stretch = { id: 's', name: 'up', kind: 'sweep' as const, from: 1, to: 4, gear: null }
    const asked = info({ without: null, stretches: null, kind: 'sweep' })
    const others = [
      info({ ...asked, without: [{ from: 0, to: 1, reason: 'traffic' }] }),
      info({ ...asked, without: [{ from: 0, to: 2, reason: 'traffic' }] }),
      info({ ...asked, stretches: [stretch] as unknown as RunInfo['stretches'] }),
      info({ ...asked, kind: 'road' }),
    ]
    expect(new Set([asked, ...others].map(keyOf)).size).toBe(5)
    const renamed = info({ ...asked, stretches: [{ ...stretch, name: 'hill' }] as unknown as RunInfo['stretches'] })
    expect(keyOf(renamed)).toBe(keyOf(others[2]!))
  })
  it('a run left out as a whole has no band', () => {
    const { add, columnsOf } = columnStore()
    const out = info({ leftOut: { fromRpm: null, toRpm: null, reason: 'cold' } })
    add(keyOf(out), columns('a'))
    expect(columnsOf([out])[0]).not.toHaveProperty('leftOut')
  })
})
