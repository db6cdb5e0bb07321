import { isWithout } from './leftOutByTime'
import { isRunning } from './engineState'
import { isInForce, type InForce } from '../table/inForce'
import type { LoadAxis } from '../table/table'
import { REASONS, type Filters, type Reason, type RunColumns, type SetAside } from './run'
import { flowAt, lagAtFlow, type FlowLag } from './flowLag'
import { preparedOf } from './prepared'
import { settlingMarks } from './settling'

/** Readings of one run that stand for a settled charge, each with the engine's state when that charge was drawn in. */
export interface Screened {
  /** Length of the arrays below. */
  count: number
  /** s, of the reading */
  time: Float32Array
  /** rpm and load at reading time minus lag */
  rpm: Float32Array
  load: Float32Array
  /** lambda per cylinder */
  lambda: Float32Array[]
  /** (1 + short) x (1 + long) of the closed loop's trims when the charge was drawn in; null without trims */
  trim: Float32Array | null
  /** N·m when the charge was drawn in, or power over speed, which goes with it; null without */
  torque: Float32Array | null
  setAside: SetAside
  /** of those, the ones whose engine state lay in `near`; only when that was asked for */
  setAsideNear?: SetAside
}

export interface ScreenOptions {
  loadAxis: LoadAxis
  /** s from charge to reading, one for all or falling with flow */
  lag: number | FlowLag
  filters: Filters
  /** Range of the table with its margin; readings outside cannot be placed. */
  range?: Range
  /** count also what was set aside in this part of the table */
  near?: Range
  /** by row of the run: is given the number of the reason for which it was set aside, from 1 as in REASONS; 0 where it counts */
  marks?: Uint8Array
}

/** A part of the table, ends included. */
interface Range {
  rpm: [number, number]
  load: [number, number]
}

const within = (range: Range, rpm: number, load: number): boolean =>
  rpm >= range.rpm[0] && rpm <= range.rpm[1] && load >= range.load[0] && load <= range.load[1]

const LARGEST_GAP = 1
const CUT_LAMBDA = 1.18
/** Seconds a cut lingers in the reading after fuel is back. */
const CUT_TAIL = 0.5

const CODE = Object.fromEntries(REASONS.map((reason, index) => [reason, index + 1])) as Record<Reason, number>

/**
 * Screens one run: shifts readings by the lag and sets aside what is no settled, valid reading, counting by reason.
 *
 * @returns null when the run has no column for that load axis
 */
