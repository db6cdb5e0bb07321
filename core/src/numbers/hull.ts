/** A point in the plane. */
export type Point2 = readonly [number, number]

/** Twice the area of a triangle, positive when its corners go round to the left. */
const turn = (a: Point2, b: Point2, c: Point2): number => (b[0] - a[0]) * (c[1] - a[1]) - (b[1] - a[1]) * (c[0] - a[0])

/**
 * Convex hull, going round to the left.
 *
 * @see A. M. Andrew, Information Processing Letters 9 (1979): monotone chain, from memory
 */
export function convexHull(points: readonly Point2[]): Point2[] {
  const sorted = [...points].sort((a, b) => a[0] - b[0] || a[1] - b[1])
  const half = (some: readonly Point2[]): Point2[] =>
    some
      .reduce<Point2[]>((chain, point) => {
        while (chain.length > 1 && turn(chain.at(-2)!, chain.at(-1)!, point) <= 0) chain.pop()
        chain.push(point)
        return chain
      }, [])
      .slice(0, -1)
  return [...half(sorted), ...half(sorted.toReversed())]
}

/**
 * Whether a point lies inside a convex hull or on its border.
 *
 * @example
 * isInside(convexHull([[0, 0], [2, 0], [0, 2]]), [0.5, 0.5]) // true
 */
export function isInside(hull: readonly Point2[], point: Point2): boolean {
  return hull.length > 2 && hull.every((corner, k) => turn(corner, hull[(k + 1) % hull.length]!, point) >= -1e-9)
}
