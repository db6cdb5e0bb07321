import { closeSync, openSync, readFileSync, readSync, writeFileSync } from 'node:fs'
import { refused, spreadSeconds, type ReadResult } from '@yuzumix/core'

type Channel = ReadResult['channels'][number]

/** One recording of a log: its columns, each in a file of its own, and what is to be said of its time. */
export interface Recording {
  samples: number
  duration: number
  channels: Channel[]
  spills: string[]
  warnings: string[]
}

/** s without a row from which a gap is named, and how many are. */
const LONG_GAP = 60
const MOST_NAMED = 5
const MOST_RECORDINGS = 200

/**
 * The recordings that a log holds, one after the other: cut where time begins anew. Each begins at nought; times by whole seconds
 * are spread, gaps of minutes are named.
 *
 * @param spills a file for each channel, little-endian float32, as read
 * @throws Refusal 'no-log' where time begins anew more often than anybody stops a recording
 */
export function recordingsOf(
  { channels, restarts, samples }: Pick<ReadResult, 'channels' | 'restarts' | 'samples'>,
  spills: readonly string[],
): Recording[] {
  if (restarts.length >= MOST_RECORDINGS)
    throw refused(
      'no-log',
      `Time begins anew ${restarts.length} times: ${MOST_RECORDINGS} recordings in one file are taken at the most. Check which column is time, or send the file in parts.`,
      'file',
    )
  const timeAt = channels.findIndex((one) => one.channel === 'time')
  const { factor } = channels[timeAt]!
  const whole = floatsOf(spills[timeAt]!).map((value) => value * factor)
  const bounds = [0, ...restarts, samples]
  return bounds.slice(1).flatMap((to, k): Recording[] => {
    const from = bounds[k]!
    // A lone row between two beginnings is no recording; a log of one row is one.
    if (restarts.length && to - from < 2) return []
    const own = restarts.length ? `.${k}` : ''
    const time = whole.slice(from, to)
    const began = time.find((value) => !Number.isNaN(value)) ?? 0
    for (let i = 0; i < time.length; i++) time[i] = time[i]! - began
    const isSpread = spreadSeconds(time)
    const files = spills.map((path) => `${path}${own}`)
    writeFileSync(files[timeAt]!, bytesOf(time))
    const kept = channels.map((channel, c): Channel => {
      if (c === timeAt) return { ...channel, factor: 1, ...rangeOf(time, 1) }
      if (!restarts.length) return channel
      const values = slice(spills[c]!, from, to)
      writeFileSync(files[c]!, bytesOf(values))
      return { ...channel, ...rangeOf(values, channel.factor) }
    })
    const told = kept.map((channel, c) => ({ channel, file: files[c]! })).filter(({ channel }) => channel.count > 0)
    return [
      {
        samples: to - from,
        duration: kept[timeAt]!.max,
        channels: told.map((one) => one.channel),
        spills: told.map((one) => one.file),
        warnings: [
          ...(isSpread ? ['Its clock tells whole seconds: rows are spread evenly over each of them.'] : []),
          ...gapsIn(time),
        ],
      },
    ]
  })
}

/** Gaps of minutes, in words. */
function gapsIn(time: Float32Array): string[] {
  const gaps: string[] = []
  for (let i = 1; i < time.length; i++) {
    const gap = time[i]! - time[i - 1]!
    if (gap > LONG_GAP) gaps.push(`${(gap / 60).toFixed(1)} minutes after ${time[i - 1]!.toFixed(0)} s`)
  }
  if (gaps.length === 0) return []
  const more = gaps.length - MOST_NAMED
  return [`Nothing was logged for ${gaps.slice(0, MOST_NAMED).join(', ')}${more > 0 ? ` and ${more} more times` : ''}.`]
}

function rangeOf(values: Float32Array, factor: number): { count: number; min: number; max: number } {
  let [count, min, max] = [0, Infinity, -Infinity]
  for (const value of values) {
    if (value !== value) continue
    count++
    if (value < min) min = value
    if (value > max) max = value
  }
  return count ? { count, min: min * factor, max: max * factor } : { count, min: 0, max: 0 }
}

const bytesOf = (values: Float32Array): Uint8Array =>
  new Uint8Array(values.buffer, values.byteOffset, values.byteLength)

function floatsOf(path: string): Float32Array {
  const bytes = readFileSync(path)
  const values = new Float32Array(bytes.byteLength / 4)
  new Uint8Array(values.buffer).set(bytes)
  return values
}

function slice(path: string, from: number, to: number): Float32Array {
  const values = new Float32Array(to - from)
  const file = openSync(path, 'r')
  try {
    readSync(file, bytesOf(values), 0, values.byteLength, 4 * from)
  } finally {
    closeSync(file)
  }
  return values
}
