import { imageSize } from 'image-size'

/** A photo as it is stored. */
export interface Photo {
  type: 'image/jpeg' | 'image/png' | 'image/webp'
  data: Buffer
}

/** A photo that cannot be kept. */
class PhotoError extends Error {
  readonly status = 422
  readonly title = 'The photo cannot be kept'
  readonly faults = [{ field: 'photo', message: this.message }]
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
 * @throws PhotoError for another kind (HEIC, say), a file that is cut off, or one of absurd size
 */
export function checkPhoto(data: Buffer): Photo {
  let size: { width?: number; height?: number; type?: string | undefined }
  try {
    size = imageSize(data)
  } catch {
    throw new PhotoError('The file is no picture, or it is broken. Send a JPEG, PNG or WebP.')
  }
  const type = TYPES[size.type ?? '']
  if (!type)
    throw new PhotoError(
      `A picture of kind ${size.type ?? 'unknown'} is not shown everywhere. Save it as JPEG, PNG or WebP.`,
    )
  const side = Math.max(size.width ?? 0, size.height ?? 0)
  if (!(side > 0) || side > LONGEST_SIDE)
    throw new PhotoError(`The picture must be 1 to ${LONGEST_SIDE} pixels wide and high.`)
  if (!ENDS[type](data)) throw new PhotoError('The picture is cut off. Send the whole file.')
  return { type, data }
}
