export const AXES = ['rpm', 'load'] as const
export type Axis = (typeof AXES)[number]

/** Places that a coarse table may have on one axis: given ones, or so many on a raster. */
export type AxisChoice = { given: readonly number[] } | { count: number; step: number }

/** What a coarse table is chosen by. */
export interface PlacesAsked {
  rpm: AxisChoice
  load: AxisChoice
  seed?: number
}

/** Places on a raster that reach over a range. */
export function rasterOver(points: readonly number[], step: number): number[] {
  const [first, last] = [Math.floor(points[0]! / step + 1e-9), Math.ceil(points.at(-1)! / step - 1e-9)]
  return Array.from({ length: last - first + 1 }, (_, k) => Number(((first + k) * step).toPrecision(12)))
}
