import { readFile } from 'node:fs/promises'
import { inputRefused, checkForm, newEntrySchema } from '@yuzumix/core'
import { checkPhoto } from '../intake/photo'
import { addNote, findPhoto, listEntries } from '../store/entries'
import { findRun } from '../store/runs'
import type { Workshop } from '../acts/questions/ask'
import type { Handlers } from './handlers'
import { notFound } from './problem'
import { withForm } from './upload'

const PHOTO = { part: 'photo', file: 10 * 1024 ** 2, fields: 8, text: 64 * 1024 }

/** The logbook, with notes of people and their photos. */
export const entryHandlers = ({ store }: Workshop) =>
  ({
    entries: async ({ job }) => listEntries(store, (await job()).id),
    addNote: (asked) =>
      withForm(asked, store, PHOTO, async ({ file, texts }) => {
        const { id } = await asked.job()
        const note = checkForm(newEntrySchema, texts)
        if (note.run !== undefined && !(await findRun(store, id, note.run)))
          throw inputRefused([{ field: 'run', message: 'there is no such run in this job' }])
        return addNote(store, id, note, file ? checkPhoto(await readFile(file.path)) : null)
      }),
    async photo({ job, at, response }) {
      const photo = await findPhoto(store, (await job()).id, at.entry)
      if (!photo) throw notFound('photo')
      response.type(photo.type).send(photo.data)
    },
  }) satisfies Partial<Handlers>
