import { transfer } from 'comlink'
import { asides, type RunColumns, type RunInfo } from '@yuzumix/core'
import { fetchColumns } from '@/api/client'
import type { AskedRun } from './columnStore'

/** Names a run's columns: another gauge scale makes other ones. */
const keyOf = (run: RunInfo): string => `${run.id} ${run.gaugeScale ?? ''}`

/** How a worker is asked to take these runs. */
export function askFor(runs: readonly RunInfo[]): AskedRun[] {
  return runs.map((run) => ({ key: keyOf(run), aside: asides(run) }))
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
  purpose: 'field' | 'curves',
  sent: Set<string>,
  add: (key: string, run: RunColumns) => Promise<void>,
  onShare: (share: number) => void,
  wanted: () => boolean,
): Promise<void> {
  const missing = runs.filter((run) => !sent.has(keyOf(run)))
  onShare(missing.length ? 0 : 1)
  for (const [k, run] of missing.entries()) {
    const columns = await fetchColumns(job, run, purpose)
    if (!wanted()) return
    await add(keyOf(run), transfer(columns, buffersOf(columns)))
    sent.add(keyOf(run))
    onShare((k + 1) / missing.length)
  }
}

function buffersOf({ lambda, ...run }: RunColumns): ArrayBuffer[] {
  return [...Object.values(run), ...lambda].flatMap((one) =>
    one instanceof Float32Array ? [one.buffer as ArrayBuffer] : [],
  )
}
