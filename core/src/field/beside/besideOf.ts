import { NINETY } from '../../numbers/ninety'
import { mean } from '../../numbers/mean'
import { studentFactor } from '../../numbers/studentT'
import { firstFrom } from '../../run/firstFrom'
import type { Filters, RunColumns } from '../../run/run'
import { screenRun } from '../../run/screen'
import { build, type LoadGrid } from '../../table/table'
import { cellAt } from '../readings/cellAt'
import { departures, steadinessFrom } from '../readings/steadiness'

type Known = (number | null)[][]

/** One channel over the cells of the table, `[load][rpm]`, null where it was not read. */
interface BesideChannel {
  channel: string
  mean: Known
  most: Known
  /** beyond which it hurts; null where no limit is known */
  limit: number | null
}

/** What leaner and hotter say of each other. */
export interface HeatAgainstMixture {
  /** °C for each percent leaner, at the same speed and opening, with the ends of a 90 % interval */
  perPercent: number | null
  low: number | null
  high: number | null
  verdict: 'agree' | 'disagree' | 'untold'
}

/** What was read beside the mixture. */
export interface Beside {
  /** scatter of the mixture over 0.3 to 2 s, % of lambda, by cell */
  steadyPct: Known
  channels: BesideChannel[]
  heat: HeatAgainstMixture
}

/** Means of one run at one cell. */
interface CellOfRun {
  run: string
  cell: string
  lambda: number
  heat: number
}

/** Readings of a cell that count as a mean of a run, and means of steadiness that a cell needs. */
const [LEAST_READINGS, LEAST_MEANS] = [5, 4]
/** Pairs of runs at one cell that a slope rests on at least. */
const LEAST_PAIRS = 4
/** Rich of this lambda the gas is the hotter the leaner it is; beyond it burns cooler again. Common practice. */
const HOTTEST = 1
/** °C by which a whole run may read beside another one: a warmer day, a probe that has moved. Common practice. */
const BY_RUN = 10

/**
 * What was read beside the mixture at each cell, where the mixture counts: exhaust gas, heads and duty against their limits, and how
 * steady the mixture is. Probes of temperature take seconds: a sweep reads low, a hold tells.
 *
 * @param limitOf limit of a channel in its own unit; null for none
 * @see Gas is hottest near stoichiometric and cools as it gets richer: Heywood, Internal Combustion Engine Fundamentals, 1988, ch. 15 (from memory)
 */
export function besideOf(
  runs: readonly RunColumns[],
  grid: LoadGrid,
  options: { lag: number; filters: Filters },
  limitOf: (channel: string) => number | null,
): Beside {
  const steady = build(grid, () => ({ squares: 0, count: 0 }))
  const sums = new Map<string, { sum: number; count: number; most: number }[][]>()
  const byRun: CellOfRun[] = []
  for (const run of runs) {
    const load = grid.loadAxis === 'throttle' ? run.throttle : run.manifold
    if (!load) continue
    for (const { at, off } of run.handRange ? [] : departures(run, options.filters)) {
      const row = firstFrom(run.time, at)
      const cell = cellAt(grid, run.rpm[row]!, load[row]!)
      if (cell) {
        steady[cell.row]![cell.column]!.squares += off ** 2
        steady[cell.row]![cell.column]!.count++
      }
    }
    const screened = countedRows(run, load, grid, options)
    if (!screened || !run.beside) continue
    const own = new Map<string, { lambda: number; heat: number; count: number }>()
    for (let i = 0; i < screened.count; i++) {
      const cell = cellAt(grid, screened.rpm[i]!, screened.load[i]!)
      if (!cell) continue
      const row = screened.row(i)
      for (const [channel, values] of Object.entries(run.beside)) {
        const value = values[row]!
        if (value !== value) continue
        if (!sums.has(channel))
          sums.set(
            channel,
            build(grid, () => ({ sum: 0, count: 0, most: -Infinity })),
          )
        const one = sums.get(channel)![cell.row]![cell.column]!
        one.sum += value
        one.count++
        if (value > one.most) one.most = value
        if (channel !== 'exhaust1') continue
        const key = `${cell.row} ${cell.column}`
        const mean = own.get(key) ?? { lambda: 0, heat: 0, count: 0 }
        mean.lambda += screened.lambda[0]![i]!
        mean.heat += value
        mean.count++
        own.set(key, mean)
      }
    }
    for (const [cell, { lambda, heat, count }] of own)
      if (count >= (run.handRange ? 1 : LEAST_READINGS))
        byRun.push({ run: run.id, cell, lambda: lambda / count, heat: heat / count })
  }
  return {
    steadyPct: steady.map((cells) =>
      cells.map(({ squares, count }) => (count < LEAST_MEANS ? null : steadinessFrom(squares, count).pct)),
    ),
    channels: [...sums].map(([channel, cells]) => ({
      channel,
      mean: cells.map((row) => row.map((one) => (one.count ? one.sum / one.count : null))),
      most: cells.map((row) => row.map((one) => (one.count ? one.most : null))),
      limit: limitOf(channel),
    })),
    heat: heatAgainst(byRun),
  }
}

