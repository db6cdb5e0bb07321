import { percentFromFactor } from '../fuel/mixture'
import type { RunColumns } from '../run/run'
import { nearest } from '../table/lookup'
import { build, filled } from '../table/table'
import type { Field, FieldOptions } from './field'
import { fixedLag } from './lag/lag'

/**
 * The comparison method: each reading as it stands in the log, booked to the nearest cell, and the cells averaged. No lag,
 * nothing set aside but missing readings. This is what a plain spreadsheet does.
 */
export function nearestCellAverage(runs: readonly RunColumns[], options: FieldOptions): Field {
  const { grid, target } = options
  const cylinders = Math.max(...runs.map((run) => run.lambda.length))
  const used = runs.map(() => 0)
  const fields = Array.from({ length: cylinders }, (_, c) => {
    const sum = filled(grid, 0)
    const count = filled(grid, 0)
    runs.forEach((run, r) => {
      const load = grid.loadAxis === 'throttle' ? run.throttle : run.manifold
      const lambda = run.lambda[c]
      if (!load || !lambda) return
      for (let i = 0; i < lambda.length; i++) {
        if (!(lambda[i]! > 0) || !(run.rpm[i]! > 0) || Number.isNaN(load[i]!)) continue
        const row = nearest(grid.load, load[i]!)
        const column = nearest(grid.rpm, run.rpm[i]!)
        sum[row]![column]! += lambda[i]!
        count[row]![column]!++
        if (c === 0) used[r]!++
      }
    })
    const lambda = build(grid, (r, k) => (count[r]![k]! > 0 ? sum[r]![k]! / count[r]![k]! : null))
    return {
      cylinder: c + 1,
      lambda,
      target,
      changePct: build(grid, (r, k) =>
        lambda[r]![k] === null ? null : percentFromFactor(lambda[r]![k]! / target[r]![k]!),
      ),
      lowPct: filled<number | null>(grid, null),
      highPct: filled<number | null>(grid, null),
      samples: count,
      passes: filled(grid, 0),
      evidence: build(grid, (r, k) => (count[r]![k]! > 0 ? ('thin' as const) : ('none' as const))),
      held: filled(grid, false),
      byTrim: filled(grid, false),
      undoPct: filled(grid, null),
      silentPct: filled(grid, null),
      noise: 0,
    }
  })
  return {
    grid,
    method: 'nearest',
    lag: { ...fixedLag(0), note: 'The nearest-cell average takes readings as they stand in the log.' },
    cylinders: fields,
    heldZones: [],
    misfires: [],
    runs: runs.map((run, r) => ({
      id: run.id,
      used: used[r]!,
      setAside: run.time.length > used[r]! ? { 'no reading': run.time.length - used[r]! } : {},
      odd: null,
    })),
  }
}
