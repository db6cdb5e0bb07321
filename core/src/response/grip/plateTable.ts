import { grouped } from '../../numbers/format'
import { isotonic } from '../../numbers/isotonic'
import { risingAt, type Rising } from './knotsAt'
import { torqueCurve, valueOn, type TorqueMap } from './torqueMap'

/** Shapes that a plate table can be given. */
export const PLATE_SHAPES = ['hand', 'torque straight', 'soft third', 'share', 'own'] as const
export type PlateShape = (typeof PLATE_SHAPES)[number]

/** Plate by grip and speed, [grip][rpm], %. */
export interface PlateValues {
  grip: number[]
  rpm: number[]
  values: number[][]
}

export interface PlateWish {
  shape: PlateShape
  /** share of full torque that a full grip asks for, 0 to 1 */
  share?: number
  /** own curve: points of [grip %, % of the way from idle stop to full], rising */
  curve?: readonly (readonly [number, number])[]
}

/** Torque against grip, N·m, [grip][rpm]; null where torque was not measured. */
interface GripTorque {
  grip: number[]
  rpm: number[]
  before: (number | null)[][]
  after: (number | null)[][]
}

/** % of plate that must have been measured for a curve to know full torque. */
const WIDE = 60
/** Share of the straight line that a soft first third asks for at its end. */
const SOFT = 0.7
const THIRD = 100 / 3
/** Steeper by less than this, % per %, is no steeper. */
const SAME_SLOPE = 0.02
/** A plate that wants to move with speed faster than this, % per 1,000 rpm, is told. */
const MOVES = 25

/**
 * Share of the torque between idle stop and full that a grip asks for, 0 to 1.
 *
 * @example
 * shareAsked({ shape: 'torque straight' }, 50) // 0.5
 */
export function shareAsked({ shape, share = 1, curve }: PlateWish, grip: number): number {
  const g = Math.min(1, Math.max(0, grip / 100))
  switch (shape) {
    case 'share':
      return g * share
    case 'soft third':
      // A parabola that starts flat and meets a straight line to full at a third, without a kink.
      return softened(g)
    case 'own':
      return curve?.length
        ? valueOn(
            curve.map((point) => point[0]),
            curve.map((point) => point[1]),
            grip,
          ) / 100
        : g
    default:
      return g
  }
}

/** Rises to SOFT of the straight line at a third, with one slope there, and on to 1. */
function softened(g: number): number {
  const [third, level] = [1 / 3, SOFT / 3]
  const slope = (1 - level) / (1 - third)
  if (g >= third) return level + slope * (g - third)
  const bend = (slope * third - level) / third ** 2
  return g * (level / third - bend * third) + bend * g * g
}

/** A plate table of a shape, the torque that it makes, and what speaks against it. */
export interface MadePlate extends PlateValues {
  torque: GripTorque
  cautions: string[]
}

/**
 * Makes a plate table: plate by grip so that torque follows the grip as wished, T(plate) = T(idle stop) + s(grip) x (T(full) - T(idle stop)),
 * at every speed where torque was measured; elsewhere, and for the plate to follow the hand, by the opening itself.
 *
 * @param now the table in force, or the measured map: gives grid and idle stop
 * @param idleStop % of plate with the grip shut; never left
 * @param reason why the first third may be steeper than now; without one it is kept from it
 */
