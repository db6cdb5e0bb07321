import { seeds } from '../../../trials/seeds'
import { SHED, shedRides, type Shed } from '../../../trials/shedRides'
import { estimateField } from '../estimate'
import { DEFAULT_FIELD_OPTIONS, type Field } from '../field'

const GRID = {
  loadAxis: 'throttle' as const,
  rpm: [1700, 2500, 3400, 4300, 5300, 6400, 7500, 8800],
  load: [1, 4, 9, 17, 31, 55, 78, 100],
}
const fieldOf = (shed: Shed): Field =>
  estimateField(shedRides(shed, [4, 9, 17, 31, 100]), {
    ...DEFAULT_FIELD_OPTIONS,
    grid: GRID,
    target: GRID.load.map((load) => GRID.rpm.map(() => shed.wanted(load))),
    lag: 0.09,
  })
const row = GRID.load.indexOf(4)
/** At 4 % an open mixture about lambda 1, so that the loop shows no edge there; further up it is clear. */
const need = (rpm: number, opening: number): number =>
  opening > 6 ? 0.095 + 0.015 * Math.cos(rpm / 1370) : 0.036 + 0.014 * Math.cos(rpm / 1900)

describe('a row below a held zone', () => {
  it.each(seeds(8, 3))('that lies on lambda 1 without an edge is held over the same speeds, seed %i', (seed) => {
    const [one] = fieldOf({ ...SHED, seed, need, loop: { most: 12, toRpm: 4700, swing: 0.005 } }).cylinders
    expect([2500, 3400].map((rpm) => one!.held[row]![GRID.rpm.indexOf(rpm)])).toEqual([true, true])
    // Beyond the loop it is open, whatever it reads.
    expect([6400, 7500].map((rpm) => one!.held[row]![GRID.rpm.indexOf(rpm)])).toEqual([false, false])
  })
  it.each(seeds(8, 3))(
    'that reads otherwise is open, and without a zone above one on lambda 1 is, too, seed %i',
    (seed) => {
      const open = fieldOf({ ...SHED, seed, need, loop: null }).cylinders[0]!
      expect(open.held[row]!.slice(1).some(Boolean)).toBe(false)
      expect(open.changePct[row]![GRID.rpm.indexOf(3400)]).toBeCloseTo(100 * (Math.exp(need(3400, 4)) - 1), 0)
    },
  )
})
