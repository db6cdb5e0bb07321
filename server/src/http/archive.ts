import { readFile } from 'node:fs/promises'
import { Router } from 'express'
import { archiveFormSchema, checkForm } from '@yuzumix/core'
import { packJob } from '../archive/pack'
import { unpackJob } from '../archive/unpack'
import { findJob } from '../store/jobs'
import { jobOf, type Context } from './context'
import { Problem } from './problem'
import { fileUpload, withUpload } from './upload'

const LARGEST_ARCHIVE = 512 * 1024 ** 2

export function archiveRoutes(context: Context): Router {
  const { store } = context
  const router = Router()
  router.get('/jobs/:job/archive', async (request, response) => {
    const job = await jobOf(request, context)
    response.attachment(`${job.title.replace(/[^\p{L}\p{N} ._-]/gu, '_')}.zip`).type('application/zip')
    await packJob(store, job, response)
  })
  router.post('/archives', fileUpload(store), (request, response) =>
    withUpload(request, async (file) => {
      if (file.size > LARGEST_ARCHIVE)
        throw new Problem(413, 'Too large', 'A job archive may have 512 MB at the most.', [
          { field: 'file', message: 'too large' },
        ])
      const { override } = checkForm(archiveFormSchema, { ...request.body } as Record<string, string>)
      const id = await unpackJob(store, await readFile(file.path), override)
      response
        .status(201)
        .location(`/api/v1/jobs/${id}`)
        .json(await findJob(store, id))
    }),
  )
  return router
}
