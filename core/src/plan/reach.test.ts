import type { MadeRun } from './madeRun'
import { reachLearnt, reachOf } from './reach'

const SPAN = { fromRpm: 2000, toRpm: 9000 }
const sweep = (load: number, toRpm: number): MadeRun => ({ kind: 'sweep', load, fromRpm: 2050, toRpm })
/** Asks again and again of an engine that goes so far at 5 %. @returns ends asked for */
function askedOf(limit: number, times = 8): number[] {
  const made: MadeRun[] = []
  return Array.from({ length: times }, () => {
    const asked = reachLearnt(5, SPAN, made)
    made.push(sweep(5, Math.min(asked, limit) - 40))
    return asked
  })
}

describe('how far an opening reaches', () => {
  it('is the usual where nothing was run, and for holds', () => {
    expect(reachLearnt(5, SPAN, [])).toBe(reachOf(5, SPAN))
    expect(reachLearnt(5, SPAN, [{ kind: 'hold', load: 5, fromRpm: 8000, toRpm: 8000 }])).toBe(reachOf(5, SPAN))
    expect(reachLearnt(40, SPAN, [])).toBe(9000)
  })
  it('goes on where runs came to the end of what was asked', () => {
    const asked = askedOf(20_000)
    expect(asked[0]).toBe(reachOf(5, SPAN))
    expect(asked.at(-1)).toBe(9000)
    expect(asked).toEqual([...asked].sort((a, b) => a - b))
  })
  it.each([7100, 7400, 8300])('asks no further where an engine once went no further than %i', (limit) => {
    expect(Math.abs(askedOf(limit).at(-1)! - limit)).toBeLessThanOrEqual(100)
  })
  it('is no less at a larger opening, and says nothing of a smaller one', () => {
    const made = [sweep(5, 8960)]
    expect(reachLearnt(10, SPAN, made)).toBe(9000)
    expect(reachLearnt(5, SPAN, [sweep(10, 8960)])).toBe(reachOf(5, SPAN))
  })
})
