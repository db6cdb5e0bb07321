import fc from 'fast-check'
import type { FieldAnswer } from '../contract/field'
import { complaintSpeeds, findingOf, placeFaults } from './complaints'

const blank = (value: number | null): (number | null)[][] => [
  [value, value, value],
  [value, value, value],
]
/** A field of two rows and three columns; percent off by cell. */
function fieldOf(changePct: (number | null)[][], more: Partial<FieldAnswer> = {}): FieldAnswer {
  const one = { cylinder: 1, changePct, held: changePct.map((row) => row.map(() => false)) }
  return {
    rpm: [2000, 4000, 6000],
    load: [20, 100],
    loadAxis: 'throttle',
    cylinders: [one],
    heldZones: [],
    runs: [],
    ...more,
  } as never
}
const span = (
  fromRpm: number | null,
  toRpm: number | null,
  fromThrottle: number | null = null,
  toThrottle: number | null = null,
) => ({
  fromRpm,
  toRpm,
  fromThrottle,
  toThrottle,
})

describe('what is found where a complaint is pinned', () => {
  it('is the cell furthest off inside it, with its way', () => {
    const field = fieldOf([
      [0, 5, -9],
      [0, 1, 12],
    ])
    expect(findingOf(span(3500, 4500), field)).toMatchObject({
      found: 'mixture error',
      worst: { row: 0, column: 1, pct: 5 },
    })
    expect(findingOf(span(5500, 6500, 0, 40), field)).toMatchObject({ worst: { row: 0, column: 2, pct: -9 } })
    expect(findingOf(span(5500, 6500, 0, 40), field).said).toMatch(/^Rich by 9\.0 %/)
    expect(findingOf(span(null, null), field)).toMatchObject({ worst: { pct: 12 } })
  })
  it('is judged by the cells on either side where it is narrower than the breakpoints', () => {
    const field = fieldOf([
      [0, 4, 0],
      [0, 0, 0],
    ])
    expect(findingOf(span(4300, 4600, 10, 30), field)).toMatchObject({ found: 'mixture error', worst: { column: 1 } })
  })
  it('is nothing measured outside the field, without readings, and without a field', () => {
    expect(findingOf(span(500, 900), fieldOf(blank(8))).found).toBe('nothing measured')
    expect(findingOf(span(3500, 4500), fieldOf(blank(null))).found).toBe('nothing measured')
    expect(findingOf(span(3500, 4500), null).found).toBe('nothing measured')
  })
  it('is a misfire where one run alone reads lean, and a hole where torque falls wide open with the mixture right', () => {
    const runs = [{ id: 'r', used: 9, setAside: {}, odd: { fromRpm: 3800, toRpm: 4400, departurePct: 8 } }]
    expect(findingOf(span(4000, 4500), fieldOf(blank(0.5), { runs } as never)).found).toBe('misfire')
    expect(findingOf(span(5000, 5500), fieldOf(blank(0.5), { runs } as never)).found).toBe('nothing wrong')
    const holes = [{ fromRpm: 3900, toRpm: 4600 }]
    expect(findingOf(span(4000, 4500), fieldOf(blank(0.5)), holes).found).toBe('hole')
    expect(findingOf(span(4000, 4500, 0, 30), fieldOf(blank(0.5)), holes).found).toBe('nothing wrong')
  })
  it('is the edge of the loop where that lies inside and the mixture is right; else nothing wrong', () => {
    const heldZones = [{ load: 20, fromRpm: 2300, toRpm: 4200 }]
    expect(findingOf(span(4000, 4500, 10, 30), fieldOf(blank(0.5), { heldZones })).found).toBe('loop edge')
    expect(findingOf(span(4000, 4500, 80, 100), fieldOf(blank(0.5), { heldZones })).found).toBe('nothing wrong')
  })
})

describe('where a complaint may be pinned', () => {
  it('is anywhere from 0 to the rev ceiling and from 0 to 100 %, low end first', () => {
    const rpm = fc.integer({ min: -500, max: 12_000 })
    const throttle = fc.integer({ min: -20, max: 120 })
    fc.assert(
      fc.property(rpm, rpm, throttle, throttle, (a, b, c, d) => {
        const isIn =
          a >= 0 && b >= 0 && a <= 9000 && b <= 9000 && a <= b && c >= 0 && d >= 0 && c <= 100 && d <= 100 && c <= d
        expect(placeFaults(span(a, b, c, d), { revCeiling: 9000 }).length === 0).toBe(isIn)
      }),
    )
  })
  it('is not asked where nobody says', () => {
    expect(placeFaults(span(null, null), undefined)).toEqual([])
  })
})

it('a complaint with one end is felt there; one without any nowhere', () => {
  expect(
    complaintSpeeds([
      { fromRpm: 3000, toRpm: 5000 },
      { fromRpm: null, toRpm: 4500 },
      { fromRpm: 2000, toRpm: null },
      { fromRpm: null, toRpm: null },
    ]),
  ).toEqual([4000, 4500, 2000])
})
