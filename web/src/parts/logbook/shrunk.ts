/** Longest side of a photo that is kept, px: a plug can be read on it. */
const LONGEST = 1600
const QUALITY = 0.85

/**
 * A photo made small enough to keep, as JPEG.
 *
 * @throws Error in words when the browser cannot show the file
 */
export async function shrunk(file: Blob): Promise<Blob> {
  let picture: ImageBitmap
  try {
    picture = await createImageBitmap(file)
  } catch {
    throw new Error('This file cannot be shown as a picture. Choose a JPEG, PNG or WebP.')
  }
  const scale = Math.min(1, LONGEST / Math.max(picture.width, picture.height))
  const canvas = document.createElement('canvas')
  canvas.width = Math.max(1, Math.round(picture.width * scale))
  canvas.height = Math.max(1, Math.round(picture.height * scale))
  canvas.getContext('2d')!.drawImage(picture, 0, 0, canvas.width, canvas.height)
  picture.close()
  const small = await new Promise<Blob | null>((resolve) => canvas.toBlob(resolve, 'image/jpeg', QUALITY))
  if (!small) throw new Error('The picture could not be made smaller. Choose another.')
  return small
}
