import type { Columns } from './alignChannels'
import { channelKind, channelTitle } from './channels'

/** What a channel cannot do: leave where it was by this much and be back so soon. */
interface SpikeLimit {
  /** least departure, in the channel's unit, and as a share of where it was */
  least: number
  share: number
  /** s from the last reading before to the first after */
  within: number
  /** what is less than before stays, unless it is nothing at all: a cylinder that misses makes a dip */
  keepsDips?: boolean
}

/** Crank and drum have inertia, and so has a hand; a signal has none (common practice: ignition noise on speed and load cell, worn tracks of a throttle sensor). */
const SPIKES: Partial<Record<string, SpikeLimit>> = {
  rpm: { least: 300, share: 0.12, within: 0.25 },
  throttle: { least: 3, share: 0, within: 0.08 },
  grip: { least: 3, share: 0, within: 0.08 },
  drum: { least: 30, share: 0.12, within: 0.25 },
  torque: { least: 5, share: 0.6, within: 0.12, keepsDips: true },
  power: { least: 3, share: 0.6, within: 0.12, keepsDips: true },
}
/** Rows that one spike lasts at most. */
const MOST_ROWS = 3

/**
 * Columns without what is no reading: values that a channel cannot have (a sensor that drops out to 0, a logger's -9999), and
 * spikes of speed, throttle, grip and torque that come and go faster than engine or hand can, and all of a dead sensor of mixture
 * beside one that tells. A blank stands in their place.
 *
 * @param columns all of one length; readings by hand, which have `handRange`, have no spikes
 * @returns columns of the same names, those without a stray as they are
 * @example
 * Number.isNaN(withoutStrays({ lambda1: Float32Array.of(0.9, 0, 0.91) }).lambda1[1]) // true
 */
export function withoutStrays<C extends Columns>(columns: C): C {
  const { time, handRange } = columns
  const clean = Object.fromEntries(
    Object.entries(columns).map(([channel, values]) => {
      if (!values || channel === 'time') return [channel, values]
      const possible = withinRange(channel, values)
      const limit = SPIKES[channel]
      return [channel, limit && time && !handRange ? withoutSpikes(time, possible, limit) : possible]
    }),
  ) as C
  return handRange ? clean : withoutDead(clean)
}

function withinRange(channel: string, values: Float32Array): Float32Array {
  const kind = channelKind(channel)
  if (!kind) return values
  const { least, most } = kind
  const isStray = (value: number): boolean => value < least || value > most
  return values.some(isStray) ? values.map((value) => (isStray(value) ? NaN : value)) : values
}

/** A sensor that reads one value throughout, beyond what an engine burns, is not connected, or stands in free air. */
const DEAD = { below: 0.68, above: 1.25, share: 0.98, least: 50 }

function isDead(lambda: Float32Array): boolean {
  if (lambda.length < DEAD.least) return false
  const counts = new Map<number, number>()
  let [known, most] = [0, 0]
  for (const value of lambda) {
    if (value !== value) continue
    known++
    if (value >= DEAD.below && value <= DEAD.above) continue
    const count = (counts.get(value) ?? 0) + 1
    counts.set(value, count)
    if (count > most) most = count
  }
  return known === 0 || most >= DEAD.share * known
}

/** Beside a sensor that tells, one that is dead is blank: it must not set aside what the other reads. */
function withoutDead<C extends Columns>(columns: C): C {
  const lambdas = Object.entries(columns).filter(([channel]) => channel.startsWith('lambda'))
  const dead = lambdas.filter(([, values]) => values && isDead(values))
  if (dead.length === 0 || dead.length === lambdas.length) return columns
  const blanks = dead.map(([channel, values]) => [channel, new Float32Array(values!.length).fill(NaN)])
  return { ...columns, ...Object.fromEntries(blanks) }
}

function withoutSpikes(time: Float32Array, values: Float32Array, of: SpikeLimit): Float32Array {
  const { least, share } = of
  let out = values
  for (let i = 1; i + 1 < values.length; i++) {
    const before = values[i - 1]!
    const limit = Math.max(least, share * Math.abs(before))
    if (!(Math.abs(values[i]! - before) > limit)) continue
    const back = backAfter(time, values, i, limit, of)
    if (back === null) continue
    if (out === values) out = values.slice()
    out.fill(NaN, i, back)
    i = back
  }
  return out
}

/** The row at which a channel is back from where it went at `first`, with all rows between off the line from before to after; null for none. */
function backAfter(
  time: Float32Array,
  values: Float32Array,
  first: number,
  limit: number,
  { within, keepsDips = false }: SpikeLimit,
): number | null {
  const [from, start] = [values[first - 1]!, time[first - 1]!]
  for (let back = first + 1; back <= first + MOST_ROWS && back < values.length; back++) {
    if (!(time[back]! - start <= within)) return null
    if (!(Math.abs(values[back]! - from) <= limit)) continue
    const slope = (values[back]! - from) / (time[back]! - start)
    for (let k = first; k < back; k++) {
      const isDip = values[k] !== 0 && Math.abs(values[k]!) < Math.abs(from)
      if ((keepsDips && isDip) || Math.abs(values[k]! - from - slope * (time[k]! - start)) <= limit) return null
    }
    return back
  }
  return null
}

/** Share of a channel's readings from which on its strays are told: fewer happen to every loom. */
const TOLD = 0.002

/** What to say of channels whose readings were strays, by the columns before and after. */
export function straysInWords(logged: Columns, clean: Columns): string[] {
  return Object.entries(logged).flatMap(([channel, values]) => {
    const left = clean[channel]
    if (!values || !left || left === values) return []
    const strays = values.reduce((sum, value, i) => sum + (value === value && Number.isNaN(left[i]) ? 1 : 0), 0)
    const share = strays / values.length
    if (share < TOLD) return []
    return [
      `${channelTitle(channel)}: ${(100 * share).toFixed(1)} % of the readings cannot be, or jump as nothing does; they count as empty. Look at the wiring of that signal.`,
    ]
  })
}
