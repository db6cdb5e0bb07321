/** Columns of one length by channel; NaN where a row has no value of it. */
export type Columns = Partial<Record<string, Float32Array>>

/** s over which a value is drawn in between two readings of it, and over which one that moves in steps or slowly stays. */
const LINE_WITHIN = 0.5
const STAYS_FOR = 5
/** Channels that are drawn in by a line, and those that stay as they were; others are left as they are. */
const BY_LINE = [
  'rpm',
  'throttle',
  'manifold',
  'grip',
  'torque',
  'power',
  'drum',
  'spark',
  'trimShort',
  'trimLong',
  'lambda2',
  'lambda3',
  'lambda4',
]
const STAYING = ['coolant', 'gear', 'mode', 'ambient', 'barometer', 'humidity']
/** Share of the rows without lambda from which on the channels of a log take turns. */
const LEAST_TURNS = 0.3

/**
 * Columns of a log whose channels were written each when it was read, so that most rows hold one or two of them: brought
 * to the rows of lambda, with the others drawn in between their own readings. A blank now and then is drawn in, too; a
 * longer one stays.
 *
 * @param columns all of one length; without `time` they stay as they are
 * @returns columns of the same names, those without a blank as they are
 * @example
 * alignChannels({ time: Float32Array.of(0, 0.1, 0.2), rpm: Float32Array.of(3000, NaN, 3200) }).rpm[1] // 3100
 */
export function alignChannels<C extends Columns>(columns: C): C {
  // A run out of an archive may have none: then nothing tells what lies between what.
  if (!columns['time']) return columns
  const time = evenTime(columns['time'])
  const full = Object.fromEntries(
    Object.entries(columns).map(([channel, values]) => [
      channel,
      channel === 'time' ? time : withoutBlanks(channel, time, values!),
    ]),
  )
  const keep = columns['lambda1'] && rowsOfLambda(time, columns['lambda1'])
  if (!keep) return full as C
  return Object.fromEntries(
    Object.entries(full).map(([channel, values]) => [channel, values.filter((_, i) => keep[i])]),
  ) as C
}

/** A loop, for `some` makes an object of each of a million numbers. */
function hasBlank(values: Float32Array): boolean {
  for (let i = 0; i < values.length; i++) if (values[i] !== values[i]) return true
  return false
}

/** A blank time lies evenly between those of the rows about it. */
function evenTime(time: Float32Array): Float32Array {
  if (!hasBlank(time)) return time
  const rows = Float32Array.from(time, (_, row) => row)
  const out = time.slice()
  let last = -1
  for (let i = 0; i < time.length; i++) {
    if (Number.isNaN(time[i]!)) continue
    if (last >= 0 && time[i]! - time[last]! <= LINE_WITHIN) drawLine(rows, time, out, last, i)
    last = i
  }
  return out
}

/** Values between two rows, on the line along `at`. */
function drawLine(at: Float32Array, values: Float32Array, out: Float32Array, from: number, to: number): void {
  const slope = (values[to]! - values[from]!) / (at[to]! - at[from]!)
  for (let k = from + 1; k < to; k++) out[k] = values[from]! + slope * (at[k]! - at[from]!)
}

function withoutBlanks(channel: string, time: Float32Array, values: Float32Array): Float32Array {
  const stays = STAYING.includes(channel)
  if ((!stays && !BY_LINE.includes(channel)) || !hasBlank(values)) return values
  const out = values.slice()
  let last = -1
  for (let i = 0; i < values.length; i++) {
    if (Number.isNaN(values[i]!)) {
      if (stays && last >= 0 && time[i]! - time[last]! <= STAYS_FOR) out[i] = values[last]!
      continue
    }
    const gap = last < 0 ? Infinity : time[i]! - time[last]!
    if (!stays && gap > 0 && gap <= LINE_WITHIN) drawLine(time, values, out, last, i)
    last = i
  }
  return out
}

/** 1 for the rows that stay: those with lambda, and those of a time without any; null when all do. */
function rowsOfLambda(time: Float32Array, lambda: Float32Array): Uint8Array | null {
  const keep = new Uint8Array(lambda.length).fill(1)
  let last = -1
  let left = 0
  for (let i = 0; i < lambda.length; i++) {
    if (Number.isNaN(lambda[i]!)) continue
    if (last >= 0 && i > last + 1 && time[i]! - time[last]! <= LINE_WITHIN) {
      keep.fill(0, last + 1, i)
      left += i - last - 1
    }
    last = i
  }
  return left > LEAST_TURNS * lambda.length ? keep : null
}
