import type { Mapping, RunInfo, RunsAdded } from '@yuzumix/core'
import { api, noAnswer, refusalFrom } from './client'

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
export function uploadLog(
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
  return new Promise((resolve, reject) => {
    // fetch cannot tell how much of a body was sent.
    const request = new XMLHttpRequest()
    const id = crypto.randomUUID()
    let poll: ReturnType<typeof setInterval> | undefined
    request.upload.onprogress = (event) => onProgress((0.5 * event.loaded) / event.total)
    request.upload.onload = () => {
      poll = setInterval(
        () =>
          void api.importShare(id).then(
            ({ share }) => share !== null && onProgress(0.5 + 0.5 * share),
            () => undefined,
          ),
        300,
      )
    }
    request.onloadend = () => clearInterval(poll)
    request.onload = () =>
      request.status === 201
        ? resolve(asAdded(JSON.parse(request.responseText) as RunInfo | RunsAdded))
        : reject(refusalFrom(request.responseText))
    request.onerror = () => reject(noAnswer())
    request.onabort = () => reject(new DOMException('Cancelled', 'AbortError'))
    signal.addEventListener('abort', () => request.abort())
    request.open('POST', `/api/v1/jobs/${job}/runs`)
    request.setRequestHeader('x-import-id', id)
    request.send(form)
  })
}

const asAdded = (answer: RunInfo | RunsAdded): RunsAdded =>
  'runs' in answer ? answer : { runs: [answer], refused: [] }
