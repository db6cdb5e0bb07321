import { statfs } from 'node:fs/promises'

/** Room on the disk that a folder lies on, bytes. */
export interface Space {
  free: number
  whole: number
  /** it is time to make room */
  isShort: boolean
}

/** Below one of these it is short: a share of the disk, and bytes. */
const [SHARE, BYTES] = [0.05, 500e6]

/** @param folder one that is there */
export async function spaceLeft(folder: string): Promise<Space> {
  const { bavail, blocks, bsize } = await statfs(folder)
  const [free, whole] = [bavail * bsize, blocks * bsize]
  return { free, whole, isShort: free < BYTES || free < SHARE * whole }
}

const size = (bytes: number): string =>
  bytes < 10e9 ? `${Math.round(bytes / 1e6)} MB` : `${Math.round(bytes / 1e9)} GB`

/** In words, for the doctor and the page. */
export const spaceWords = ({ free, whole, isShort }: Space): string =>
  `${size(free)} of ${size(whole)} are free${isShort ? ': make room before more is measured' : ''}`

/** What is said where nothing could be stored. @param bytes that came in; 0 where it is not known */
export const fullDiskWords = (bytes = 0): string =>
  `The disk is full: nothing was stored${bytes > 1e6 ? `; some ${Math.ceil((2 * bytes) / 1e6)} MB are wanted` : ''}. Make room on it, then do the same again.`

/** Codes of a full disk, of the system's and of SQLite's. */
const FULL = ['ENOSPC', 'EDQUOT', 'SQLITE_FULL']

/** Whether an error says that the disk is full. One that crossed threads has lost its code, and begins with it. */
export function isDiskFull(error: unknown): boolean {
  let one = error as { code?: string; message?: string; parent?: unknown; cause?: unknown } | undefined
  for (let k = 0; one && k < 4; k++) {
    const { code, message } = one
    if (FULL.some((full) => code === full || message?.startsWith(full))) return true
    one = (one.parent ?? one.cause) as typeof one
  }
  return false
}
