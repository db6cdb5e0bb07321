import type { Mapping, RunInfo, RunsAdded } from '@yuzumix/core'
import { sendForm } from './longWork'

export interface LogUpload {
  file: File
  /** left to the server where the file is packed */
  mapping: Mapping | null
  sampleRateHz?: number | null
  gaugeScale?: number
  /** set it goes to; the newest when left out */
  set?: string | undefined
  again?: boolean
}

/**
 * Sends a log, or a file that holds several. Progress runs to a half while it is sent and on to the whole while it is read; aborting the signal stops
 * both, and nothing is stored.
 */
export async function uploadLog(
  job: string,
  { file, mapping, sampleRateHz, gaugeScale, set, again }: LogUpload,
  onProgress: (share: number) => void,
  signal: AbortSignal,
): Promise<RunsAdded> {
  const form = new FormData()
  if (mapping) form.set('mapping', JSON.stringify(mapping))
  if (sampleRateHz) form.set('sampleRateHz', String(sampleRateHz))
  if (gaugeScale) form.set('gaugeScale', String(gaugeScale))
  if (set) form.set('set', set)
  if (again) form.set('again', 'true')
  form.set('file', file)
  return asAdded((await sendForm(`/jobs/${job}/runs`, form, onProgress, signal)) as RunInfo | RunsAdded)
}

const asAdded = (answer: RunInfo | RunsAdded): RunsAdded =>
  'runs' in answer ? answer : { runs: [answer], refused: [] }
