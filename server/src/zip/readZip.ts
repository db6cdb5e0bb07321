import type { Readable } from 'node:stream'
import { openPromise, type Entry, type ZipFile } from 'yauzl'
import { Refusal, refused, type Refused } from '@yuzumix/core'

/** What a zip may hold: judged by its list of contents, before anything is unpacked. */
export interface ZipLimits {
  entries: number
  /** unpacked, of all together */
  bytes: number
}

/** Times that what is inside may be larger than it is packed: a log packs to a tenth, a sheet to a thirtieth. */
const MOST_RATIO = 100
/** Bytes unpacked below which nobody asks. */
const SMALL = 8 * 1024 ** 2

/** One file of a zip. */
export interface ZipMember {
  name: string
  /** unpacked, as the list of contents says; more is an error while it is read */
  bytes: number
  stream(): Promise<Readable>
  /** @throws Refusal when it has more than so many bytes */
  content(most: number): Promise<Buffer>
}

/** A zip that is open: its files, by name. */
export interface OpenZip {
  members: ZipMember[]
  /** the first of that name */
  member(name: string): ZipMember | undefined
  close(): void
}

/**
 * Opens a zip by its list of contents. What it unpacks to is known, and refused where it is too much, before any of it is unpacked.
 *
 * @param code what it is refused as
 * @throws Refusal where it is damaged, too large or packed beyond all measure
 */
export async function openZip(path: string, limits: ZipLimits, code: Refused): Promise<OpenZip> {
  const no = (text: string): Refusal => refused(code, text, 'file')
  const damaged = (): Refusal => no('The file is not a zip archive, or it is damaged. Pack it again.')
  let zip: ZipFile
  try {
    zip = await openPromise(path, { autoClose: false, lazyEntries: true })
  } catch {
    throw damaged()
  }
  const members: ZipMember[] = []
  const byName = new Map<string, ZipMember>()
  let total = 0
  try {
    if (zip.entryCount > limits.entries)
      throw no(`The archive holds ${zip.entryCount} files; ${limits.entries} are taken at the most.`)
    for await (const entry of zip.eachEntry()) {
      total += entry.uncompressedSize
      if (total > limits.bytes)
        throw no(`What is inside has more than ${Math.round(limits.bytes / 1024 ** 2)} MB. Send it in parts.`)
      if (entry.uncompressedSize > SMALL && entry.uncompressedSize > MOST_RATIO * entry.compressedSize)
        throw no(
          `"${shown(entry.fileName)}" unpacks to more than ${MOST_RATIO} times its size: that is no log. Pack it again from its source.`,
        )
      const one = memberOf(zip, entry, no)
      members.push(one)
      if (!byName.has(one.name)) byName.set(one.name, one)
    }
  } catch (error) {
    zip.close()
    throw error instanceof Refusal ? error : damaged()
  }
  return { members, member: (name) => byName.get(name), close: () => zip.close() }
}

const shown = (name: string): string => name.slice(0, 60)

function memberOf(zip: ZipFile, entry: Entry, no: (text: string) => Refusal): ZipMember {
  const fault = (): Refusal => no(`The archive is damaged at "${shown(entry.fileName)}". Pack it again.`)
  const stream = async (): Promise<Readable> => {
    try {
      return await zip.openReadStreamPromise(entry)
    } catch {
      throw entry.isEncrypted() ? no(`"${shown(entry.fileName)}" is encrypted. Pack it without a password.`) : fault()
    }
  }
  return {
    name: entry.fileName,
    bytes: entry.uncompressedSize,
    stream,
    async content(most) {
      if (entry.uncompressedSize > most)
        throw no(`"${shown(entry.fileName)}" has more than ${Math.round(most / 1024 ** 2)} MB.`)
      const parts: Buffer[] = []
      try {
        for await (const part of (await stream()) as AsyncIterable<Buffer>) parts.push(part)
      } catch (error) {
        throw error instanceof Refusal ? error : fault()
      }
      return Buffer.concat(parts)
    },
  }
}
