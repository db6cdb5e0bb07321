import type { Report } from '../contract/report'

/** Lines of a small chart in its own box, as paths of SVG: the same on screen and on paper. */
export interface ReportCurves {
  width: number
  height: number
  /** before and after; bands where the difference is real */
  first: string
  second: string
  real: string
  xTicks: { at: number; text: string }[]
  yTicks: { at: number; text: string }[]
}

/** A step of 1, 2 or 5 times a power of ten that gives about so many ticks. */
function niceStep(span: number, ticks: number): number {
  const rough = span / ticks
  const power = 10 ** Math.floor(Math.log10(rough))
  return power * ([1, 2, 5, 10].find((one) => one * power >= rough) ?? 10)
}
function ticksOf(from: number, to: number, count: number): number[] {
  const step = niceStep(to - from, count)
  const first = Math.ceil(from / step) * step
  return Array.from({ length: Math.floor((to - first) / step + 1e-9) + 1 }, (_, k) => first + k * step)
}

/**
 * Power before and after as paths.
 *
 * @param width, height of the box in points
 * @returns null when there is nothing to draw
 */
export function reportCurves(
  { rpm, first, second, real }: NonNullable<Report['power']>,
  width: number,
  height: number,
): ReportCurves | null {
  const known = [...first, ...second].flatMap((value) => (value === null ? [] : [value]))
  const drawn = rpm.filter((_, k) => first[k] !== null || second[k] !== null)
  if (known.length < 2 || drawn.length < 2) return null
  const [fromX, toX] = [drawn[0]!, drawn.at(-1)!]
  const [fromY, toY] = [Math.min(0, ...known), Math.max(...known) * 1.05]
  const x = (value: number): number => ((value - fromX) / (toX - fromX)) * width
  const y = (value: number): number => height - ((value - fromY) / (toY - fromY)) * height
  const path = (values: readonly (number | null)[]): string =>
    values
      .map((value, k) => {
        if (value === null) return ''
        const isStart = k === 0 || values[k - 1] === null
        return `${isStart ? 'M' : 'L'}${x(rpm[k]!).toFixed(2)} ${y(value).toFixed(2)}`
      })
      .filter(Boolean)
      .join(' ')
  const bands = rpm.flatMap((at, k) => {
    const next = rpm[k + 1]
    const isKnown = [k, k + 1].every((bin) => first[bin] != null && second[bin] != null)
    return real[k] && next !== undefined && isKnown
      ? [
          `M${x(at).toFixed(2)} 0 L${x(next).toFixed(2)} 0 L${x(next).toFixed(2)} ${height} L${x(at).toFixed(2)} ${height} Z`,
        ]
      : []
  })
  return {
    width,
    height,
    first: path(first),
    second: path(second),
    real: bands.join(' '),
    xTicks: ticksOf(fromX, toX, 6).map((value) => ({ at: x(value), text: String(value) })),
    yTicks: ticksOf(fromY, toY, 5).map((value) => ({ at: y(value), text: String(Number(value.toPrecision(3))) })),
  }
}
