import { LRUCache } from 'lru-cache'
import {
  assembleRun,
  channelsFor,
  readChannelAs,
  type ColumnPurpose,
  type RunColumns,
  type RunInfo,
} from '@yuzumix/core'
import { api } from './client'

/** Bytes of columns that are kept: some sixty runs of twenty thousand rows with all they have. */
const MOST_BYTES = 256 * 1024 ** 2

/** Columns as they are stored, which never change but with the scale of the gauge: each is fetched once a session. */
const kept = new LRUCache<string, Float32Array>({ maxSize: MOST_BYTES, sizeCalculation: (one) => one.byteLength || 1 })
const keyOf = ({ id, gaugeScale }: RunInfo, channel: string): string => `${id} ${gaugeScale ?? ''} ${channel}`

/** Columns of runs as they are stored, by run and channel; those that came before are not asked for again. */
async function fetchStored(
  job: string,
  needed: readonly { run: RunInfo; channels: readonly string[] }[],
): Promise<Map<string, Float32Array>> {
  // Held here while the answer is put together, whatever the cache lets go meanwhile.
  const columns = new Map<string, Float32Array>()
  const missing = needed.flatMap(({ run, channels }) => {
    const lacked = channels.filter((channel) => {
      const found = kept.get(keyOf(run, channel))
      if (found) columns.set(keyOf(run, channel), found)
      return !found
    })
    return lacked.length ? [{ run, channels: lacked }] : []
  })
  if (missing.length) {
    const answer = await api.columns(job, {
      runs: missing.map(({ run, channels }) => ({ run: run.id, channels })),
    })
    const all = new Float32Array(await answer.arrayBuffer())
    let from = 0
    for (const { run, channels } of missing)
      for (const channel of channels) {
        const column = all.slice(from, (from += run.samples))
        columns.set(keyOf(run, channel), column)
        kept.set(keyOf(run, channel), column)
      }
  }
  return columns
}

/** The columns of runs that a computation needs. */
export async function fetchColumns(
  job: string,
  runs: readonly RunInfo[],
  purpose: ColumnPurpose,
): Promise<RunColumns[]> {
  const needed = runs.map((run) => ({ run, channels: channelsFor(run, purpose) }))
  const columns = await fetchStored(job, needed)
  // A copy of each: what goes to a worker does not come back.
  return needed.map(({ run }) => assembleRun(run, (channel) => columns.get(keyOf(run, channel))?.slice() ?? null))
}

/**
 * Columns of one run as they are to be read, by channel: what a log is drawn from.
 *
 * @param channels those that are wanted
 */
export async function fetchLog(
  job: string,
  run: RunInfo,
  channels: readonly string[],
): Promise<Map<string, Float32Array>> {
  // Probes that were exchanged are read from each other's column.
  const swapped = run.readAs?.exchanged
    ? run.channels.map((one) => one.channel).filter((one) => /^lambda[12]$/.test(one))
    : []
  const columns = await fetchStored(job, [{ run, channels: [...new Set([...channels, ...swapped])] }])
  const stored = (channel: string): Float32Array | null => columns.get(keyOf(run, channel)) ?? null
  return new Map(
    channels.flatMap((channel) => {
      const values = readChannelAs(run.readAs, channel, stored)
      return values ? [[channel, values] as const] : []
    }),
  )
}
