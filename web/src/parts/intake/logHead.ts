import { detectEncoding, headerSignature, readLayout, type LogLayout, type Mapping } from '@yuzumix/core'

/** A log that was chosen, with what its head tells; or why it cannot be read. */
export interface ChosenLog {
  file: File
  layout: LogLayout | null
  fault: string
}

const HEAD_BYTES = 65536

/** Reads the head of a file: its layout and channels. */
export async function readHead(file: File): Promise<ChosenLog> {
  try {
    const bytes = new Uint8Array(await file.slice(0, HEAD_BYTES).arrayBuffer())
    const text = new TextDecoder(detectEncoding(bytes)).decode(bytes)
    return { file, layout: readLayout(text, file.size <= HEAD_BYTES), fault: '' }
  } catch (error) {
    return { file, layout: null, fault: (error as Error).message }
  }
}

/** Logs of one header, which share a mapping. */
export interface LogGroup {
  signature: string
  layout: LogLayout
  files: File[]
  mapping: Mapping
  remembered: boolean
}

/** Groups logs by their header; a mapping chosen before wins over recognition. */
export function groupByHeader(logs: readonly ChosenLog[], remembered: Record<string, Mapping>): LogGroup[] {
  const groups = new Map<string, LogGroup>()
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
