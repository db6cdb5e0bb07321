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
  return multer({
    dest: join(store.folder, 'incoming'),
    limits: { fileSize: LARGEST_LOG, files: 1, fields: 12, fieldSize: LARGEST_TEXT },
  }).single('file')
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
