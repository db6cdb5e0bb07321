import type { RunColumns, RunInfo } from '@yuzumix/core'
import { columnStore } from './columnStore'
import { askFor } from './sendRuns'

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
    const store = columnStore()
    const [asked] = askFor([info({ sensorPlace: 'tailpipe' })])
    store.add(asked!.key, columns('a'))
    expect(store.pick([asked!])[0]).toMatchObject({ id: 'a', sensorPlace: 'tailpipe' })
    const [later] = askFor([info({ leftOut: { fromRpm: 3000, toRpm: 3050, reason: 'slip' } })])
    expect(later!.key).toBe(asked!.key)
    const [run] = store.pick([later!])
    expect(run).toMatchObject({ leftOut: { fromRpm: 3000, toRpm: 3050 } })
    expect(run!.sensorPlace).toBeUndefined()
  })
  it('of another gauge scale are other columns, and what was never sent is left beside', () => {
    const [usual, other] = askFor([info({ gaugeScale: 14.7 }), info({ gaugeScale: 14.1 })])
    expect(usual!.key).not.toBe(other!.key)
    expect(columnStore().pick([usual!])).toEqual([])
  })
  it('a run left out as a whole has no band', () => {
    expect(askFor([info({ leftOut: { fromRpm: null, toRpm: null, reason: 'cold' } })])[0]!.beside).toEqual({})
  })
})
