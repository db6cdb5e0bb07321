import { seeds } from '../../../trials/seeds'
import { SHED, shedRides, type Shed } from '../../../trials/shedRides'
import { correctedOn } from '../../change/sinceMeasured'
import { suggestChange } from '../../change/suggest'
import { interpolate } from '../../table/lookup'
import { build, type Table } from '../../table/table'
import { DEFAULT_FIELD_OPTIONS, type Field } from '../field'
import { fieldOfPasses } from '../fieldOfPasses'
import { servesOpen } from './holdsCell'

const GRID = {
  loadAxis: 'throttle' as const,
  rpm: [1700, 2500, 3400, 4300, 5300, 6400, 7500, 8800],
  load: [1, 4, 9, 17, 31, 55, 78, 100],
}
const LOOP = { most: 11, toRpm: 5500 }

describe('beside a loop that hunts', () => {
  it.each(seeds(6, 2).flatMap((seed) => [0.01, 0.03].map((swing) => [seed, swing] as const)))(
    'three passes leave 3 %% at the most beyond its edge, at the openings that it holds, seed %i, swing %d',
    (seed, swing) => {
      const need = (rpm: number, opening: number): number =>
        0.05 * Math.cos(rpm / 1370 + seed) + 0.0004 * opening + 0.03
      const shed: Shed = { ...SHED, seed, hz: 25, need, loop: { ...LOOP, swing } }
      const empty: Table = { ...GRID, kind: 'fuel trim', composition: 'multiply', values: build(GRID, () => 0) }
      const passes: { runs: ReturnType<typeof shedRides>; on: Table }[] = []
      let now = empty
      let field: Field | null = null
      for (let pass = 0; pass < 3; pass++) {
        const on = now
        const added = (rpm: number, load: number): number => Math.log(1 + interpolate(on, on.values, rpm, load) / 100)
        const total = (to: Table) => correctedOn(GRID, [{ cylinder: null, then: empty, now: to }])
        const runs = shedRides({ ...shed, added }, [4, 9, 17, 31, 55, 100], 3, 100 * pass)
        field = fieldOfPasses(
          runs,
          passes.map((one) => one.runs),
          {
            ...DEFAULT_FIELD_OPTIONS,
            grid: GRID,
            target: build(GRID, (row) => shed.wanted(GRID.load[row]!)),
            lag: 0.09,
            corrected: pass ? total(now) : [],
            correctedBefore: pass ? [] : null,
            correctedByPass: passes.map((one) => total(one.on)),
          },
        )
        passes.push({ runs, on })
        now = { ...now, values: suggestChange(now, field).values }
      }
      // Well inside the loop nothing is touched.
      expect(GRID.rpm.slice(1, 4).map((_, k) => field!.cylinders[0]!.held[2]![k + 1])).toEqual([true, true, true])
      for (let rpm = LOOP.toRpm + 50; rpm < 8600; rpm += 50)
        for (const opening of [4, 5, 6, 7, 8, 9]) {
          const left = Math.exp(need(rpm, opening)) / (1 + interpolate(now, now.values, rpm, opening) / 100) - 1
          expect(Math.abs(left)).toBeLessThan(0.03)
        }
    },
  )
  it('only the last cells of a zone serve what is open', () => {
    const zone = { row: 2, load: 9, fromRpm: 2000, toRpm: 5500 }
    const serves = (rpm: number): boolean => servesOpen(GRID, zone, GRID.rpm.indexOf(rpm))
    expect([2500, 3400, 4300, 5300].map(serves)).toEqual([true, false, false, true])
    // An edge just before the next breakpoint leaves nothing open between.
    expect(servesOpen(GRID, { ...zone, toRpm: 6300 }, GRID.rpm.indexOf(5300))).toBe(false)
  })
})
