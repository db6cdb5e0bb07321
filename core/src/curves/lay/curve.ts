import { isRefusal } from '../../refusal/refusal'
import { DEFAULT_FILTERS, type Filters, type RunColumns } from '../../run/run'
import { mean } from '../../numbers/mean'
import { pullWithoutThrottle } from './pullWithoutThrottle'
import { runningMean } from '../../numbers/runningMean'
import { closedLimit } from '../../run/closedLimit'
import { settlingMarks } from '../../run/settling'
import { stopOf } from '../../run/stopOf'
import {
  DEFAULT_DRUM,
  measuredTorque,
  type Drum,
  type MeasuredTorque,
  type TorqueSource,
} from '../torque/measuredTorque'
import type { CurveRuler } from './ruler'
import { localLines } from './localLines'

/** One run on the ruler. Values by bin; NaN where the run says nothing. */
export interface Curve {
  run: string
  /** N·m, uncorrected; null when the run has no torque */
  torque: Float32Array | null
  /** where torque came from, in words */
  torqueFrom: string
  /** why torque could not be had although there is something to have it from; empty when all is well */
  torqueFault: string
  /** % of plate at which the torque was made; null when not logged */
  plate: Float32Array | null
  /** by cylinder or bank */
  lambda: Float32Array[]
  /** standard deviation of single readings about the curve, by cylinder */
  scatter: Float32Array[]
  /** mean coolant, °C; NaN when not logged */
  coolant: number
}

export interface CurveOptions {
  /** rpm to either side over which a straight line is fitted at each bin */
  smoothing: number
  /** s from charge to reading */
  lag: number
  filters: Filters
  drum: Drum
  source: TorqueSource | null
}

export const DEFAULT_CURVE: CurveOptions = {
  smoothing: 150,
  lag: 0.2,
  filters: DEFAULT_FILTERS,
  drum: DEFAULT_DRUM,
  source: null,
}

/** rpm per second of falling speed from which the engine is being driven. */
const FALLING = -250

/**
 * Lays a run on the ruler: at each bin a straight line is fitted to the readings around it, weighed by a tent, and read
 * off at the bin's middle. Only readings with the throttle at rest and open count; mixture is shifted by the lag.
 *
 * A torque that cannot be had takes nothing from the mixture: the curve says why in `torqueFault`.
 *
 * @see Cleveland (1979) for local lines
 */
export function runCurve(run: RunColumns, ruler: CurveRuler, options: CurveOptions = DEFAULT_CURVE): Curve {
  if (run.handRange) return handCurve(run, ruler)
  const { measured, fault } = tryTorque(run, options)
  const pulls = pulling(run, options.filters)
  const torque = measured && localLines(run.rpm, measured.torque, pulls, ruler, options.smoothing)
  const shifted = shiftedRpm(run, options.lag)
  const settled = pulls.map((one, i) => (one && shifted.from[i]! >= 0 && pulls[shifted.from[i]!] ? 1 : 0))
  const mixture = run.lambda.map((column) => localLines(shifted.rpm, column, settled, ruler, options.smoothing))
  return {
    run: run.id,
    torque: torque && torque.value,
    torqueFrom: measured?.how ?? '',
    torqueFault: fault,
    plate: torque && run.throttle ? localLines(run.rpm, run.throttle, pulls, ruler, options.smoothing).value : null,
    lambda: mixture.map((one) => one.value),
    scatter: mixture.map((one) => one.scatter),
    coolant: mean(run.coolant),
  }
}

