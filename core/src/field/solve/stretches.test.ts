import type { Samples } from '../readings/samples'
import { stretchesOf } from './nodeSums'

/** Sweeps of 5 s with 10 readings each; so many of them in a log, which begins at nought. */
function samplesOf(logs: number, sweeps: number): Samples {
  const all = Array.from({ length: logs * sweeps * 10 }, (_, i) => i)
  const sweep = (i: number): number => Math.floor(i / 10)
  return {
    count: all.length,
    run: Uint16Array.from(all, sweep),
    time: Float32Array.from(all, (i) => 7 * (sweep(i) % sweeps) + (i % 10) / 2),
  } as Samples
}

describe('stretches with a level of their own', () => {
  it('are the sweeps, whether each is a log or several are in one', () => {
    expect(stretchesOf(samplesOf(6, 1)).stretches).toBe(6)
    expect(stretchesOf(samplesOf(2, 3)).stretches).toBe(6)
  })
  it('of more sweeps than levels are of the logs: those of one share what they drift by', () => {
    const { stretch, stretches } = stretchesOf(samplesOf(5, 40))
    expect(stretches).toBeLessThanOrEqual(60)
    // Within a minute one level, and never one over two logs.
    expect(stretch[0]).toBe(stretch[70])
    expect(stretch[399]).not.toBe(stretch[400])
  })
  it('of more logs than levels are one each', () => expect(stretchesOf(samplesOf(70, 1)).stretches).toBe(70))
})
