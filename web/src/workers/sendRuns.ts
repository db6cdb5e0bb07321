import { transfer } from 'comlink'
import type { ColumnPurpose, RunColumns, RunInfo } from '@yuzumix/core'
import { fetchColumns } from '@/api/columns'
import { keyOf } from './columnStore'

const AT_ONCE = 2
/** Rows in one answer: few enough that progress is seen, many enough that runs of a usual length come together. */
const ROWS = 100_000
/** Runs in one answer, as far as the interface gives them. */
const MOST_RUNS = 500

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
  const byKey = new Map(runs.map((run) => [keyOf(run), run]))
  const missing = [...byKey].flatMap(([key, run]) => (sent.has(key) ? [] : [run]))
  onShare(missing.length ? 0 : 1)
  let done = 0
  const waiting = [...missing]
  function takeNext(): RunInfo[] {
    const some: RunInfo[] = []
    for (let rows = 0; waiting.length && rows < ROWS && some.length < MOST_RUNS; rows += some.at(-1)!.samples)
      some.push(waiting.shift()!)
    return some
  }
  async function fetchNext(): Promise<void> {
    for (let some = takeNext(); some.length && wanted(); some = takeNext()) {
      const columns = await fetch(job, some, purpose)
      for (const [k, run] of some.entries()) {
        if (!wanted()) return
        await add(keyOf(run), transfer(columns[k]!, buffersOf(columns[k]!)))
        sent.add(keyOf(run))
        onShare(++done / missing.length)
      }
    }
  }
  await Promise.all(Array.from({ length: AT_ONCE }, fetchNext))
}

function buffersOf({ lambda, ...run }: RunColumns): ArrayBuffer[] {
  return [...Object.values(run), ...lambda].flatMap((one) =>
    one instanceof Float32Array ? [one.buffer as ArrayBuffer] : [],
  )
}
