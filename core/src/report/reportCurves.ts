import type { ReportPower, ReportState } from '../contract/report'
import { grouped } from '../numbers/format'
import { unitIn } from './reportUnits'
import type { Units } from '../words/units'

/** Lines of a small chart in its own box, as paths of SVG: the same on screen and on paper. */
export interface ReportCurves {
  width: number
  height: number
  /** before and after; bands where the difference is real */
  first: string
  second: string
  real: string
  /** states between, and the band of each state's runs, in their order */
  between: string[]
  bands: string[]
  /** unit of the upward axis */
  unit: string
  xTicks: { at: number; text: string }[]
  yTicks: { at: number; text: string }[]
}

const BETWEEN = ['Dotted', 'Dashes and dots', 'Short dashes', 'Long dashes']

/** Which line is which state, and what is shaded. */
export function curveWords({ before, after, states = [] }: ReportPower): string {
  return [
    `Dashed: ${before}.`,
    ...states.slice(1, -1).map(({ name }, k) => `${BETWEEN[k % BETWEEN.length]}: ${name}.`),
    `Solid: ${after}.`,
    ...(states.length ? ['Bands: lowest to highest of the runs of each state.'] : []),
    'Shaded from top to bottom where first and last truly differ.',
  ].join(' ')
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
 * Power, or torque, state by state as paths.
 *
 * @param width, height of the box in points
 * @returns null when there is nothing to draw
 */
export function reportCurves(power: ReportPower, units: Units, width: number, height: number): ReportCurves | null {
  const { rpm, first, second, real, states = [] } = power
  const { name: unit, factor } = unitIn(power.unit, units)
  const isKnown = (value: number | null): value is number => value !== null
  const all = [first, second, ...states.flatMap((one) => [one.mean, one.low, one.high])]
  const known = all.flatMap((values) => values.filter(isKnown))
  const drawn = [
    ...rpm.filter((_, k) => first[k] !== null || second[k] !== null),
    ...states.flatMap((one) => one.rpm.filter((_, k) => one.mean[k] !== null)),
  ]
  if (known.length < 2 || drawn.length < 2) return null
  const [fromX, toX] = [Math.min(...drawn), Math.max(...drawn)]
  const [fromY, toY] = [Math.min(0, ...known) * factor, Math.max(...known) * 1.05 * factor]
  const x = (value: number): number => ((value - fromX) / (toX - fromX)) * width
  const y = (value: number): number => height - ((value * factor - fromY) / (toY - fromY)) * height
  const point = (speed: number, value: number): string => `${x(speed).toFixed(2)} ${y(value).toFixed(2)}`
  const path = (speeds: readonly number[], values: readonly (number | null)[]): string =>
    values
      .map((value, k) => {
        if (value === null) return ''
        const isStart = k === 0 || values[k - 1] === null
        return `${isStart ? 'M' : 'L'}${point(speeds[k]!, value)}`
      })
      .filter(Boolean)
      .join(' ')
  const bandOf = ({ rpm: speeds, low, high }: ReportState): string =>
    speeds
      .slice(1)
      .map((speed, k) => {
        const corners = [low[k], high[k], high[k + 1], low[k + 1]]
        if (!corners.every((one): one is number => one != null)) return ''
        const at = [speeds[k]!, speeds[k]!, speed, speed]
        return `M${corners.map((one, c) => point(at[c]!, one)).join(' L')} Z`
      })
      .filter(Boolean)
      .join(' ')
  const bands = rpm.flatMap((at, k) => {
    const next = rpm[k + 1]
    const areKnown = [k, k + 1].every((bin) => first[bin] != null && second[bin] != null)
    return real[k] && next !== undefined && areKnown
      ? [
          `M${x(at).toFixed(2)} 0 L${x(next).toFixed(2)} 0 L${x(next).toFixed(2)} ${height} L${x(at).toFixed(2)} ${height} Z`,
        ]
      : []
  })
  return {
    width,
    height,
    unit,
    first: path(rpm, first),
    second: path(rpm, second),
    between: states.slice(1, -1).map((one) => path(one.rpm, one.mean)),
    bands: states.map(bandOf),
    real: bands.join(' '),
    xTicks: ticksOf(fromX, toX, 6).map((value) => ({ at: x(value), text: grouped(value) })),
    yTicks: ticksOf(fromY, toY, 5).map((value) => ({ at: y(value), text: String(Number(value.toPrecision(3))) })),
  }
}
