import { logRefused } from './logRefused'

/** Encodings a log may come in; others are read as Windows-1252, which no byte breaks. */
export type Encoding = 'utf-8' | 'utf-16le' | 'utf-16be' | 'windows-1252'

/**
 * Finds a text file's encoding from its first bytes.
 *
 * @param head first bytes of the file, 4 kB or more where there are as many
 * @throws Refusal 'no-log' when the file is empty or is no text
 */
export function detectEncoding(head: Uint8Array): Encoding {
  if (head.length === 0) throw logRefused('The file is empty. Export the log again with at least a header and one row.')
  if (head[0] === 0xff && head[1] === 0xfe) return 'utf-16le'
  if (head[0] === 0xfe && head[1] === 0xff) return 'utf-16be'
  let evenZeros = 0
  let oddZeros = 0
  let controls = 0
  head.forEach((byte, index) => {
    if (byte === 0 && index % 2) oddZeros++
    else if (byte === 0) evenZeros++
    else if (byte < 32 && byte !== 9 && byte !== 10 && byte !== 13 && byte !== 12) controls++
  })
  const half = head.length / 2
  if (oddZeros > 0.8 * half && evenZeros < 0.05 * half) return 'utf-16le'
  if (evenZeros > 0.8 * half && oddZeros < 0.05 * half) return 'utf-16be'
  if (evenZeros + oddZeros > 0 || controls > 0.02 * head.length) {
    throw logRefused('This is not a text file, so it cannot be read as a log. Export the log as CSV and add that.')
  }
  try {
    // A character may be cut at the end of the head: four bytes less still tell.
    new TextDecoder('utf-8', { fatal: true }).decode(trimToCharacter(head))
    return 'utf-8'
  } catch {
    return 'windows-1252'
  }
}

function trimToCharacter(bytes: Uint8Array): Uint8Array {
  let end = bytes.length
  while (end > 0 && end > bytes.length - 4 && (bytes[end - 1]! & 0xc0) === 0x80) end--
  return end > 0 && bytes[end - 1]! >= 0xc0 ? bytes.subarray(0, end - 1) : bytes
}
