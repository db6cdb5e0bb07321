import { mean } from '../../numbers/mean'
import type { Curve } from './curve'
import { USUAL_LEVEL } from './repeatErrors'
import type { CurveRuler } from './ruler'

/** How torque follows the plate about one stop, by bin: share of torque per share of plate opening, and its standard error. */
export interface PlateSlope {
  slope: Float64Array
  error: Float64Array
}

/** What is taken where nothing was measured: near shut the plate is the orifice, near open it hardly matters (common practice). */
const USUAL = { shut: { slope: 0.9, error: 0.4 }, open: { slope: 0.1, error: 0.2 } }
/** Error of a slope told by stops on both sides, and on one side only. */
const BETWEEN = 0.08
const ONE_SIDED = 0.2
/** rpm to either side over which the slope is taken to be one. */
const REACH = 1500

/**
 * Slope of torque with the plate, about a throttle stop: from the runs at neighbouring stops where there are such, else what
 * is usual; and from runs of one side that were held at plates a little apart.
 *
 * @param sides runs at the stop, of each side
 * @param others runs at the nearest stops below and above, of the same machine
 * @param stop % of plate
 */
export function plateSlope(
  sides: readonly (readonly Curve[])[],
  others: readonly Curve[],
  stop: number,
  ruler: CurveRuler,
): PlateSlope {
  const before = fromNeighbours(sides.flat(), others, stop, ruler)
  const within = sides.flatMap((side) => pairsWithin(side, ruler))
  const out = { slope: new Float64Array(ruler.count), error: new Float64Array(ruler.count) }
  const bins = Math.round(REACH / ruler.step)
  for (let bin = 0; bin < ruler.count; bin++) {
    let [mass, moment] = [1 / before.error[bin]! ** 2, before.slope[bin]! / before.error[bin]! ** 2]
    for (const pairs of within) {
      let [weight, x, y] = [0, 0, 0]
      for (let k = Math.max(0, bin - bins + 1); k < Math.min(ruler.count, bin + bins); k++) {
        if (pairs.x[k]! !== pairs.x[k]!) continue
        const near = 1 - Math.abs(k - bin) / bins
        weight += near
        x += near * pairs.x[k]!
        y += near * pairs.y[k]!
      }
      if (weight === 0) continue
      // All bins of a run err together, as far as its level goes: a run is one reading.
      mass += (x / weight / USUAL_LEVEL.deviation) ** 2
      moment += ((x / weight) * (y / weight)) / USUAL_LEVEL.deviation ** 2
    }
    out.slope[bin] = moment / mass
    out.error[bin] = Math.sqrt(1 / mass)
  }
  return out
}

/** Share of torque by which it is brought to a stop at the most: no slope is known well enough for more. */
const MOST_BROUGHT = 0.1

/**
 * A curve as it would be at the stop itself. Where that would move torque by more than a tenth it is not known.
 *
 * @param stop % of plate
 */
export function atStop(curve: Curve, stop: number, { slope }: PlateSlope): Curve {
  const { torque, plate } = curve
  if (!torque || !plate) return curve
  return {
    ...curve,
    torque: torque.map((value, bin) => {
      const share = (stop / plate[bin]!) ** slope[bin]!
      return Math.abs(share - 1) <= MOST_BROUGHT ? (value > 0 ? value * share : value) : NaN
    }),
  }
}

const ln = (value: number | undefined): number => (value !== undefined && value > 0 ? Math.log(value) : NaN)

/** ln plate and ln torque of each run against its side's means, by bin. */
function pairsWithin(side: readonly Curve[], ruler: CurveRuler): { x: Float64Array; y: Float64Array }[] {
  const out = side.map(() => ({
    x: new Float64Array(ruler.count).fill(NaN),
    y: new Float64Array(ruler.count).fill(NaN),
  }))
  for (let bin = 0; bin < ruler.count; bin++) {
    const here = side
      .map(({ plate, torque }, run) => ({ run, x: ln(plate?.[bin]), y: ln(torque?.[bin]) }))
      .filter(({ x, y }) => x === x && y === y)
    const [x, y] = [mean(here.map((one) => one.x)), mean(here.map((one) => one.y))]
    for (const one of here) {
      out[one.run]!.x[bin] = one.x - x
      out[one.run]!.y[bin] = one.y - y
    }
  }
  return out
}

/** Slope by the nearest stops below and above; what is usual where there is none. */
function fromNeighbours(here: readonly Curve[], others: readonly Curve[], stop: number, ruler: CurveRuler): PlateSlope {
  const out = { slope: new Float64Array(ruler.count), error: new Float64Array(ruler.count) }
  const open = Math.min(1, Math.max(0, stop / 100))
  const usual = (what: 'slope' | 'error'): number => USUAL.shut[what] + open * (USUAL.open[what] - USUAL.shut[what])
  for (let bin = 0; bin < ruler.count; bin++) {
    const points = (curves: readonly Curve[]): Point[] =>
      curves
        .map(({ plate, torque }) => ({ x: ln(plate?.[bin]), y: ln(torque?.[bin]) }))
        .filter(({ x, y }) => x === x && y === y)
    const middle = centre(points(here))
    const apart = points(others).filter(({ x }) => Math.abs(x - ln(stop)) > 0.05)
    const below = centre(apart.filter(({ x }) => x < ln(stop)))
    const above = centre(apart.filter(({ x }) => x > ln(stop)))
    const secants = [below, above].flatMap((one) =>
      one && middle ? [{ slope: (one.y - middle.y) / (one.x - middle.x), width: Math.abs(one.x - middle.x) }] : [],
    )
    const [a, b] = secants
    if (a && b) {
      // The parabola through all three, at the middle.
      out.slope[bin] = (a.slope * b.width + b.slope * a.width) / (a.width + b.width)
      out.error[bin] = BETWEEN + 0.25 * Math.abs(a.slope - b.slope)
    } else if (a) {
      out.slope[bin] = a.slope
      out.error[bin] = ONE_SIDED
    } else {
      out.slope[bin] = usual('slope')
      out.error[bin] = usual('error')
    }
  }
  return out
}

interface Point {
  x: number
  y: number
}

function centre(points: readonly Point[]): Point | null {
  return points.length ? { x: mean(points.map(({ x }) => x)), y: mean(points.map(({ y }) => y)) } : null
}
