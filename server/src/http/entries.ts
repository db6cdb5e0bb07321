import { readFile, rm } from 'node:fs/promises'
import { Router } from 'express'
import { checkForm, InputError, newEntrySchema } from '@yuzumix/core'
import { checkPhoto } from '../intake/photo'
import { addNote, findPhoto, listEntries } from '../store/entries'
import { findRun } from '../store/runs'
import { jobOf, param, type Context } from './context'
import { notFound } from './problem'
import { oneFile } from './upload'

const LARGEST_PHOTO = 10 * 1024 ** 2
const LARGEST_TEXT = 64 * 1024

/** The logbook, with notes of people and their photos. */
export function entryRoutes(context: Context): Router {
  const { store } = context
  const upload = oneFile(store, 'photo', { fileSize: LARGEST_PHOTO, fields: 8, fieldSize: LARGEST_TEXT })
  const router = Router()
  router.get('/jobs/:job/entries', async (request, response) => {
    response.json(await listEntries(store, (await jobOf(request, context)).id))
  })
  router.post('/jobs/:job/entries', upload, async (request, response) => {
    const { file } = request
    try {
      const job = await jobOf(request, context)
      const note = checkForm(newEntrySchema, (request.body ?? {}) as Record<string, unknown>)
      if (note.run !== undefined && !(await findRun(store, job.id, note.run)))
        throw new InputError([{ field: 'run', message: 'there is no such run in this job' }])
      const photo = file ? checkPhoto(await readFile(file.path)) : null
      response.status(201).json(await addNote(store, job.id, note, photo))
    } finally {
      if (file) await rm(file.path, { force: true })
    }
  })
  router.get('/jobs/:job/entries/:entry/photo', async (request, response) => {
    const photo = await findPhoto(store, (await jobOf(request, context)).id, param(request, 'entry'))
    if (!photo) throw notFound('photo')
    response.type(photo.type).send(photo.data)
  })
  return router
}
