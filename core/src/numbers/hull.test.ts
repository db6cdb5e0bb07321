import fc from 'fast-check'
import { convexHull, isInside } from './hull'

const point = fc.tuple(fc.integer({ min: -50, max: 50 }), fc.integer({ min: -50, max: 50 }))

it('holds all its points, and the mean of any three (property)', () => {
  fc.assert(
    fc.property(fc.array(point, { minLength: 3, maxLength: 30 }), (points) => {
      const hull = convexHull(points)
      if (hull.length < 3) return
      for (const one of points) expect(isInside(hull, one)).toBe(true)
      const [a, b, c] = [points[0]!, points[1]!, points[2]!]
      expect(isInside(hull, [(a[0] + b[0] + c[0]) / 3, (a[1] + b[1] + c[1]) / 3])).toBe(true)
      expect(isInside(hull, [51, 0])).toBe(false)
    }),
  )
})
it('of a square with a point in it is the square; of points in a line there is none', () => {
  expect(
    convexHull([
      [0, 0],
      [2, 0],
      [2, 2],
      [0, 2],
      [1, 1],
    ]),
  ).toHaveLength(4)
  expect(isInside(convexHull([[0, 0]]), [0, 0])).toBe(false)
})
