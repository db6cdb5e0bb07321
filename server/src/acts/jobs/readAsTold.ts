import { readChannelAs, type RunInfo } from '@yuzumix/core'
import { readChannel } from '../../store/columns'
import type { Store } from '../../store/database'
import { toFloats } from '../../store/floats'

/** Columns of a run as they are read: what was told of its speed, its clock and its throttle counts. */
export async function readAsTold(
  store: Store,
  run: RunInfo,
  channels: readonly string[],
): Promise<Map<string, Float32Array>> {
  const stored = new Map<string, Float32Array>()
  for (const channel of channels) {
    const data = await readChannel(store, run.id, channel)
    if (data) stored.set(channel, toFloats(data))
  }
  return new Map(
    channels.flatMap((channel) => {
      const values = readChannelAs(run.readAs, channel, (one) => stored.get(one) ?? null)
      return values ? [[channel, values] as const] : []
    }),
  )
}
