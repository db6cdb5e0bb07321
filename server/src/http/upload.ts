import { rm } from 'node:fs/promises'
import { join } from 'node:path'
import type { Request, RequestHandler } from 'express'
import multer from 'multer'
import type { Store } from '../store/database'
import { Problem } from './problem'

const LARGEST_LOG = 4 * 1024 ** 3
const LARGEST_TEXT = 256 * 1024

/** Takes one file of a form to the store's folder for incoming files. */
export function fileUpload(store: Store): RequestHandler {
  return oneFile(store, 'file', { fileSize: LARGEST_LOG, fields: 12, fieldSize: LARGEST_TEXT })
}

/**
 * The same, with the name of the part and its limits.
 *
 * @throws Problem (400) when the form is broken off or is none
 */
export function oneFile(
  store: Store,
  part: string,
  limits: { fileSize: number; fields: number; fieldSize: number },
): RequestHandler {
  const take = multer({ dest: join(store.folder, 'incoming'), limits: { ...limits, files: 1 } }).single(part)
  return (request, response, next) =>
    take(request, response, (error?: unknown) => {
      // What goes wrong on the disk has a code; what the parser of forms finds has none.
      const isForm = error instanceof Error && (error as { code?: string }).code === undefined
      next(
        isForm
          ? new Problem(400, 'Upload refused', `The form cannot be read (${error.message}). Send it again.`)
          : error,
      )
    })
}

/** Runs work on the uploaded file and removes it afterwards, whatever happens. @throws Problem when there is none */
export async function withUpload<T>(request: Request, work: (file: Express.Multer.File) => Promise<T>): Promise<T> {
  const { file } = request
  if (!file)
    throw new Problem(400, 'Upload refused', 'There is no file. Send a form with a part named "file".', [
      { field: 'file', message: 'is missing' },
    ])
  try {
    return await work(file)
  } finally {
    await rm(file.path, { force: true })
  }
}

/** The name a file came with: its last part only, decoded, without what would break a line. */
export function originalName(file: Express.Multer.File): string {
  const name = Buffer.from(file.originalname, 'latin1').toString('utf8')
  return (name.split(/[\\/]/).at(-1) ?? '').replace(/[\u0000-\u001f]/g, '').slice(0, 160) || 'log'
}
