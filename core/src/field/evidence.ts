import { solveFactored } from '../numbers/banded'
import type { Placement } from './placement'
import type { Samples } from './samples'
import type { Solution } from './solve'
import { studentQuantile95 } from '../numbers/studentT'

export const EVIDENCE = ['solid', 'thin', 'bridged', 'none'] as const
/** How well a node is known, in words; bridged is told by readings about it, none of them at it. */
export type Evidence = (typeof EVIDENCE)[number]

export interface NodeEvidence {
  /** Effective samples: robust weight times bilinear share, summed. */
  samples: number
  /** Separate passes through the node's surroundings. */
  passes: number
  /** Runs that bear on it, as an effective number. */
  runs: number
  /** Half width of the 90 % interval, in ln lambda. */
  half: number
  grade: Evidence
}

/** Seconds after which a return to a node counts as another pass. */
const PASS_GAP = 0.5
/** A stretch of one run no longer than this is one cluster. */
const CLUSTER_SECONDS = 10
const MOST_CLUSTERS = 400
/** The same for a quick look, where every cluster costs time. */
export const QUICK_CLUSTERS = 100
/** Prior strength of the pooled between-run variance, in degrees of freedom. */
const PRIOR_DF = 4
/** Between-run deviation assumed at least (ln lambda): runs are never better repeatable than this. */
const LEAST_BETWEEN = 0.003
/** A node must see samples at this mean bilinear share at least: below, its value is an extrapolation. */
const LEAST_SHARE = 0.3
const LEAST_SAMPLES = 2
/** Solid: half interval at most this and two passes at least. */
const SOLID_HALF = 0.025
/** A node is measured when readings lie on both sides of it in rpm, or this near (share of the distance to its neighbour). */
const AT_NODE = 0.1
/** What a node beyond the last reading may be off by (ln lambda) when that reading is a whole step away. */
const BEYOND_DOUBT = 0.03
/** What a tailpipe tube at little flow may be off by (ln lambda), beyond its scatter. */
const TUBE_DOUBT = 0.02

/**
 * Evidence and 90 % interval by node. Samples of one pass are not independent, so the variance is clustered by run (long
 * runs are split into stretches): `A^-1 sum_g u_g u_g' A^-1` with small-sample correction, then moderated toward the
 * pooled between-run variance, which keeps it steady where only two or three runs bear on a node.
 *
 * @see Liang and Zeger (1986) for the clustered variance; Smyth (2004) for the moderation
 */
