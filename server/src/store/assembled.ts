import { assembleRun, type RunColumns, type RunInfo } from '@yuzumix/core'

/** Columns of a run as they are stored, one behind the other. */
export interface StoredColumns {
  run: RunInfo
  channels: string[]
  values: Float32Array
}

/** The same as the core takes them: cleaned and aligned. It is work: what waits for others leaves it to a thread. */
export const assembled = ({ run, channels, values }: StoredColumns): RunColumns =>
  assembleRun(run, (channel) => {
    const at = channels.indexOf(channel)
    return at < 0 ? null : values.subarray(at * run.samples, (at + 1) * run.samples)
  })