/** Readings that count, with the row of the run that each stands in; those by hand stand as they were written down. */
function countedRows(
  run: RunColumns,
  load: Float32Array,
  { loadAxis }: LoadGrid,
  options: { lag: number; filters: Filters },
): { count: number; rpm: Float32Array; load: Float32Array; lambda: Float32Array[]; row(i: number): number } | null {
  if (run.handRange) return { count: run.rpm.length, rpm: run.rpm, load, lambda: run.lambda, row: (i) => i }
  const screened = screenRun(run, { loadAxis, ...options })
  return screened && { ...screened, row: (i) => firstFrom(run.time, screened.time[i]! - 1e-4) }
}

/** Slope of exhaust gas over mixture, among runs at the same cells. */
function heatAgainst(byRun: readonly CellOfRun[]): HeatAgainstMixture {
  const cells = new Map<string, CellOfRun[]>()
  for (const one of byRun) if (one.lambda < HOTTEST) cells.set(one.cell, [...(cells.get(one.cell) ?? []), one])
  const pairs = [...cells.values()].flatMap((all) => {
    if (all.length < 2) return []
    const [lambda, heat] = [mean(all.map((one) => one.lambda)), mean(all.map((one) => one.heat))]
    return all.map((one) => ({ run: one.run, x: 100 * (one.lambda / lambda - 1), y: one.heat - heat }))
  })
  const used = [...cells.values()].filter((all) => all.length > 1).length
  const squares = pairs.reduce((sum, { x }) => sum + x * x, 0)
  const freedom = pairs.length - used - 1
  // Mixtures that are all alike tell nothing of what another would heat.
  if (pairs.length < LEAST_PAIRS || freedom < 1 || squares / pairs.length < 0.25)
    return { perPercent: null, low: null, high: null, verdict: 'untold' }
  const slope = pairs.reduce((sum, { x, y }) => sum + x * y, 0) / squares
  const left = pairs.reduce((sum, { x, y }) => sum + (y - slope * x) ** 2, 0) / freedom
  // What a run reads too hot as a whole, it reads too hot at all of its cells.
  const runs = [...new Set(pairs.map((one) => one.run))]
  const spread = runs.reduce((sum, run) => sum + mean(pairs.flatMap((one) => (one.run === run ? [one.x] : []))) ** 2, 0)
  const half = Math.hypot(
    studentFactor(0.9, freedom) * Math.sqrt(left / squares),
    (NINETY * BY_RUN) / Math.sqrt(spread),
  )
  const [low, high] = [slope - half, slope + half]
  return { perPercent: slope, low, high, verdict: low > 0 ? 'agree' : high < 0 ? 'disagree' : 'untold' }
}
