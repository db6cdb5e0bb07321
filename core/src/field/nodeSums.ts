import { banded, timesVector, type Banded } from '../numbers/banded'
import type { Placement } from './placement'
import type { Samples } from './samples'

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
  for (let seconds = STRETCH; ; seconds *= 2) {
    const stretch = new Uint16Array(count)
    let [id, start] = [-1, 0]
    for (let i = 0; i < count; i++) {
      if (i === 0 || run[i] !== run[i - 1] || time[i]! - start > seconds) {
        id++
        start = time[i]!
      }
      stretch[i] = Math.min(id, 65535)
    }
    if (id < MOST_STRETCHES || seconds > 1e5) return { stretch, stretches: id + 1 }
  }
}

/**
 * Sums readings over nodes in one pass.
 *
 * @param y ln of the need, by sample; @param weight robust weight by sample
 */
export function sumOverNodes(
  p: Placement,
  y: Float32Array,
  weight: Float32Array,
  { stretch, stretches }: ReturnType<typeof stretchesOf>,
): NodeSums {
  const { loads } = p
  const size = p.columns * loads
  const normal = banded(size, 2 * loads)
  const { data } = normal
  const width = 2 * loads
  const stride = width + 1
  const right = new Float64Array(size)
  const all: StretchSums[] = Array.from({ length: stretches }, () => ({
    nodes: new Float64Array(size),
    touched: [],
    weight: 0,
    right: 0,
  }))
  let square = 0
  let total = 0
  for (let i = 0; i < p.count; i++) {
    const w = weight[i]!
    if (w === 0) continue
    const k = p.node[i]!
    const u = p.across[i]!
    const v = p.up[i]!
    const value = y[i]!
    const b3 = u * v
    const b2 = u - b3
    const b1 = v - b3
    const b0 = 1 - u - b1
    const [w0, w1, w2, w3] = [w * b0, w * b1, w * b2, w * b3]
    const of = all[stretch[i]!]!
    const { nodes } = of
    nodes[k]! += w0
    nodes[k + 1]! += w1
    nodes[k + loads]! += w2
    nodes[k + loads + 1]! += w3
    of.weight += w
    of.right += w * value
    right[k]! += w0 * value
    right[k + 1]! += w1 * value
    right[k + loads]! += w2 * value
    right[k + loads + 1]! += w3 * value
    const d0 = k * stride + width
    data[d0]! += w0 * b0
    data[d0 + stride]! += w1 * b1
    data[d0 + stride - 1]! += w1 * b0
    const d2 = d0 + loads * stride
    data[d2]! += w2 * b2
    data[d2 - loads]! += w2 * b0
    data[d2 - loads + 1]! += w2 * b1
    const d3 = d2 + stride
    data[d3]! += w3 * b3
    data[d3 - loads - 1]! += w3 * b0
    data[d3 - loads]! += w3 * b1
    data[d3 - 1]! += w3 * b2
    square += w * value * value
    total += w
  }
  for (const one of all) one.nodes.forEach((value, k) => value !== 0 && one.touched.push(k))
  return { normal, right, square, weight: total, stretches: all }
}
