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

/** A channel with blanks for its spikes; as it is where it has none, or can move as it likes. */
export function withoutSpikes(channel: string, time: Float32Array, values: Float32Array): Float32Array {
  const of = SPIKES[channel]
  if (!of) return values
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
