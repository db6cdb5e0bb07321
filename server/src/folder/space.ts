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

/** Whether an error says that the disk is full, of the system's or of SQLite's. */
export function isDiskFull(error: unknown): boolean {
  for (let one = error as { code?: string; parent?: unknown; cause?: unknown } | undefined, k = 0; one && k < 4; k++) {
    if (one.code === 'ENOSPC' || one.code === 'EDQUOT' || one.code === 'SQLITE_FULL') return true
    one = (one.parent ?? one.cause) as typeof one
  }
  return false
}
