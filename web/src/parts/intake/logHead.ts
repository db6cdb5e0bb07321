import { detectEncoding, headerSignature, readLayout, type LogLayout, type Mapping } from '@yuzumix/core'

/** A log that was chosen, with what its head tells; or why it cannot be read. */
export interface ChosenLog {
  file: File
  layout: LogLayout | null
  /** holds its logs in itself: what is in them only the server reads */
  isPacked: boolean
  fault: string
}

const HEAD_BYTES = 65536

const isZip = (bytes: Uint8Array): boolean => bytes[0] === 0x50 && bytes[1] === 0x4b && bytes[2] === 3
const isGzip = (bytes: Uint8Array): boolean => bytes[0] === 0x1f && bytes[1] === 0x8b

/** The first of what a gzip file holds. */
async function unpackedHead(file: File): Promise<{ bytes: Uint8Array; isWhole: boolean }> {
  const reader = file.stream().pipeThrough(new DecompressionStream('gzip')).getReader()
  const parts: Uint8Array[] = []
  let [length, isWhole] = [0, false]
  while (length < HEAD_BYTES && !isWhole) {
    const { value, done } = await reader.read()
    isWhole = done
    if (value) parts.push(value)
    length += value?.length ?? 0
  }
  void reader.cancel()
  const bytes = new Uint8Array(length)
  let at = 0
  for (const part of parts) {
    bytes.set(part, at)
    at += part.length
  }
  return { bytes, isWhole }
}

/** Reads the head of a file: its layout and channels. */
export async function readHead(file: File): Promise<ChosenLog> {
  try {
    const bytes = new Uint8Array(await file.slice(0, HEAD_BYTES).arrayBuffer())
    if (isZip(bytes)) return { file, layout: null, isPacked: true, fault: '' }
    const head = isGzip(bytes) ? await unpackedHead(file) : { bytes, isWhole: file.size <= HEAD_BYTES }
    const text = new TextDecoder(detectEncoding(head.bytes)).decode(head.bytes)
    return { file, layout: readLayout(text, head.isWhole), isPacked: false, fault: '' }
  } catch (error) {
    return { file, layout: null, isPacked: false, fault: (error as Error).message }
  }
}

/** Logs of one header, which share a mapping. */
export interface LogGroup {
  signature: string
  /** null for packed files, whose logs the server reads by their own headers */
  layout: LogLayout | null
  files: File[]
  mapping: Mapping
  remembered: boolean
}

/** Stands for packed files; no header is that short. */
const PACKED = 'packed'

/** Groups logs by their header; a mapping chosen before wins over recognition. */
export function groupByHeader(logs: readonly ChosenLog[], remembered: Record<string, Mapping>): LogGroup[] {
  const groups = new Map<string, LogGroup>()
  const packed = logs.filter((one) => one.isPacked).map((one) => one.file)
  if (packed.length)
    groups.set(PACKED, { signature: PACKED, layout: null, files: packed, mapping: {}, remembered: false })
  for (const { file, layout } of logs) {
    if (!layout) continue
    const signature = headerSignature(layout.headers)
    const group = groups.get(signature)
    if (group) group.files.push(file)
    else {
      const known = remembered[signature]
      groups.set(signature, {
        signature,
        layout,
        files: [file],
        mapping: { ...layout.mapping, ...known },
        remembered: known !== undefined,
      })
    }
  }
  return [...groups.values()]
}
