import { randomUUID } from 'node:crypto'
import { createReadStream, createWriteStream } from 'node:fs'
import { rm, stat } from 'node:fs/promises'
import { join } from 'node:path'
import { pipeline } from 'node:stream/promises'
import { archiveFormSchema, checkForm } from '@yuzumix/core'
import { packJob } from '../archive/pack'
import { unpackJob } from '../archive/unpack'
import { findJob } from '../store/jobs'
import type { Workshop } from '../acts/questions/ask'
import type { Handlers } from './handlers'
import { contentOf, withFile } from './upload'

const LARGEST_ARCHIVE_MB = 512

export const archiveHandlers = ({ store }: Workshop) =>
  ({
    async archive({ job, response }) {
      const own = await job()
      const path = join(store.folder, 'incoming', `${randomUUID()}.zip`)
      try {
        // Packed first, so that its length can be told.
        await packJob(store, own, createWriteStream(path))
        const { size } = await stat(path)
        response.attachment(`${own.title.replace(/[^\p{L}\p{N} ._-]/gu, '_')}.zip`)
        response.type('application/zip').set('Content-Length', String(size))
        await pipeline(createReadStream(path), response)
      } finally {
        await rm(path, { force: true })
      }
    },
    readArchive: (asked) =>
      withFile(asked, store, async (file, texts) => {
        const content = await contentOf(file, 'A job archive', LARGEST_ARCHIVE_MB)
        const { override } = checkForm(archiveFormSchema, texts)
        return findJob(store, await unpackJob(store, content, override))
      }),
  }) satisfies Partial<Handlers>