export function makePlate(
  now: PlateValues,
  map: TorqueMap | null,
  wish: PlateWish,
  idleStop: number,
  reason: string | null = null,
): MadePlate {
  const { grip, rpm } = now
  const cautions: string[] = []
  const byTorque = wish.shape === 'torque straight' || wish.shape === 'share' || wish.shape === 'soft third'
  const curves = rpm.map((speed) => (map ? torqueCurve(map, speed) : null))
  const unknown = rpm.filter((_, k) => !curves[k] || curves[k]!.opening.at(-1)! < WIDE)
  if (byTorque && unknown.length)
    cautions.push(
      unknown.length === rpm.length
        ? 'No torque by plate and speed was measured: the opening follows the shape instead. Sweep at several throttle stops to make torque follow it.'
        : `Torque was not measured at ${unknown.map((one) => grouped(one)).join(', ')} rpm: there the opening follows the nearest measured speed.`,
    )
  const columns = rpm.map((speed, k) => {
    const curve = curves[k] && curves[k]!.opening.at(-1)! >= WIDE ? curves[k]! : nearestCurve(rpm, curves, speed)
    return grip.map((hand) => {
      const asked = shareAsked(wish, hand)
      const opening = idleStop + asked * (100 - idleStop)
      if (!byTorque || !curve) return wish.shape === 'hand' ? Math.max(idleStop, hand) : opening
      const low = risingAt(curve)(idleStop).value
      const full = curve.value.at(-1)!
      if (asked >= 1) return 100
      return Math.max(idleStop, plateFor(curve, low + asked * (full - low), idleStop))
    })
  })
  const values = grip.map((_, g) => columns.map((column) => isotonic(column)[g]!))
  values[0] = rpm.map((_, k) => (grip[0] === 0 ? idleStop : values[0]![k]!))
  if (reason === null) keepSoft(now, values, cautions)
  else if (reason.trim()) cautions.push(`The first third may be steeper than now: ${reason.trim()}`)
  movesWithSpeed(grip, rpm, values, cautions)
  cautions.push(
    'A plate that opens otherwise than the hand expects can throw a rider: try it on the stand, then slowly, with room. Idle stop and the motor’s own speed stay as they are.',
  )
  return { grip, rpm, values, torque: gripTorque(map, now, values), cautions }
}

/** Opening at which a curve reaches a torque, from the idle stop on: by halving, for it rises. */
function plateFor(curve: Rising, wanted: number, idleStop: number): number {
  const at = risingAt(curve)
  let [low, high] = [idleStop, Math.max(idleStop, curve.opening.at(-1)!)]
  for (let round = 0; round < 40; round++) {
    const middle = (low + high) / 2
    if (at(middle).value < wanted) low = middle
    else high = middle
  }
  return high
}

function nearestCurve<Curve>(rpm: readonly number[], curves: readonly (Curve | null)[], speed: number): Curve | null {
  const known = rpm.map((_, k) => k).filter((k) => curves[k])
  if (known.length === 0) return null
  return curves[known.reduce((best, k) => (Math.abs(rpm[k]! - speed) < Math.abs(rpm[best]! - speed) ? k : best))]!
}

/** Keeps the first third no steeper than it is now: what is held back there comes later. */
function keepSoft({ grip, rpm, values: before }: PlateValues, values: number[][], cautions: string[]): void {
  let held = 0
  rpm.forEach((_, k) => {
    for (let g = 1; g < grip.length && grip[g]! <= THIRD + 1e-9; g++) {
      const step = grip[g]! - grip[g - 1]!
      const slope = (before[g]![k]! - before[g - 1]![k]!) / step
      const most = values[g - 1]![k]! + Math.max(0, slope) * step
      if (values[g]![k]! > most + SAME_SLOPE * step) {
        values[g]![k] = most
        held++
      }
    }
    for (let g = 1; g < grip.length; g++) values[g]![k] = Math.max(values[g]![k]!, values[g - 1]![k]!)
  })
  if (held)
    cautions.push(
      `${held} ${held === 1 ? 'cell' : 'cells'} of the first third would be steeper than now and ${held === 1 ? 'was' : 'were'} held. Give a reason to allow it.`,
    )
}

function movesWithSpeed(grip: readonly number[], rpm: readonly number[], values: number[][], cautions: string[]): void {
  let worst = { rate: MOVES, grip: 0, rpm: 0 }
  grip.forEach((hand, g) => {
    for (let k = 1; k < rpm.length; k++) {
      const rate = (Math.abs(values[g]![k]! - values[g]![k - 1]!) / (rpm[k]! - rpm[k - 1]!)) * 1000
      if (rate > worst.rate) worst = { rate, grip: hand, rpm: rpm[k]! }
    }
  })
  if (worst.rate > MOVES)
    cautions.push(
      `With the hand still at ${worst.grip} % the plate moves by ${Math.round(worst.rate)} % per ${grouped(1000)} rpm about ${grouped(worst.rpm)} rpm.`,
    )
}

/** Torque by grip under two tables. */
function gripTorque(map: TorqueMap | null, { grip, rpm, values: before }: PlateValues, after: number[][]): GripTorque {
  const through = (table: readonly (readonly number[])[]): (number | null)[][] =>
    grip.map((_, g) =>
      rpm.map((speed, k) => {
        const curve = map && torqueCurve(map, speed)
        return curve ? risingAt(curve)(table[g]![k]!).value : null
      }),
    )
  return { grip, rpm, before: through(before), after: through(after) }
}
