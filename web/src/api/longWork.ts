import { api, noAnswer, refusalFrom, urls } from './client'

type Told = (share: number) => void
const LOOKED_EVERY = 300

/** An id of its own. The browser makes none by itself where the page did not come from this machine or over TLS. */
const newId = (): string => Array.from(crypto.getRandomValues(new Uint32Array(4)), (one) => one.toString(36)).join('')

/** Asks how far work on the server has come, until it is ended. */
function followed(id: string, onProgress: Told): () => void {
  const poll = setInterval(
    () =>
      void api.importShare(id).then(
        ({ share }) => share !== null && onProgress(share),
        () => undefined,
      ),
    LOOKED_EVERY,
  )
  return () => clearInterval(poll)
}

/**
 * Sends a form. Progress runs to a half while it is sent and on to the whole while it is worked at; aborting the signal stops both, and
 * nothing is stored.
 *
 * @param path under the interface
 * @returns the answer, of JSON
 */
export function sendForm(path: string, form: FormData, onProgress: Told, signal?: AbortSignal): Promise<unknown> {
  return new Promise((resolve, reject) => {
    // fetch cannot tell how much of a body was sent.
    const request = new XMLHttpRequest()
    const id = newId()
    let end: (() => void) | undefined
    request.upload.onprogress = (event) => onProgress((0.5 * event.loaded) / event.total)
    request.upload.onload = () => (end = followed(id, (share) => onProgress(0.5 + 0.5 * share)))
    request.onloadend = () => end?.()
    request.onload = () =>
      request.status === 201 ? resolve(JSON.parse(request.responseText)) : reject(refusalFrom(request.responseText))
    request.onerror = () => reject(noAnswer())
    request.onabort = () => reject(new DOMException('Cancelled', 'AbortError'))
    signal?.addEventListener('abort', () => request.abort())
    request.open('POST', `/api/v1${path}`)
    request.setRequestHeader('x-import-id', id)
    request.send(form)
  })
}

/** Fetches the archive of a job while telling how far it is packed, and hands it to the browser to be saved. */
export async function saveArchive(job: string, onProgress: Told, signal: AbortSignal): Promise<void> {
  const id = newId()
  const end = followed(id, onProgress)
  try {
    const answer = await fetch(urls.archive(job), { headers: { 'x-import-id': id }, signal })
    if (!answer.ok) throw refusalFrom(await answer.text())
    const name = /filename="([^"]+)"/.exec(answer.headers.get('content-disposition') ?? '')?.[1] ?? 'job.zip'
    const address = URL.createObjectURL(await answer.blob())
    Object.assign(document.createElement('a'), { href: address, download: name }).click()
    // The browser has taken it by then.
    setTimeout(() => URL.revokeObjectURL(address), 60_000)
  } finally {
    end()
  }
}
