import { Refusal } from '@yuzumix/core'
import { rm } from 'node:fs/promises'
import { join } from 'node:path'
import multer from 'multer'
import type { Store } from '../store/database'
import type { Exchange } from './handlers'
import { UPLOAD_BROKEN } from './problem'

/** What a form may bring, in bytes; and the name of the part with the file. */
interface Taken {
  part?: string
  file?: number
  fields?: number
  text?: number
}
const LARGEST_LOG = 4 * 1024 ** 3
const LARGEST_TEXT = 256 * 1024

/** The form of a call: its file, null for none, and its texts. */
interface Form {
  file: Express.Multer.File | null
  texts: Record<string, string>
}

/** Takes a form with one file at the most to the store's folder for incoming files. @throws Refusal, as 400, 413 */
async function takeForm({ request, response }: Exchange, store: Store, taken: Taken): Promise<Form> {
  const { part = 'file', file: fileSize = LARGEST_LOG, fields = 12, text: fieldSize = LARGEST_TEXT } = taken
  const limits = { fileSize, fields, fieldSize, files: 1 }
  const take = multer({ dest: join(store.folder, 'incoming'), limits }).single(part)
  await new Promise<void>((done, fail) =>
    take(request, response, (error?: unknown) => {
      if (!error) return done()
      // What goes wrong on the disk has a code; what the parser of forms finds has none.
      const isForm = error instanceof Error && (error as { code?: string }).code === undefined
      fail(
        isForm
          ? new Refusal('upload-refused', UPLOAD_BROKEN, [{ field: part, message: 'cannot be taken apart' }])
          : (error as Error),
      )
    }),
  )
  return { file: request.file ?? null, texts: { ...(request.body as Record<string, string> | undefined) } }
}

/** Runs work on a form and removes its file afterwards, whatever happens. */
export async function withForm<T>(
  asked: Exchange,
  store: Store,
  taken: Taken,
  work: (form: Form) => Promise<T>,
): Promise<T> {
  const form = await takeForm(asked, store, taken)
  try {
    return await work(form)
  } finally {
    if (form.file) await rm(form.file.path, { force: true })
  }
}

/** The same where there must be a file. @throws Refusal, as when there is none */
export const withFile = <T>(
  asked: Exchange,
  store: Store,
  work: (file: Express.Multer.File, texts: Record<string, string>) => Promise<T>,
): Promise<T> =>
  withForm(asked, store, {}, ({ file, texts }) => {
    if (!file)
      throw new Refusal('upload-refused', 'There is no file. Send a form with a part named "file".', [
        { field: 'file', message: 'is missing' },
      ])
    return work(file, texts)
  })

/** @throws Refusal, as 413 above so many MB. @param what it is, at the head of a sentence */
export function refuseLarge(file: Express.Multer.File, what: string, mostMb: number): void {
  if (file.size > mostMb * 1024 ** 2)
    throw new Refusal('too-large', `${what} may have ${mostMb} MB at the most.`, [
      { field: 'file', message: 'too large' },
    ])
}

/** The name a file came with: its last part only, decoded, without what would break a line. */
export function originalName(file: Express.Multer.File): string {
  const name = Buffer.from(file.originalname, 'latin1').toString('utf8')
  return (name.split(/[\\/]/).at(-1) ?? '').replace(/[\u0000-\u001f]/g, '').slice(0, 160) || 'log'
}
