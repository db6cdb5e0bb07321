/** How a piece of a log is scanned. */
export interface Scan {
  /** a character of ASCII */
  delimiter: string
  /** line of the first line of the piece, from 1 */
  firstLine: number
  decimalComma: boolean
  /** for each cell of a line the column it goes to, -1 where it goes nowhere */
  columnOf: readonly number[]
  /** what plain numbers of each column are multiplied by, and what is added */
  scales: readonly { factor: number; offset: number }[]
  decode(bytes: Uint8Array): string
  /** is used again for the next piece */
  room: ScanRoom
  /** the value of a cell that is no plain decimal such as "-12.34" */
  readOdd(column: number, text: string, line: number): number
  /** called for a line with too few cells, or with something in cells beyond the last column */
  onUneven(line: number, short: boolean): void
}

const [TAB, NEWLINE, RETURN, BLANK, MINUS, ZERO, NINE] = [9, 10, 13, 32, 45, 48, 57]
/** Up to here both parts of a decimal are exact in double precision, so their quotient is rounded as Number would. */
const MOST_DIGITS = 15
const POWERS = Float64Array.from({ length: MOST_DIGITS + 1 }, (_, k) => 10 ** k)

/**
 * Goes through whole lines of unquoted text byte by byte; only cells that are no plain decimal become strings. Lines of
 * nothing but blanks and delimiters are passed over; cells that are missing read as NaN.
 *
 * @param bytes lines that end in "\n" or "\r\n", the last one with or without, in an encoding that extends ASCII
 * @returns values per column, row after row, and the line of each row; valid until the room is used again
 */
export function scanLines(bytes: Uint8Array, scan: Scan): { values: Float64Array[]; lines: Int32Array } {
  const { columnOf, scales, readOdd, decode } = scan
  const delimiter = scan.delimiter.charCodeAt(0)
  const pointCode = (scan.decimalComma ? ',' : '.').charCodeAt(0)
  const width = columnOf.length
  const length = bytes.length
  const most = countLines(bytes)
  const { values, lines } = roomFor(scan.room, scales.length, most)
  let rows = 0
  let at = 0
  for (let line = scan.firstLine; at < length; line++) {
    if (bytes[at] === NEWLINE) {
      at++
      continue
    }
    if (!isDigit(bytes[at]!)) {
      const end = endOfLine(bytes, at)
      if (isEmpty(bytes.subarray(at, end), delimiter, decode)) {
        at = end + 1
        continue
      }
    }
    let cell = 0
    let beyond = false
    for (let ended = false; !ended; cell++) {
      const column = cell < width ? columnOf[cell]! : -1
      const negative = bytes[at] === MINUS
      let i = negative ? at + 1 : at
      let mantissa = 0
      let digits = 0
      let decimals = -1
      let code = NEWLINE
      for (; i < length; i++) {
        code = bytes[i]!
        if (code >= ZERO && code <= NINE) {
          mantissa = mantissa * 10 + code - ZERO
          digits++
          if (decimals >= 0) decimals++
        } else if (code === pointCode && decimals < 0) decimals = 0
        else break
      }
      if (i >= length || (code === RETURN && (i + 1 >= length || bytes[i + 1] === NEWLINE))) code = NEWLINE
      const plain = digits > 0 && digits <= MOST_DIGITS && (code === delimiter || code === NEWLINE)
      if (!plain) while (i < length && bytes[i] !== delimiter && bytes[i] !== NEWLINE) i++
      ended = i >= length || bytes[i] !== delimiter
      if (column >= 0) {
        const { factor, offset } = scales[column]!
        const size = decimals > 0 ? mantissa / POWERS[decimals]! : mantissa
        values[column]![rows] = plain
          ? (negative ? -size : size) * factor + offset
          : readOdd(column, decode(bytes.subarray(at, ended && bytes[i - 1] === RETURN ? i - 1 : i)), line)
      } else if (cell >= width) beyond ||= !isEmpty(bytes.subarray(at, i), delimiter, decode)
      at = i + 1
      if (ended && bytes[i] === RETURN) at++
    }
    if (cell < width || beyond) scan.onUneven(line, cell < width)
    lines[rows++] = line
  }
  return { values: values.map((column) => column.subarray(0, rows)), lines: lines.subarray(0, rows) }
}

/** Room for the values of one piece after the other, so that a long log leaves no trail of buffers behind. */
interface ScanRoom {
  values: Float64Array[]
  lines: Int32Array
}

function roomFor(room: ScanRoom, columns: number, rows: number): ScanRoom {
  if (room.lines.length < rows || room.values.length !== columns) {
    room.values = Array.from({ length: columns }, () => new Float64Array(rows))
    room.lines = new Int32Array(rows)
  }
  for (const column of room.values) column.fill(NaN, 0, rows)
  return room
}

function countLines(bytes: Uint8Array): number {
  let count = 1
  for (let at = 0; at < bytes.length; at++) if (bytes[at] === NEWLINE) count++
  return count
}

function endOfLine(bytes: Uint8Array, from: number): number {
  const end = bytes.indexOf(NEWLINE, from)
  return end < 0 ? bytes.length : end
}

function isDigit(code: number): boolean {
  return code >= ZERO && code <= NINE
}

/** Whether nothing but blanks and delimiters stands there. */
function isEmpty(bytes: Uint8Array, delimiter: number, decode: (bytes: Uint8Array) => string): boolean {
  let odd = 0
  for (; odd < bytes.length; odd++) {
    const code = bytes[odd]!
    if (code !== delimiter && code !== BLANK && !(code >= TAB && code <= RETURN)) break
  }
  if (odd === bytes.length) return true
  // Rare blanks, such as a no-break space, are what trim takes them for.
  return bytes[odd]! >= 128 && decode(bytes).replaceAll(String.fromCharCode(delimiter), '').trim() === ''
}
