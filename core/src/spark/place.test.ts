import { byPlace, isSamePlace } from './place'

describe('held points by place', () => {
  it('repeats that differ a little are one place, whatever round number lies between them', () => {
    const points = [3370, 3381, 3376, 3362].map((rpm) => ({ stop: 59.8, rpm }))
    expect(byPlace(points)).toEqual([{ place: { stop: 60, rpm: 3350 }, points }])
    expect(
      byPlace([
        { stop: 42.4, rpm: 5000 },
        { stop: 42.6, rpm: 5010 },
      ]),
    ).toHaveLength(1)
  })
  it('other speeds and other stops are others, in the order in which they were met', () => {
    const points = [
      { stop: 60, rpm: 5000 },
      { stop: 60, rpm: 3000 },
      { stop: 40, rpm: 5000 },
      { stop: 60, rpm: 5020 },
    ]
    expect(byPlace(points).map((one) => one.place)).toEqual([
      { stop: 60, rpm: 5000 },
      { stop: 60, rpm: 3000 },
      { stop: 40, rpm: 5000 },
    ])
    expect(isSamePlace(points[0]!, points[3]!)).toBe(true)
    expect(isSamePlace(points[0]!, points[1]!)).toBe(false)
  })
  it('a stop is told by the round number it was held at, an opening between such numbers by its own', () => {
    const told = (stop: number): number => byPlace([{ stop, rpm: 5000 }])[0]!.place.stop
    expect([38.9, 40.2, 41.4, 42.4, 97.8, 99.1].map(told)).toEqual([40, 40, 40, 42, 98, 100])
  })
  it('of no points there is no place', () => {
    expect(byPlace([])).toEqual([])
  })
})
