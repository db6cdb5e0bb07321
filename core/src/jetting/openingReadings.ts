import { signed } from '../numbers/format'
import type { Field } from '../field/field'
import type { OpeningReading } from './model/calibrate'
import type { CircuitTarget } from './model/targets'
import { NINETY } from '../numbers/ninety'

/** Least standard error of an opening, ln: what a gauge and a slide stop repeat to. */
const LEAST = 0.005

/** Rows at which a carburettor is read, % of throttle. */
export const OPENING_ROWS: readonly number[] = [2, 5, 10, 15, 20, 30, 40, 50, 60, 80, 100]

/** rpm between the speeds at which a carburettor is looked at; it meters by opening, so few do. */
const SPEED_STEP = 1000

/**
 * Speeds at which a carburettor is looked at, rpm: about those of its own runs, whether a mower's or a kart's.
 *
 * @param runs as their facts tell them
 * @example
 * readingSpeeds([{ facts: { fromRpm: 2800, toRpm: 5100 } }]) // [2500, 3500, 4500, 5500]
 */
export function readingSpeeds(runs: readonly { facts: { fromRpm: number; toRpm: number } | null }[]): number[] {
  const facts = runs.flatMap((run) => run.facts ?? [])
  const [from, to] = facts.length
    ? [Math.min(...facts.map((one) => one.fromRpm)), Math.max(...facts.map((one) => one.toRpm))]
    : [1500, 9500]
  const first = Math.max(500, Math.floor(from / SPEED_STEP - 0.5) * SPEED_STEP + SPEED_STEP / 2)
  const count = Math.max(1, Math.ceil((to - first) / SPEED_STEP))
  return Array.from({ length: count + 1 }, (_, k) => first + k * SPEED_STEP)
}

/** A reading by opening, with the spread over engine speed. */
export interface OpeningRow extends OpeningReading {
  /** leanest and richest node of the row, lambda */
  leanest: number
  richest: number
  nodes: number
}

/**
 * Mixture by throttle opening out of a field, of the cylinders that a carburettor feeds: the mean over engine speed, nodes
 * weighed by their intervals. A carburettor meters by opening; what it does over speed is told as a spread.
 */
export function openingReadings(field: Field, cylinders: readonly number[]): OpeningRow[] {
  const fed = field.cylinders.filter((one) => cylinders.includes(one.cylinder))
  return field.grid.load.flatMap((load, row) => {
    let [sum, weight] = [0, 0]
    const values: number[] = []
    for (const one of fed) {
      field.grid.rpm.forEach((_, column) => {
        const lambda = one.lambda[row]![column]
        // What lies between readings is no reading.
        if (!lambda || one.evidence[row]![column] === 'none' || !(one.samples[row]![column]! > 0)) return
        const half = (one.highPct[row]![column]! - one.lowPct[row]![column]!) / 200 / NINETY
        const w = 1 / Math.max(LEAST, half) ** 2
        sum += w * Math.log(lambda)
        weight += w
        values.push(lambda)
      })
    }
    if (values.length === 0) return []
    const mean = sum / weight
    const spread =
      values.length > 1 ? Math.sqrt(values.reduce((s, v) => s + (Math.log(v) - mean) ** 2, 0) / (values.length - 1)) : 0
    return [
      {
        opening: load / 100,
        lambda: Math.exp(mean),
        error: Math.max(LEAST, Math.hypot(1 / Math.sqrt(weight), spread / Math.sqrt(values.length))),
        leanest: Math.max(...values),
        richest: Math.min(...values),
        nodes: values.length,
      },
    ]
  })
}

/** How a circuit's range reads against its target. */
export interface ZoneDeparture {
  id: CircuitTarget['id']
  /** fuel that its worst reading wants, %: above zero it is lean; null where nothing was read */
  pct: number | null
  /** the worst of the other sign beyond its interval, %; null where there is none */
  against: number | null
  /** opening of the worst reading; null where nothing was read */
  opening: number | null
  verdict: 'lean' | 'rich' | 'on target' | 'not read'
}

/** Within this much fuel, %, a range is on target. */
const ON_TARGET = 2

/**
 * How each circuit's range reads against its target: by its worst reading that is off beyond its own interval, as a lean
 * one and a rich one would cancel in a mean. Where all lie within theirs, the range is on target.
 */
export function zoneDepartures(rows: readonly OpeningReading[], targets: readonly CircuitTarget[]): ZoneDeparture[] {
  return targets.map(({ id, from, to, lambda }) => {
    const inside = rows.filter((row) => row.opening >= from && row.opening < to)
    const off = inside
      .map((row) => ({ opening: row.opening, pct: 100 * (row.lambda / lambda - 1), half: 100 * NINETY * row.error }))
      .sort((a, b) => Math.abs(b.pct) - Math.abs(a.pct))
    if (!off[0]) return { id, pct: null, against: null, opening: null, verdict: 'not read' }
    const beyond = off.filter(({ pct, half }) => Math.abs(pct) > Math.max(ON_TARGET, half))
    const worst = beyond[0] ?? off[0]
    const against = beyond.find(({ pct }) => pct * worst.pct < 0)?.pct ?? null
    const verdict = beyond.length === 0 ? 'on target' : worst.pct > 0 ? 'lean' : 'rich'
    return { id, pct: worst.pct, against, opening: worst.opening, verdict }
  })
}

/** Banks further apart than this at one opening, ln, are not synchronised or not alike. */
const APART = 0.05
/** Up to this opening plates that do not open together tell; beyond the other, jets and probes do. */
const SMALL = 0.3
const LARGE = 0.5

/**
 * What speaks against proposing from these readings, in words, by carburettor; empty when nothing does. Plates that do not
 * open together differ at small openings and less the wider they are; a carburettor that differs alike at all of them is jetted
 * otherwise, and what is proposed for it by itself mends that.
 */
export function bankWarnings(banks: readonly (readonly OpeningRow[])[]): string[] {
  if (banks.length < 2) return []
  const [first, ...others] = banks
  const found = others.flatMap((bank, k) => {
    const off = first!.flatMap((row) => {
      const other = bank.find((one) => Math.abs(one.opening - row.opening) < 0.005)
      return other ? [{ opening: row.opening, off: Math.log(other.lambda / row.lambda) }] : []
    })
    const wide = off.filter((one) => one.opening >= LARGE)
    const common = wide.length ? wide.reduce((sum, one) => sum + one.off, 0) / wide.length : 0
    return off.flatMap((one) =>
      one.opening <= SMALL && Math.abs(one.off - common) > APART
        ? [{ ...one, bank: k + 2, beyond: one.off - common, isWideRead: wide.length > 0 }]
        : [],
    )
  })
  const worst = found.sort((a, b) => Math.abs(b.beyond) - Math.abs(a.beyond))[0]
  if (!worst) return []
  const against = worst.isWideRead ? 'more than wide open it does' : 'and wide open nothing is read'
  return [
    `Carburettor ${worst.bank} reads ${signed(100 * worst.off, 0)} % against the first at ${Math.round(100 * worst.opening)} % throttle, ${against}. Synchronise them before anything is jetted${worst.isWideRead ? '' : '; or read them wide open, too: if they differ there alike, it is the jets'}.`,
  ]
}
