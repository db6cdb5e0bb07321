import { transfer } from 'comlink'
import { knownBeside, type RunColumns, type RunInfo, type ColumnPurpose } from '@yuzumix/core'
import { fetchColumns } from '@/api/client'
import type { AskedRun } from './columnStore'

const AT_ONCE = 4

/** Names a run's columns: another gauge scale makes other ones. */
const keyOf = (run: RunInfo): string => `${run.id} ${run.gaugeScale ?? ''}`

/** How a worker is asked to take these runs. */
export function askFor(runs: readonly RunInfo[]): AskedRun[] {
  return runs.map((run) => ({ key: keyOf(run), beside: knownBeside(run) }))
}

/**
 * Fetches the columns that a worker does not have yet and hands them over without a copy.
 *
 * @param sent keys the worker has; is added to
 * @param onShare share of the missing ones that has come
 * @param wanted false when the work has been given up
 */
export async function sendRuns(
  job: string,
  runs: readonly RunInfo[],
  purpose: ColumnPurpose,
  sent: Set<string>,
  add: (key: string, run: RunColumns) => Promise<void>,
  onShare: (share: number) => void,
  wanted: () => boolean,
  fetch = fetchColumns,
): Promise<void> {
  const missing = runs.filter((run) => !sent.has(keyOf(run)))
  onShare(missing.length ? 0 : 1)
  let done = 0
  const waiting = [...missing]
  async function fetchNext(): Promise<void> {
    for (let run = waiting.shift(); run && wanted(); run = waiting.shift()) {
      const columns = await fetch(job, run, purpose)
      if (!wanted()) return
      await add(keyOf(run), transfer(columns, buffersOf(columns)))
      sent.add(keyOf(run))
      onShare(++done / missing.length)
    }
  }
  await Promise.all(Array.from({ length: AT_ONCE }, fetchNext))
}

function buffersOf({ lambda, ...run }: RunColumns): ArrayBuffer[] {
  return [...Object.values(run), ...lambda].flatMap((one) =>
    one instanceof Float32Array ? [one.buffer as ArrayBuffer] : [],
  )
}
