import { archiveFormSchema, checkForm } from '@yuzumix/core'
import { packJob } from '../archive/pack'
import { unpackJob } from '../archive/unpack'
import { findJob } from '../store/jobs'
import type { Context } from './context'
import type { Handlers } from './handlers'
import { contentOf, withFile } from './upload'

const LARGEST_ARCHIVE_MB = 512

export const archiveHandlers = ({ store }: Context) =>
  ({
    async archive({ job, response }) {
      const own = await job()
      response.attachment(`${own.title.replace(/[^\p{L}\p{N} ._-]/gu, '_')}.zip`).type('application/zip')
      await packJob(store, own, response)
    },
    readArchive: (asked) =>
      withFile(asked, store, async (file, texts) => {
        const content = await contentOf(file, 'A job archive', LARGEST_ARCHIVE_MB)
        const { override } = checkForm(archiveFormSchema, texts)
        return findJob(store, await unpackJob(store, content, override))
      }),
  }) satisfies Partial<Handlers>
