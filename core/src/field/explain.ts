import { appliedLag } from './lag/lag'
import { percentFromFactor } from '../fuel/mixture'
import { screenRun } from '../run/screen'
import type { SetAside } from '../run/run'
import { nearest } from '../table/lookup'
import type { FieldWork } from './estimate'
import type { Known } from './solve/solveCylinder'
import { holdsCell } from './held/holdsCell'
import { marginRange } from './solve/marginRange'
import { median } from '../numbers/median'

/** What one run says about a node. */
interface NodeRun {
  id: string
  /** readings whose bilinear share at the node is at least a quarter */
  samples: number
  /** this run's own change at the node, %: the field plus its mean departure there */
  changePct: number | null
  /** share of its readings that the robust solve kept, 0 to 1 */
  weight: number
}

export interface NodeExplanation {
  runs: NodeRun[]
  /** readings near the node that were set aside, by reason, over all runs */
  setAside: SetAside
}

const LEAST_SHARE = 0.25

/**
 * Why a node is what it is: run by run, and what was set aside near it.
 *
 * @param cylinder from 1
 * @param row of the table, from 0 at its lowest load
 * @param column from 0 at its lowest speed
 */
export function explainNode(work: FieldWork, cylinder: number, row: number, column: number): NodeExplanation {
  const { options, runs, lag } = work
  const { grid } = options
  const held = work.heldZones.some((zone) => holdsCell(grid, zone, row, column))
  const cylinderWork = work.cylinders[cylinder - 1]
  const solved = held ? cylinderWork?.pinned : cylinderWork?.open
  const explanation: NodeExplanation = { runs: solved ? runsAt(work, solved, row, column) : [], setAside: {} }
  const near = { rpm: halfWay(grid.rpm, column), load: halfWay(grid.load, row) }
  for (const run of runs) {
    const screened = screenRun(run, {
      loadAxis: grid.loadAxis,
      lag: appliedLag(lag),
      filters: options.filters,
      range: marginRange(grid),
      near,
    })
    for (const [reason, count] of Object.entries(screened?.setAsideNear ?? {}) as [keyof SetAside, number][]) {
      explanation.setAside[reason] = (explanation.setAside[reason] ?? 0) + count
    }
  }
  return explanation
}

function halfWay(points: readonly number[], at: number): [number, number] {
  const here = points[at]!
  const before = points[at - 1] ?? here - (points[at + 1]! - here)
  const after = points[at + 1] ?? here + (here - points[at - 1]!)
  return [(before + here) / 2, (here + after) / 2]
}

function runsAt(
  work: FieldWork,
  { samples, placement: p, solution, posterior }: Known,
  row: number,
  column: number,
): NodeRun[] {
  const node = column * p.loads + row
  const sums = new Map<number, { count: number; departure: number; share: number; weight: number }>()
  for (let i = 0; i < p.count; i++) {
    const k = p.node[i]!
    const u = p.across[i]!
    const v = p.up[i]!
    const b =
      k === node
        ? (1 - u) * (1 - v)
        : k + 1 === node
          ? (1 - u) * v
          : k + p.loads === node
            ? u * (1 - v)
            : k + p.loads + 1 === node
              ? u * v
              : 0
    if (b < LEAST_SHARE) continue
    const run = samples.run[i]!
    const sum = sums.get(run) ?? { count: 0, departure: 0, share: 0, weight: 0 }
    sum.count++
    sum.departure += b * solution.residual[i]!
    sum.share += b
    sum.weight += solution.weight[i]!
    sums.set(run, sum)
  }
  return [...sums].map(([run, { count, departure, share, weight }]) => ({
    id: work.runs[run]!.id,
    samples: count,
    changePct: percentFromFactor(Math.exp(posterior.x[node]! + departure / share)),
    weight: weight / count,
  }))
}

/** One run's lambda along rpm at one throttle stop: medians by rpm bin of its lag-corrected readings. */
export interface RunTrace {
  id: string
  rpm: number[]
  lambda: number[]
}

const TRACE_BIN = 100

/**
 * Traces of all runs at the stop that a row of the table stands for.
 *
 * @param cylinder from 1
 * @param row of the table, from 0 at its lowest load
 */
export function runTraces(work: FieldWork, cylinder: number, row: number): RunTrace[] {
  const { options, runs, lag } = work
  const { grid } = options
  return runs.flatMap((run) => {
    const screened = screenRun(run, {
      loadAxis: grid.loadAxis,
      lag: appliedLag(lag),
      filters: options.filters,
      range: marginRange(grid),
    })
    const lambda = screened?.lambda[cylinder - 1]
    if (!screened || !lambda) return []
    const bins = new Map<number, number[]>()
    for (let i = 0; i < screened.count; i++) {
      if (nearest(grid.load, screened.load[i]!) !== row || Number.isNaN(lambda[i]!)) continue
      const bin = Math.floor(screened.rpm[i]! / TRACE_BIN)
      const values = bins.get(bin)
      if (values) values.push(lambda[i]!)
      else bins.set(bin, [lambda[i]!])
    }
    const known = [...bins].filter(([, values]) => values.length >= 2).sort((a, b) => a[0] - b[0])
    return known.length < 2
      ? []
      : [
          {
            id: run.id,
            rpm: known.map(([bin]) => (bin + 0.5) * TRACE_BIN),
            lambda: known.map(([, values]) => median(values)),
          },
        ]
  })
}
