import { banded, timesVector, type Banded } from '../../numbers/banded'
import { addCell, type Placement } from '../readings/placement'
import type { Samples } from '../readings/samples'

/** Weighted readings summed over the nodes that they bear on: all that a posterior needs to know of them. */
export interface NodeSums {
  /** sum of w b b' */
  normal: Banded
  /** sum of w b y */
  right: Float64Array
  /** sum of w y y, and of w */
  square: number
  weight: number
  /** by stretch of a run that has a level of its own */
  stretches: StretchSums[]
}

interface StretchSums {
  /** sum of w b, by node, and the nodes where it is not zero */
  nodes: Float64Array
  touched: number[]
  /** sum of w, and of w y */
  weight: number
  right: number
}

/** s of a run that share one level: a longer run drifts. */
const STRETCH = 60
/** Stretches at most; longer ones where there would be more. */
const MOST_STRETCHES = 60
/** s beyond which stretches are not made longer. */
const LONGEST = 1e5

/**
 * The same sums, were every reading of a field higher by another: what was corrected already, added back.
 *
 * @param by ln of the need, by node
 */
export function raised({ normal, right, square, weight, stretches }: NodeSums, by: Float64Array): NodeSums {
  const pushed = timesVector(normal, by)
  return {
    normal,
    right: right.map((one, k) => one + pushed[k]!),
    square: square + by.reduce((sum, one, k) => sum + one * (2 * right[k]! + pushed[k]!), 0),
    weight,
    stretches: stretches.map((one) => ({
      ...one,
      right: one.right + one.touched.reduce((sum, k) => sum + one.nodes[k]! * by[k]!, 0),
    })),
  }
}

/** Which stretch each reading belongs to. */
export function stretchesOf({ count, run, time }: Samples): { stretch: Uint16Array; stretches: number } {
  const sweeps: number[] = []
  for (let i = 0, last = -1; i < count; i++)
    if (run[i] !== last) {
      sweeps.push(i)
      last = run[i]!
    }
  // Of more sweeps than levels those of one log share theirs: its time goes on.
  const isLogs = sweeps.length > MOST_STRETCHES
  const starts = isLogs ? sweeps.filter((i) => i === 0 || !(time[i]! > time[i - 1]!)) : sweeps
  const ends = starts.map((_, r) => starts[r + 1] ?? count)
  const lasts = starts.map((start, r) => time[ends[r]! - 1]! - time[start]!)
  const most = (seconds: number): number => lasts.reduce((sum, one) => sum + 1 + Math.floor(one / seconds), 0)
  let seconds = STRETCH
  while (most(seconds) > MOST_STRETCHES && seconds < LONGEST) seconds *= 2
  const stretch = new Uint16Array(count)
  let id = 0
  starts.forEach((first, r) => {
    for (let from = first, to = first; from < ends[r]!; from = to, id++) {
      const end = time[from]! + seconds
      do to++
      while (to < ends[r]! && time[to]! <= end)
      stretch.fill(Math.min(id, 65535), from, to)
    }
  })
  return { stretch, stretches: id }
}

/** Samples in the order of their cells, and of time within each; and where each cell ends. */
function byCell({ count, node, columns, loads }: Placement): { order: Uint32Array; end: Uint32Array } {
  const at = new Uint32Array(columns * loads + 1)
  for (let i = 0; i < count; i++) at[node[i]! + 1]!++
  for (let k = 1; k < at.length; k++) at[k]! += at[k - 1]!
  const order = new Uint32Array(count)
  for (let i = 0; i < count; i++) order[at[node[i]!]!++] = i
  return { order, end: at }
}

/**
 * Sums readings over nodes, cell by cell: as long as readings stay in one cell and stretch, their sums stay in registers.
 * The solve sums alike (`accumulate`), but weighs as it goes and knows no stretches.
 *
 * @param y ln of the need, by sample; @param weight robust weight by sample
 */
export function sumOverNodes(
  p: Placement,
  y: Float32Array,
  weight: Float32Array,
  { stretch, stretches }: ReturnType<typeof stretchesOf>,
): NodeSums {
  const { loads, across, up } = p
  const size = p.columns * loads
  const normal = banded(size, 2 * loads)
  const right = new Float64Array(size)
  const all: StretchSums[] = Array.from({ length: stretches }, () => ({
    nodes: new Float64Array(size),
    touched: [],
    weight: 0,
    right: 0,
  }))
  const { order, end } = byCell(p)
  let [square, total] = [0, 0]
  for (let o = 0, k = 0; o < p.count;) {
    while (end[k]! <= o) k++
    const of = stretch[order[o]!]!
    let s00 = 0
    let s10 = 0
    let s11 = 0
    let s20 = 0
    let s21 = 0
    let s22 = 0
    let s31 = 0
    let s32 = 0
    let s33 = 0
    let t0 = 0
    let t1 = 0
    let t2 = 0
    let t3 = 0
    for (; o < end[k]!; o++) {
      const i = order[o]!
      if (stretch[i] !== of) break
      const w = weight[i]!
      if (w === 0) continue
      const u = across[i]!
      const v = up[i]!
      const value = y[i]!
      const b3 = u * v
      const b2 = u - b3
      const b1 = v - b3
      const b0 = 1 - u - b1
      const w0 = w * b0
      const w1 = w * b1
      const w2 = w * b2
      const w3 = w * b3
      s00 += w0 * b0
      s10 += w1 * b0
      s11 += w1 * b1
      s20 += w2 * b0
      s21 += w2 * b1
      s22 += w2 * b2
      s31 += w3 * b1
      s32 += w3 * b2
      s33 += w3 * b3
      t0 += w0 * value
      t1 += w1 * value
      t2 += w2 * value
      t3 += w3 * value
      square += w * value * value
    }
    // b3 b0 is b2 b1.
    addCell(normal, k, loads, [s00, s10, s11, s20, s21, s22, s21, s31, s32, s33])
    const corner = [k, k + 1, k + loads, k + loads + 1] as const
    const own = all[of]!
    const pushes = [t0, t1, t2, t3]
    // The four weights of a reading are one together.
    const masses = [s00 + s10 + s20 + s21, s10 + s11 + s21 + s31, s20 + s21 + s22 + s32, s21 + s31 + s32 + s33]
    for (let a = 0; a < 4; a++) {
      right[corner[a]!]! += pushes[a]!
      own.nodes[corner[a]!]! += masses[a]!
    }
    const mass = masses.reduce((sum, one) => sum + one, 0)
    own.weight += mass
    own.right += t0 + t1 + t2 + t3
    total += mass
  }
  for (const one of all) one.nodes.forEach((value, k) => value !== 0 && one.touched.push(k))
  return { normal, right, square, weight: total, stretches: all }
}
