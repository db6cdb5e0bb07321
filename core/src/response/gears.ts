import { plain } from '../numbers/format'
import { welch } from '../numbers/welch'
import { mean } from '../numbers/mean'
import { meanAcross } from '../numbers/meanAcross'
import type { Filters, RunColumns } from '../run/run'
import { screenRun } from '../run/screen'

/** Whether the gear matters for the mixture. */
export interface GearsCompared {
  gears: number[]
  /** largest difference between two gears, percent of lambda, with its 90 % interval; null where fewer than two gears share a point */
  differencePct: number | null
  low: number | null
  high: number | null
  matters: boolean
  text: string
}

/** Points that are compared: within these of rpm and of load. */
const BIN = { rpm: 500, load: 10 }
/** Least standard deviation of lambda at a point between passes, share. */
const LEAST_SPREAD = 0.004
/** A difference that is worth a gear of its own, percent. */
const WORTH = 1

/** Compares the mixture between gears at the same stops and speeds (Welch on what is left after each point's own mean). */
export function gearsCompared(runs: readonly RunColumns[], lag: number, filters: Filters): GearsCompared {
  const cells = new Map<string, Map<number, number[]>>()
  for (const run of runs) {
    if (!run.gear || !run.throttle || run.lambda.length === 0 || run.handRange) continue
    const screened = screenRun(run, { loadAxis: 'throttle', lag, filters })
    if (!screened) continue
    let row = 0
    const own = new Map<string, number[]>()
    for (let i = 0; i < screened.count; i++) {
      while (row < run.time.length - 1 && run.time[row]! < screened.time[i]! - lag) row++
      const gear = Math.round(run.gear[row]!)
      if (!(gear > 0)) continue
      const key = `${Math.round(screened.rpm[i]! / BIN.rpm)} ${Math.round(screened.load[i]! / BIN.load)}`
      const values = own.get(`${key}|${gear}`)
      const mixture = Math.log(meanAcross(screened.lambda, i))
      if (values) values.push(mixture)
      else own.set(`${key}|${gear}`, [mixture])
    }
    // A pass through a point is one value: its readings are not apart.
    for (const [name, values] of own) {
      const [key, gear] = [name.split('|')[0]!, Number(name.split('|')[1])]
      const cell = cells.get(key) ?? new Map<number, number[]>()
      cell.set(gear, [...(cell.get(gear) ?? []), mean(values)])
      cells.set(key, cell)
    }
  }
  const left = new Map<number, number[]>()
  for (const cell of cells.values()) {
    if (cell.size < 2) continue
    const middle = mean([...cell.values()].map((values) => mean(values)))
    for (const [gear, values] of cell)
      left.set(gear, [...(left.get(gear) ?? []), ...values.map((value) => value - middle)])
  }
  const gears = [...left.keys()].sort((a, b) => a - b)
  const pairs = gears.flatMap((a, k) =>
    gears.slice(k + 1).map((b) => ({ a, b, ...welch(left.get(a)!, left.get(b)!, 0.9, LEAST_SPREAD) })),
  )
  if (pairs.length === 0)
    return {
      gears,
      differencePct: null,
      low: null,
      high: null,
      matters: false,
      text: 'No two gears were run at the same stops and speeds: whether the gear matters is not known.',
    }
  const most = pairs.reduce((best, one) => (Math.abs(one.difference) > Math.abs(best.difference) ? one : best))
  const matters = most.p !== null && most.p < 0.05 / pairs.length && Math.abs(100 * most.difference) >= WORTH
  const percent = (value: number | null): number | null => (value === null ? null : 100 * value)
  return {
    gears,
    differencePct: 100 * most.difference,
    low: percent(most.low),
    high: percent(most.high),
    matters,
    text: matters
      ? `Gear ${most.b} reads ${plain(Math.abs(100 * most.difference), 1)} % ${most.difference > 0 ? 'leaner' : 'richer'} than gear ${most.a}: keep to one gear, or look for what differs.`
      : 'No gear dependence, any will do.',
  }
}
