import { addAt, banded, cholesky, solveFactored } from '../../numbers/banded'
import { leastSquares } from '../../numbers/leastSquares'

/** What an edge is fitted to. */
export interface EdgeReading {
  rpm: number
  lambda: number
}

/** A level of the mixture up to some speed, and a line from there. */
export interface Edge {
  /** twice the logarithm of how unlikely the readings are, up to a constant */
  cost: number
  closed: number
  open: number
  /** standard error of the step, by readings that are apart */
  error: number
}

/** Neighbouring readings of a loop that hunts are not apart: squares count this share. */
export const APART = 0.25
/** Speed on either side of an edge that is looked at. */
export const BESIDE = 900
/** Mean square that readings have at the least, so that luck makes none perfect. */
const FLOOR = 1e-6
/** Readings that either side must have. */
const LEAST_SIDE = 8
/** How clearly an edge must explain readings better than a smooth curve does, and how near lambda 1 its level must lie, where no zone is known. */
const ALONE = { gain: 8, level: 0.015, step: 0.02, every: 50 }
const SMOOTH = 4
/** A trace of ridge by reading, as in `leastSquares`. */
const RIDGE = 1e-9

/**
 * Least squares of a level, then a line, with a ramp between; the two sides have scatters of their own, as a loop that hunts
 * has. Null where a side is hardly read.
 *
 * @param rpm middle of the ramp; @param width of it, rpm; 0 for a step
 */
export function edgeAt(near: readonly EdgeReading[], rpm: number, width: number): Edge | null {
  let before = 0
  for (const one of near) if (one.rpm < rpm) before++
  const after = near.length - before
  if (before < LEAST_SIDE || after < LEAST_SIDE) return null
  const shareAt = (speed: number): number =>
    width > 0 ? Math.min(1, Math.max(0, 0.5 + (speed - rpm) / width)) : speed < rpm ? 0 : 1
  let [cc, oc, oo, sc, so, ss, c, o, l] = [0, 0, 0, 0, 0, 0, 0, 0, 0]
  for (const one of near) {
    const open = shareAt(one.rpm)
    const closed = 1 - open
    const along = (open * (one.rpm - rpm)) / 1000
    cc += closed * closed
    oc += open * closed
    oo += open * open
    sc += along * closed
    so += along * open
    ss += along * along
    c += closed * one.lambda
    o += open * one.lambda
    l += along * one.lambda
  }
  const normal = banded(3, 2)
  addAt(normal, 0, 0, cc)
  addAt(normal, 1, 0, oc)
  addAt(normal, 1, 1, oo)
  addAt(normal, 2, 0, sc)
  addAt(normal, 2, 1, so)
  addAt(normal, 2, 2, ss)
  for (let a = 0; a < 3; a++) addAt(normal, a, a, RIDGE * near.length)
  const [closed, open, slope] = solveFactored(cholesky(normal), Float64Array.of(c, o, l)) as unknown as [
    number,
    number,
    number,
  ]
  let [early, late] = [0, 0]
  for (const one of near) {
    const share = shareAt(one.rpm)
    const off = one.lambda - (1 - share) * closed - share * open - ((share * (one.rpm - rpm)) / 1000) * slope
    if (one.rpm < rpm) early += off * off
    else late += off * off
  }
  return {
    cost: before * Math.log(early / before + FLOOR) + after * Math.log(late / after + FLOOR),
    closed,
    open,
    error: Math.sqrt(early / before ** 2 + (4 * late) / after ** 2),
  }
}

/** An edge that stands out by itself, where passes are too few to show a zone: a level at lambda 1, then another mixture. */
export function edgeAlone(all: readonly EdgeReading[]): { fromRpm: number; toRpm: number } | null {
  const speeds = all.map((one) => one.rpm).sort((a, b) => a - b)
  let best = { gain: ALONE.gain, rpm: NaN }
  for (let rpm = speeds[0]! + 500; rpm < speeds.at(-1)! - 500; rpm += ALONE.every) {
    const near = all.filter((one) => Math.abs(one.rpm - rpm) <= BESIDE)
    const edge = edgeAt(near, rpm, 0)
    if (!edge || Math.abs(edge.closed - 1) > ALONE.level || Math.abs(edge.open / edge.closed - 1) < ALONE.step) continue
    const gain = APART * (smoothCost(near, rpm) - edge.cost)
    if (gain > best.gain) best = { gain, rpm }
  }
  return best.rpm === best.rpm ? { fromRpm: best.rpm - BESIDE, toRpm: best.rpm } : null
}

/** Cost of one smooth curve with one scatter through the readings, on the scale of an edge's. */
function smoothCost(near: readonly EdgeReading[], rpm: number): number {
  const rowOf = (one: EdgeReading): number[] =>
    Array.from({ length: SMOOTH }, (_, k) => ((one.rpm - rpm) / BESIDE) ** k)
  const c = leastSquares(
    near.map(rowOf),
    near.map((one) => one.lambda),
  )
  const squares = near.reduce((sum, one) => {
    const off = one.lambda - rowOf(one).reduce((total, value, k) => total + value * c[k]!, 0)
    return sum + off * off
  }, 0)
  return near.length * Math.log(squares / near.length + FLOOR)
}