export function nodeEvidence(
  p: Placement,
  samples: Samples,
  solution: Solution,
  mostClusters = MOST_CLUSTERS,
): NodeEvidence[] {
  const size = p.columns * p.loads
  const { cluster, clusters } = clusterSamples(samples, mostClusters)
  const score = Array.from({ length: clusters }, () => new Float64Array(size))
  const share = Array.from({ length: clusters }, () => new Float64Array(size))
  const total = new Float64Array(size)
  const squared = new Float64Array(size)
  const passes = new Uint32Array(size)
  const doubtful = new Float64Array(size)
  const nearestBelow = new Float64Array(size).fill(Infinity)
  const nearestAbove = new Float64Array(size).fill(Infinity)
  const lastRun = new Int32Array(size).fill(-1)
  const lastTime = new Float64Array(size)
  for (let i = 0; i < p.count; i++) {
    const w = solution.weight[i]!
    const k = p.node[i]!
    const u = p.across[i]!
    const v = p.up[i]!
    const scores = score[cluster[i]!]!
    const shares = share[cluster[i]!]!
    const push = w * solution.residual[i]!
    for (let j = 0; j < 4; j++) {
      const node = k + (j & 1) + (j & 2 ? p.loads : 0)
      const b = (j & 2 ? u : 1 - u) * (j & 1 ? v : 1 - v)
      const wb = w * b
      if (wb === 0) continue
      scores[node]! += push * b
      shares[node]! += wb * b
      total[node]! += wb
      squared[node]! += wb * b
      if (samples.doubtful?.[i]) doubtful[node]! += wb
      if ((j & 1 ? v : 1 - v) > LEAST_SHARE) {
        if (j & 2) nearestBelow[node] = Math.min(nearestBelow[node]!, 1 - u)
        else nearestAbove[node] = Math.min(nearestAbove[node]!, u)
      }
      if (b > LEAST_SHARE) {
        if (lastRun[node] !== samples.run[i] || samples.time[i]! - lastTime[node]! > PASS_GAP) passes[node]!++
        lastRun[node] = samples.run[i]!
        lastTime[node] = samples.time[i]!
      }
    }
  }
  const spread = new Float64Array(size)
  for (const u of score) {
    const influence = solveFactored(solution.factor, u)
    for (let k = 0; k < size; k++) spread[k]! += influence[k]! ** 2
  }
  const effective = Array.from({ length: size }, (_, k) => {
    let sum = 0
    let squares = 0
    for (const h of share) {
      sum += h[k]!
      squares += h[k]! ** 2
    }
    return squares > 0 ? (sum * sum) / squares : 0
  })
  // Between-run variance as each node sees it, and pooled over the nodes that several runs cross.
  let pooled = 0
  let pooledDf = 0
  const between = Array.from({ length: size }, (_, k) => {
    const g = effective[k]!
    if (g < 1.5) return 0
    const variance = (spread[k]! * g * g) / (g - 1)
    if (squared[k]! / total[k]! > LEAST_SHARE) {
      pooled += variance * (g - 1)
      pooledDf += g - 1
    }
    return variance
  })
  const prior = Math.max(LEAST_BETWEEN ** 2, pooledDf > 0 ? pooled / pooledDf : 0.01 ** 2)
  const nodes = Array.from({ length: size }, (_, k): NodeEvidence => {
    const g = effective[k]!
    if (!(total[k]! >= LEAST_SAMPLES) || squared[k]! / total[k]! < LEAST_SHARE) {
      return { samples: total[k]!, passes: passes[k]!, runs: g, half: Infinity, grade: 'none' }
    }
    const df = Math.max(0, g - 1)
    const moderated = (PRIOR_DF * prior + df * between[k]!) / (PRIOR_DF + df)
    const sampling = (solution.scale * solution.scale) / Math.max(1, total[k]!)
    const random = studentQuantile95(PRIOR_DF + df) * Math.sqrt(Math.max(moderated / Math.max(1, g), sampling))
    const [below, above] = [nearestBelow[k]!, nearestAbove[k]!]
    const beyond = Math.min(below, above) > AT_NODE && Math.max(below, above) > 1 ? Math.min(1, below, above) : 0
    const half = Math.hypot(random, (TUBE_DOUBT * doubtful[k]!) / total[k]!, BEYOND_DOUBT * beyond)
    if (beyond > 0) return { samples: total[k]!, passes: passes[k]!, runs: g, half, grade: 'bridged' }
    const solid = half <= SOLID_HALF && passes[k]! >= 2 && doubtful[k]! < 0.5 * total[k]!
    return { samples: total[k]!, passes: passes[k]!, runs: g, half, grade: solid ? 'solid' : 'thin' }
  })
  // Beyond the last reading something is told only beside a node that was measured: a stray cell would be a bump.
  const isMeasured = (k: number): boolean => nodes[k]?.grade === 'solid' || nodes[k]?.grade === 'thin'
  return nodes.map((one, k) => {
    const row = k % p.loads
    const beside = [k - p.loads, k + p.loads, ...(row > 0 ? [k - 1] : []), ...(row < p.loads - 1 ? [k + 1] : [])]
    return one.grade === 'bridged' && !beside.some(isMeasured)
      ? { ...one, half: Infinity, grade: 'none' as const }
      : one
  })
}

/** Numbers the clusters: stretches of one run without a gap, no longer than CLUSTER_SECONDS (more when there are very many). */
function clusterSamples(samples: Samples, most: number): { cluster: Uint16Array; clusters: number } {
  const cluster = new Uint16Array(samples.count)
  for (let seconds = CLUSTER_SECONDS; ; seconds *= 4) {
    let id = -1
    let start = 0
    for (let i = 0; i < samples.count; i++) {
      const fresh =
        i === 0 ||
        samples.run[i] !== samples.run[i - 1] ||
        samples.time[i]! - samples.time[i - 1]! > PASS_GAP * (seconds / CLUSTER_SECONDS) ||
        samples.time[i]! - start > seconds
      if (fresh) {
        id++
        start = samples.time[i]!
      }
      cluster[i] = Math.min(id, 65535)
    }
    const runs = new Set(samples.run).size
    if (id < Math.max(most, runs) || seconds > 1e5) return { cluster, clusters: id + 1 }
  }
}
