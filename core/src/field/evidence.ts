import type { Placement } from './readings/placement'
import { studentQuantile95 } from '../numbers/studentT'
import type { Posterior } from './solve/posterior'
import type { Samples } from './readings/samples'
import type { Solution } from './solve/reweigh'

export const EVIDENCE = ['solid', 'thin', 'bridged', 'none'] as const
/** How well a node is known, in words; bridged is told by readings about it, none of them at it. */
export type Evidence = (typeof EVIDENCE)[number]

export interface NodeEvidence {
  /** Effective samples: robust weight times bilinear share, summed. */
  samples: number
  /** Separate passes through the node's surroundings. */
  passes: number
  /** Half width of the 90 % interval, in ln lambda. */
  half: number
  grade: Evidence
}

/** Seconds after which a return to a node counts as another pass. */
const PASS_GAP = 0.5
/** Readings lie at a node when their mean share of it, along either axis, is at least this. */
const LEAST_SHARE = 0.3
/** They reach it when the share is at least this. */
const REACHING_SHARE = 0.1
const LEAST_SAMPLES = 2
/** A node is touched by readings taken at a standstill in a cell beside it that have this weight in all. */
const TOUCHING = 0.5
/** They lie on both sides of it in rpm, or this near (share of the way to its neighbour). */
const AT_NODE = 0.1
/** Solid: half interval at most this and two passes at least. */
const SOLID_HALF = 0.025
/** Between readings a node is known when its half interval is at most this. */
const BRIDGED_HALF = 0.04
/** A node with readings whose half interval is wider than this is not known. */
const THIN_HALF = 0.1

/** What readings lie about a node. */
interface Around {
  samples: number
  /** those of them that were taken at a standstill */
  standing: number
  /** sums of weight times share, times the share along one axis alone */
  alongRpm: number
  alongLoad: number
  passes: number
  /** samples of a tube that saw little flow */
  doubtful: number
  /** shares of the way to the next breakpoint at which the nearest readings lie, on either side */
  slower: number
  faster: number
}

/**
 * Evidence by node: how many readings lie at it, in how many passes, and its grade by the width of its interval.
 *
 * @param isHeld whether a closed loop holds a node
 * @param posterior deviation of the estimate by node (ln lambda), and how many readings are free to tell of it
 * @param stands by run: whether each of its readings was taken at a standstill, as by hand; it then tells of all of the cell
 * that it lies in, wherever the breakpoints are, and its interval says how well
 */
export function nodeEvidence(
  p: Placement,
  samples: Samples,
  solution: Pick<Solution, 'weight'>,
  { deviation, freedom }: Pick<Posterior, 'deviation' | 'freedom'>,
  isHeld: (k: number) => boolean = () => false,
  stands: readonly boolean[] = [],
): NodeEvidence[] {
  const widths = studentQuantile95(freedom)
  const around = readingsAround(p, samples, solution.weight, stands)
  const isAt = around.map(
    ({ samples: total, alongRpm, alongLoad, slower, faster }) =>
      total >= LEAST_SAMPLES &&
      Math.min(alongRpm, alongLoad) >= LEAST_SHARE * total &&
      (Math.min(slower, faster) <= AT_NODE || Math.max(slower, faster) <= 1),
  )
  // The last cell of a row or column is reached by readings on one side of it.
  const isReached = around.map(
    ({ samples: total, standing, alongRpm, alongLoad }, k) =>
      isAt[k]! ||
      standing >= TOUCHING ||
      (total >= LEAST_SAMPLES && Math.min(alongRpm, alongLoad) >= REACHING_SHARE * total && isBeside(p, isAt, k)),
  )
  // A held zone bounds what lies beside it as readings do: the interval tells how far that reaches.
  const isEnd = isReached.map((one, k) => one || isHeld(k))
  return around.map(({ samples: total, passes, doubtful }, k) => {
    const half = widths * deviation[k]!
    const known = { samples: total, passes: isAt[k] ? passes : 0, half }
    if (isAt[k])
      return {
        ...known,
        grade:
          half <= SOLID_HALF && passes >= 2 && doubtful < 0.5 * total ? 'solid' : half <= THIN_HALF ? 'thin' : 'none',
      }
    const isInside = isReached[k] || isBetween(p, isEnd, k)
    return { ...known, grade: isInside && half <= BRIDGED_HALF ? 'bridged' : 'none' }
  })
}

/** Whether readings lie on both sides of a node, along its row or along its column. */
function isBetween({ columns, loads }: Placement, isAt: readonly boolean[], k: number): boolean {
  const [column, row] = [Math.floor(k / loads), k % loads]
  const some = (count: number, at: (n: number) => number): boolean =>
    Array.from({ length: count }, (_, n) => isAt[at(n)]!).includes(true)
  const left = some(column, (n) => n * loads + row)
  const right = some(columns - 1 - column, (n) => (column + 1 + n) * loads + row)
  const below = some(row, (n) => column * loads + n)
  const above = some(loads - 1 - row, (n) => column * loads + row + 1 + n)
  return (left && right) || (below && above)
}

/** Whether readings lie at a neighbour. */
function isBeside({ loads }: Placement, isAt: readonly boolean[], k: number): boolean {
  const row = k % loads
  return [k - loads, k + loads, ...(row > 0 ? [k - 1] : []), ...(row < loads - 1 ? [k + 1] : [])].some((n) => isAt[n])
}

function readingsAround(p: Placement, samples: Samples, weight: Float32Array, stands: readonly boolean[]): Around[] {
  const size = p.columns * p.loads
  const around = Array.from({ length: size }, (): Around => ({
    samples: 0,
    standing: 0,
    alongRpm: 0,
    alongLoad: 0,
    passes: 0,
    doubtful: 0,
    slower: Infinity,
    faster: Infinity,
  }))
  const lastRun = new Int32Array(size).fill(-1)
  const lastTime = new Float64Array(size)
  for (let i = 0; i < p.count; i++) {
    const w = weight[i]!
    const k = p.node[i]!
    const u = p.across[i]!
    const v = p.up[i]!
    for (let j = 0; j < 4; j++) {
      const node = k + (j & 1) + (j & 2 ? p.loads : 0)
      const alongRpm = j & 2 ? u : 1 - u
      const alongLoad = j & 1 ? v : 1 - v
      const wb = w * alongRpm * alongLoad
      if (wb === 0) continue
      const at = around[node]!
      at.samples += wb
      if (stands[samples.run[i]!]) at.standing += wb
      at.alongRpm += wb * alongRpm
      at.alongLoad += wb * alongLoad
      if (samples.doubtful?.[i]) at.doubtful += wb
      if (alongLoad > LEAST_SHARE) {
        if (j & 2) at.slower = Math.min(at.slower, 1 - u)
        else at.faster = Math.min(at.faster, u)
      }
      if (alongRpm > LEAST_SHARE && alongLoad > LEAST_SHARE) {
        if (lastRun[node] !== samples.run[i] || samples.time[i]! - lastTime[node]! > PASS_GAP) at.passes++
        lastRun[node] = samples.run[i]!
        lastTime[node] = samples.time[i]!
      }
    }
  }
  return around
}
