import { SHED_BODY, SHED_BOX } from '../../simulator/knownCarburettor'
import { calibrateJetting } from './calibrate'
import { chokingNeedleIn, type Box } from '../carburettor'
import { countedFrom, diameterAt, needleFault, usualNeedle, type Needle } from './needle'
import { searchBox } from '../search/search'
import { usualTargets } from './targets'

const [T1] = SHED_BOX.needles as [Needle]
/** The same needle as it is measured from the end of its shank, 21 mm above. */
const FROM_SHANK: Needle = {
  name: 'S1',
  points: [{ at: 0, diameter: 2.562 }, ...T1.points.map((one) => ({ at: one.at + 21, diameter: one.diameter }))],
}

describe('a needle whose places are counted from the shank', () => {
  it('would rule full throttle and is asked about; a sound one is not', () => {
    expect(chokingNeedleIn(SHED_BODY, SHED_BOX)).toBeNull()
    expect(chokingNeedleIn(SHED_BODY, { ...SHED_BOX, needles: [T1, FROM_SHANK] })).toMatch(
      /^Needle "S1" leaves 0\.\d\d mm² .* counted from the shank\. .*"S1 from 20: …"/,
    )
  })
  it('is sound once it is said how far down zero is', () => {
    const counted = countedFrom(FROM_SHANK, 21)
    expect(counted.points[0]).toEqual({ at: 0, diameter: 2.562 })
    for (const at of [2, 6, 12, 20, 33]) expect(diameterAt(counted, at)).toBeCloseTo(diameterAt(T1, at), 9)
    expect(chokingNeedleIn(SHED_BODY, { ...SHED_BOX, needles: [counted] })).toBeNull()
  })
  it('is judged only where there is a needle and a jet to hold it against', () => {
    expect(chokingNeedleIn(SHED_BODY, { ...SHED_BOX, main: [], needles: [FROM_SHANK] })).toBeNull()
    expect(chokingNeedleIn({ ...SHED_BODY, kind: 'two screws' }, { ...SHED_BOX, needles: [FROM_SHANK] })).toBeNull()
  })
})

describe('a needle that nobody measured', () => {
  const unknown: Needle = { name: 'U', points: [] }
  const box: Box = { ...SHED_BOX, needles: [unknown, ...SHED_BOX.needles] }
  const fitted = { main: 115, pilot: 40, needle: 'U', clip: 3, screw: 1.5, cutaway: 2.5 }
  it('is taken, and does not choke', () => {
    expect(needleFault(unknown)).toBeNull()
    expect(needleFault({ name: 'one', points: [{ at: 0, diameter: 2.5 }] })).toMatch(/or none where it is not known/)
    expect(chokingNeedleIn(SHED_BODY, box)).toBeNull()
    const usual = usualNeedle('U', SHED_BODY)
    expect(needleFault(usual)).toBeNull()
    expect(diameterAt(usual, SHED_BODY.bore)).toBeLessThan(diameterAt(usual, 0))
  })
  it('leaves needle and clip alone, and the rest is proposed all the same', () => {
    const readings = [0.1, 0.2, 0.4, 0.6, 0.8, 1].map((opening) => ({
      opening,
      lambda: opening >= 0.6 ? 0.96 : 0.9,
      error: 0.01,
    }))
    const measured = [{ fitted, readings, weather: null }]
    const { byChanges } = searchBox(
      calibrateJetting(SHED_BODY, box, measured),
      fitted,
      usualTargets('slide'),
      undefined,
      readings,
    )
    const changed = new Set(byChanges.flat().flatMap((one) => one.changed))
    expect(changed.has('clip') || changed.has('needle')).toBe(false)
    expect(changed.has('main')).toBe(true)
  })
})