export function screenRun(run: RunColumns, options: ScreenOptions): Screened | null {
  const load = options.loadAxis === 'throttle' ? run.throttle : run.manifold
  if (!load) return null
  if (run.handRange) return takeHandReadings(run, load, options)
  const { filters, range, near } = options
  const [oneLag, byFlow] = typeof options.lag === 'number' ? [options.lag, null] : [0, options.lag]
  const { time, rpm, lambda, without } = run
  const n = time.length
  const { plate, movement, mixture, pinned, closed } = preparedOf(run)
  const settling = plate ? settlingMarks(time, plate, filters, movement!) : new Uint8Array(n)
  const ceiling = filters.revCeiling ?? Infinity
  const counts = new Uint32Array(REASONS.length + 1)
  const nearCounts = new Uint32Array(REASONS.length + 1)
  const out: Screened = {
    count: 0,
    time: new Float32Array(n),
    rpm: new Float32Array(n),
    load: new Float32Array(n),
    lambda: lambda.map(() => new Float32Array(n)),
    trim: run.trimShort || run.trimLong ? new Float32Array(n) : null,
    torque: run.torque || run.power ? new Float32Array(n) : null,
    setAside: {},
  }
  let state = 0
  let newest = -Infinity
  let cutUntil = -Infinity
  for (let i = 0; i < n; i++) {
    const t = time[i]!
    const lag = byFlow ? lagOf(run, byFlow, i, state) : oneLag
    const at = t - lag
    let reason = 0
    let stateRpm = NaN
    let stateLoad = NaN
    if (without && isWithout(without, t)) reason = CODE['left out by hand']
    else if (!(t > newest) && newest > -Infinity) reason = CODE['time runs backwards']
    else if (Number.isNaN(t)) reason = CODE['no reading']
    else {
      newest = t
      while (state > 0 && time[state]! > at) state--
      while (state < i && !(time[state + 1]! > at)) state++
      const from = time[state]!
      const step = time[state + 1]! - from
      const fraction = state + 1 < n && step > 0 ? Math.min(1, Math.max(0, (at - from) / step)) : 0
      stateRpm = fraction > 0 ? rpm[state]! + fraction * (rpm[state + 1]! - rpm[state]!) : rpm[state]!
      stateLoad = fraction > 0 ? load[state]! + fraction * (load[state + 1]! - load[state]!) : load[state]!
      const mean = mixture[i]!
      if (Number.isNaN(stateRpm) || Number.isNaN(stateLoad) || !(mean > 0) || at < time[0]! - 1e-4)
        reason = CODE['no reading']
      else if (step > LARGEST_GAP || t - at > lag + LARGEST_GAP) reason = CODE['gap in the log']
      else if (!isRunning(stateRpm)) reason = CODE['engine not running']
      else {
        const isClosed = plate !== null && plate[state]! <= closed
        if (isClosed && mean > CUT_LAMBDA) cutUntil = t + CUT_TAIL
        if (t <= cutUntil || (isClosed && isFalling(time, rpm, state))) reason = CODE['fuel cut']
        else if (!lambda.some((column, c) => isReading(column[i]!, pinned[c]![i]!)))
          reason = CODE['sensor at its limit']
        else if (run.coolant && run.coolant[state]! < filters.coolantLeast) reason = CODE['engine cold']
        else if (run.leftOut && stateRpm >= run.leftOut.fromRpm && stateRpm <= run.leftOut.toRpm)
          reason = CODE['left out by hand']
        else if (stateRpm > ceiling) reason = CODE['above the rev ceiling']
        else if (settling[state] === 1 || (fraction > 0 && settling[state + 1] === 1) || (byFlow && settling[i] === 1))
          // Gas drawn in before the plate moved is pushed on by the flow of after.
          reason = CODE['throttle moving']
        else if (range && !within(range, stateRpm, stateLoad)) reason = CODE['outside the table']
        else if (filters.inForce && !rulesAt(run, filters.inForce, state)) reason = CODE['other map in force']
      }
    }
    if (options.marks) options.marks[i] = reason
    if (reason) {
      counts[reason]!++
      if (near && within(near, stateRpm, stateLoad)) nearCounts[reason]!++
      continue
    }
    const k = out.count++
    out.time[k] = t
    out.rpm[k] = stateRpm
    out.load[k] = stateLoad
    for (let c = 0; c < lambda.length; c++)
      out.lambda[c]![k] = isReading(lambda[c]![i]!, pinned[c]![i]!) ? lambda[c]![i]! : NaN
    if (out.trim) out.trim[k] = trimFactor(run, state)
    if (out.torque) out.torque[k] = run.torque ? run.torque[state]! : run.power![state]! / stateRpm
  }
  out.setAside = byReason(counts)
  if (near) out.setAsideNear = byReason(nearCounts)
  out.time = out.time.subarray(0, out.count)
  out.rpm = out.rpm.subarray(0, out.count)
  out.load = out.load.subarray(0, out.count)
  out.lambda = out.lambda.map((column) => column.subarray(0, out.count))
  if (out.trim) out.trim = out.trim.subarray(0, out.count)
  if (out.torque) out.torque = out.torque.subarray(0, out.count)
  return out
}

/** Whether a map was in force at a row; it was not where nothing tells by what the controller decides. */
function rulesAt(run: RunColumns, inForce: InForce, row: number): boolean {
  return isInForce(inForce, run[inForce.by]?.[row] ?? NaN)
}

/** Whether one cylinder has a reading there: another's sensor may be at its limit, or gone. */
const isReading = (lambda: number, pinned: number): boolean => lambda > 0 && pinned === 0

