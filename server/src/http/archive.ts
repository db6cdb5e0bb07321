import { randomUUID } from 'node:crypto'
import { createReadStream } from 'node:fs'
import { rm, stat } from 'node:fs/promises'
import { join } from 'node:path'
import { pipeline } from 'node:stream/promises'
import { archiveFormSchema, checkForm } from '@yuzumix/core'
import { readArchive, writeArchive } from '../acts/jobs/archives'
import { findJob } from '../store/jobs'
import type { Workshop } from '../acts/questions/ask'
import type { Handlers } from './handlers'
import type { UnderWay } from './underWay'
import { refuseLarge, withFile } from './upload'

const LARGEST_ARCHIVE_MB = 512

export const archiveHandlers = (context: Workshop, underWay: UnderWay) =>
  ({
    async archive({ job, request, response, gone }) {
      const own = await job()
      const { store } = context
      const path = join(store.folder, 'incoming', `${randomUUID()}.zip`)
      try {
        // Packed first, so that its length can be told.
        await underWay.follow(request, (told) => writeArchive(context, own, path, told, gone()))
        const { size } = await stat(path)
        response.attachment(`${own.title.replace(/[^\p{L}\p{N} ._-]/gu, '_')}.zip`)
        response.type('application/zip').set('Content-Length', String(size))
        await pipeline(createReadStream(path), response)
      } finally {
        await rm(path, { force: true })
      }
    },
    readArchive: (asked) =>
      withFile(asked, context.store, (file, texts) => {
        refuseLarge(file, 'A job archive', LARGEST_ARCHIVE_MB)
        const { override } = checkForm(archiveFormSchema, texts)
        return underWay.follow(asked.request, async (told) =>
          findJob(context.store, await readArchive(context, file.path, override, told, asked.gone())),
        )
      }),
  }) satisfies Partial<Handlers>
