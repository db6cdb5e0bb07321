import { refused } from '@yuzumix/core'
import { imageSize } from 'image-size'

/** A photo as it is stored. */
export interface Photo {
  type: 'image/jpeg' | 'image/png' | 'image/webp'
  data: Buffer
}

const TYPES: Record<string, Photo['type']> = { jpg: 'image/jpeg', png: 'image/png', webp: 'image/webp' }
/** Pixels along a side beyond which a picture is a way to fill the memory of whoever looks at it. */
const LONGEST_SIDE = 12_000

const ENDS: Record<Photo['type'], (data: Buffer) => boolean> = {
  // Cameras write on behind the end of the picture.
  'image/jpeg': (data) => data.lastIndexOf(Buffer.from([0xff, 0xd9])) > 0,
  'image/png': (data) => data.lastIndexOf('IEND') > 0,
  'image/webp': (data) => data.length >= 12 && data.readUInt32LE(4) + 8 <= data.length + 1,
}

/**
 * Checks that a file is a whole picture of a kind that every browser shows.
 *
 * @throws Refusal 'no-photo' for another kind (HEIC, say), a file that is cut off, or one of absurd size
 */
export function checkPhoto(data: Buffer): Photo {
  let size: { width?: number; height?: number; type?: string | undefined }
  try {
    size = imageSize(data)
  } catch {
    throw refused('no-photo', 'The file is no picture, or it is broken. Send a JPEG, PNG or WebP.', 'photo')
  }
  const type = TYPES[size.type ?? '']
  if (!type)
    throw refused(
      'no-photo',
      `A picture of kind ${size.type ?? 'unknown'} is not shown everywhere. Save it as JPEG, PNG or WebP.`,
      'photo',
    )
  const side = Math.max(size.width ?? 0, size.height ?? 0)
  if (!(side > 0) || side > LONGEST_SIDE)
    throw refused('no-photo', `The picture must be 1 to ${LONGEST_SIDE} pixels wide and high.`, 'photo')
  if (!ENDS[type](data)) throw refused('no-photo', 'The picture is cut off. Send the whole file.', 'photo')
  return { type, data }
}
