import { number, string, type InferType } from 'yup'
import { choice, closed, id, text, time, words } from './fields'

/** Photos that are taken. */
export const PHOTO_TYPES = ['image/jpeg', 'image/png', 'image/webp'] as const

/** A dated line in the job's logbook: an act of the application, or a note of a person, pinned where it belongs. */
export const entrySchema = closed({
  id: id(),
  at: time().required(),
  act: words(),
  text: words(),
  kind: choice(['act', 'note']).required(),
  run: string().strict().nullable().defined().meta({ description: 'that it is pinned to' }),
  rpm: number().strict().nullable().defined(),
  load: number().strict().nullable().defined(),
  photo: string().strict().nullable().defined().meta({ description: 'media type of its photo; null without one' }),
}).meta({ ref: 'Entry' })
export type Entry = InferType<typeof entrySchema>

// Parts of a form come as text.
const typed = (least: number, most: number) => number().min(least).max(most)
/** Parts of the form of POST /jobs/:job/entries, beside the photo. */
export const newEntrySchema = closed({
  text: text(5000).min(1).required(),
  run: string(),
  rpm: typed(0, 30_000),
  load: typed(0, 400),
}).meta({ ref: 'NewEntry' })
export type NewEntry = InferType<typeof newEntrySchema>