/** Readings by hand on the ruler: each settled by itself, and straight between them. */
function handCurve({ id, rpm, lambda, throttle }: RunColumns, ruler: CurveRuler): Curve {
  const order = [...rpm.keys()].sort((a, b) => rpm[a]! - rpm[b]!)
  const at = (column: Float32Array): Float32Array => {
    const known = order.filter((i) => column[i]! === column[i]!)
    return Float32Array.from({ length: ruler.count }, (_, bin) => {
      const speed = ruler.first + bin * ruler.step
      const above = known.findIndex((i) => rpm[i]! >= speed)
      const [low, high] = [known[above - 1], known[above]]
      if (high === undefined) return NaN
      if (rpm[high]! === speed || low === undefined) return rpm[high]! === speed ? column[high]! : NaN
      const share = (speed - rpm[low]!) / (rpm[high]! - rpm[low]!)
      return column[low]! + share * (column[high]! - column[low]!)
    })
  }
  const none = new Float32Array(ruler.count).fill(NaN)
  return {
    run: id,
    torque: null,
    torqueFrom: '',
    torqueFault: '',
    plate: throttle ? at(throttle) : null,
    lambda: lambda.map(at),
    scatter: lambda.map(() => none),
    coolant: NaN,
  }
}

function tryTorque(run: RunColumns, options: CurveOptions): { measured: MeasuredTorque | null; fault: string } {
  try {
    return { measured: measuredTorque(run, options.drum, options.source), fault: '' }
  } catch (error) {
    if (isRefusal(error, 'no-torque')) return { measured: null, fault: error.message }
    throw error
  }
}

/** How far from its stop a sweep's throttle may lie: % of plate at the least, and as a share of the stop. */
const NEAR_STOP = { least: 1, share: 0.04 }
/** s for which it must lie there before a reading counts: a slow hand is no movement to the filters. */
const ARRIVING = 0.3

/**
 * 1 where the engine pulls at a throttle that is open, at rest and at the stop of the run: idle, running up and rolling out
 * before and after a sweep are in most files, and belong to no curve.
 */
function pulling(run: RunColumns, filters: Filters): Uint8Array {
  const { time, rpm, throttle } = run
  const n = time.length
  const plate = throttle ? runningMean(time, throttle) : null
  const moving = plate ? settlingMarks(time, plate, { ...filters, settle: Math.min(filters.settle, 0.5) }) : null
  const closed = plate ? closedLimit(plate) : -Infinity
  const stop = plate && stopOf(plate.filter((one) => one > closed))
  const band = run.leftOut
  const blind = plate ? null : pullWithoutThrottle(run)
  const marks = new Uint8Array(n)
  let before = 0
  let after = 0
  let offAt = -Infinity
  for (let i = 0; i < n; i++) {
    if (plate) {
      if (moving![i] === 1 || plate[i]! <= closed) continue
      if (stop !== null && Math.abs(plate[i]! - stop) > Math.max(NEAR_STOP.least, NEAR_STOP.share * stop))
        offAt = time[i]!
      if (time[i]! - offAt < ARRIVING) continue
    } else if (blind) {
      if (!blind[i]) continue
    } else {
      const t = time[i]!
      while (before < i && time[before + 1]! <= t - 0.1) before++
      while (after < n - 1 && time[after]! < t + 0.1) after++
      if ((rpm[after]! - rpm[before]!) / (time[after]! - time[before]!) < FALLING) continue
    }
    if (band && rpm[i]! >= band.fromRpm && rpm[i]! <= band.toRpm) continue
    if (rpm[i]! > 0) marks[i] = 1
  }
  return marks
}

/** rpm when the charge was drawn in whose reading stands in the row, and which row that was. */
function shiftedRpm(run: RunColumns, lag: number): { rpm: Float32Array; from: Int32Array } {
  const { time, rpm } = run
  const out = new Float32Array(time.length)
  const from = new Int32Array(time.length)
  let k = 0
  for (let i = 0; i < time.length; i++) {
    const at = time[i]! - lag
    while (k < i && time[k + 1]! <= at) k++
    const share = k + 1 < time.length ? (at - time[k]!) / (time[k + 1]! - time[k]!) : 0
    out[i] = rpm[k]! + (share > 0 && share <= 1 ? share * (rpm[k + 1]! - rpm[k]!) : 0)
    from[i] = at < time[0]! - 1e-4 ? -1 : k
  }
  return { rpm: out, from }
}