/** Lag of the charge whose reading stands at a row; `near` is where the one before was drawn in, close to this one. */
function lagOf(run: RunColumns, lag: FlowLag, i: number, near: number): number {
  // The flow that counts is that of the charge itself, which is found by going back once more from a first guess.
  const { time } = run
  let at = near
  const guess = time[i]! - lagAtFlow(lag, flowAt(run, near))
  while (at > 0 && time[at]! > guess) at--
  while (at < i && !(time[at + 1]! > guess)) at++
  return lagAtFlow(lag, flowAt(run, at))
}

/** What the closed loop multiplies the table's fuel by; a missing trim counts as none. */
function trimFactor({ trimShort, trimLong }: RunColumns, i: number): number {
  const short = trimShort?.[i] ?? 0
  const long = trimLong?.[i] ?? 0
  return (1 + (short === short ? short : 0) / 100) * (1 + (long === long ? long : 0) / 100)
}

/** Samples that one reading by hand is worth: it was settled and averaged by eye, about what one pass of a sweep says. */
const HAND_WEIGHT = 6
/** s between two readings by hand, so that each counts as a pass of its own. */
const HAND_APART = 20
/** Lambda to which a gauge is read by eye at the best, whatever is typed (common practice: 0.15 of an air-fuel ratio). */
const HAND_RANGE = 0.01

/** Readings by hand stand for themselves: no lag, nothing to settle. A range becomes readings spread evenly over it. */
function takeHandReadings(run: RunColumns, load: Float32Array, { range, near, filters }: ScreenOptions): Screened {
  const { rpm, lambda, handRange } = run
  const rows: number[] = []
  const counts = new Uint32Array(REASONS.length + 1)
  const nearCounts = new Uint32Array(REASONS.length + 1)
  for (let i = 0; i < rpm.length; i++) {
    const known = lambda.some((column) => column[i]! > 0)
    const reason =
      !known || Number.isNaN(load[i]!)
        ? 'no reading'
        : !isRunning(rpm[i]!)
          ? 'engine not running'
          : range && !within(range, rpm[i]!, load[i]!)
            ? 'outside the table'
            : filters.inForce && !rulesAt(run, filters.inForce, i)
              ? 'other map in force'
              : null
    if (reason === null) rows.push(i)
    else {
      counts[CODE[reason]]!++
      if (near && within(near, rpm[i]!, load[i]!)) nearCounts[CODE[reason]]!++
    }
  }
  const count = rows.length * HAND_WEIGHT
  const spread = (k: number): number => (2 * (k % HAND_WEIGHT)) / (HAND_WEIGHT - 1) - 1
  const repeat = (of: (row: number, k: number) => number): Float32Array =>
    Float32Array.from({ length: count }, (_, k) => of(rows[Math.floor(k / HAND_WEIGHT)]!, k))
  return {
    count,
    time: repeat((row, k) => row * HAND_APART + 0.02 * (k % HAND_WEIGHT)),
    rpm: repeat((row) => rpm[row]!),
    load: repeat((row) => load[row]!),
    lambda: lambda.map((column) =>
      repeat((row, k) => column[row]! + spread(k) * Math.max(HAND_RANGE, handRange![row] || 0)),
    ),
    trim: null,
    torque: null,
    setAside: byReason(counts),
    ...(near && { setAsideNear: byReason(nearCounts) }),
  }
}

function byReason(counts: Uint32Array): SetAside {
  return Object.fromEntries(REASONS.flatMap((reason) => (counts[CODE[reason]] ? [[reason, counts[CODE[reason]]]] : [])))
}

/** rpm falling by more than 250 rpm/s above 1,800 rpm: the engine is being driven, whether or not the reading shows it yet. */
function isFalling(time: Float32Array, rpm: Float32Array, i: number): boolean {
  const ahead = Math.min(time.length - 1, i + 5)
  const dt = time[ahead]! - time[i]!
  return rpm[i]! > 1800 && dt > 0 && (rpm[ahead]! - rpm[i]!) / dt < -250
}
