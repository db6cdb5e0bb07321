import { mappedColumns, type ColumnState, type ReaderOptions } from './mappedColumns'
import { DAY, MIDNIGHT, parseClock } from './clockTime'
import { parseNumber } from './number'
import { scanLines } from './scanLines'
import { judgeSoFar, settleColumns, type ReadResult, type RowTally } from './settleColumns'

const EMPTY_WORDS = new Set(['', 'nan', 'null', 'n/a', 'na', '-', '--', '---', 'inf', '-inf', 'infinity', '#n/a'])

/** Time that falls back by this share of what was recorded, and goes on from there for so many rows, is another recording. */
const RESTART_SHARE = 0.5
const RESTART_ROWS = 10

/** Beyond it nothing is a reading of anything here; a float32 would hold infinity from 3.4e38 on. */
const MOST_READ = 1e30

/** Rows by which the unit of time is judged. */
const MOST_HEAD = 5000

type Rows = readonly (readonly string[])[]

/** Reads rows of text into columns, piece by piece, so a log of any length needs little memory. */
export interface LogReader {
  channels: readonly string[]
  /** @returns one Float32Array per channel for these rows; NaN where a cell is empty or text */
  push(rows: Rows, firstLine: number): Float32Array[]
  /**
   * The same for whole lines without quotes as they lie in the file, several times as quick because hardly a cell becomes
   * a string.
   */
  pushLines(
    bytes: Uint8Array,
    delimiter: string,
    firstLine: number,
    decode: (bytes: Uint8Array) => string,
  ): Float32Array[]
  /** @throws Refusal 'no-log' when what was read is no usable log */
  finish(): ReadResult
}

/**
 * Sets up a reader for a log of that layout.
 *
 * @throws Refusal 'no-log' when the mapping names unknown headers, channels or units, or rpm or lambda is missing
 */
export function logReader(options: ReaderOptions): LogReader {
  const { headers, decimalComma, sampleRateHz } = options
  const columns = mappedColumns(options)
  const columnOf = headers.map((_, index) => columns.findIndex((column) => column.index === index))
  const names = columns.map((column) => column.channel)
  const timeFromRate = !names.includes('time')
  if (timeFromRate) names.unshift('time')
  const tally: RowTally = {
    samples: 0,
    lastLine: 0,
    short: { count: 0, firstLine: 0, lastLine: 0 },
    long: { count: 0, firstLine: 0, lastLine: 0 },
    backwards: { count: 0, firstLine: 0, lastLine: 0 },
    restarts: [],
    head: { time: [], rpm: [], first: NaN },
  }
  const room = { values: [], lines: new Int32Array(0) }
  let firstTime = NaN
  let lastTime = -Infinity
  /** where the recording began that is read now, and days that ended since the first */
  let began = 0
  let days = 0
  let isClock = false
  /** time has fallen back: from which row, and how it goes on */
  let fallen: { row: number; began: number; last: number; rows: number } | null = null

  /** A cell that is no plain decimal: a number of another form, empty, a clock time, or text, which is counted. */
  function readCell(column: ColumnState, text: string, line: number): number {
    const value = parseNumber(text, decimalComma)
    if (value === value) return value * column.factor + column.offset
    if (EMPTY_WORDS.has(text.trim().toLowerCase())) return NaN
    const clock = column.isTime ? parseClock(text) : NaN
    if (clock === clock) isClock = true
    if (Number.isNaN(clock) && column.text++ === 0) [column.firstTextLine, column.firstText] = [line, text.slice(0, 24)]
    return clock
  }

  /** Takes a column's values, in its own unit, and notes what the whole column needs to know of them. */
  function take(column: ColumnState, values: Float64Array, lines: Int32Array): Float32Array {
    if (column.isTime) sinceStart(values, lines)
    let { count, min, max } = column
    for (let r = 0; r < values.length; r++) {
      const value = values[r]!
      if (value !== value) continue
      if (Math.abs(value) > MOST_READ) {
        values[r] = NaN
        continue
      }
      count++
      if (value < min) min = value
      if (value > max) max = value
    }
    Object.assign(column, { count, min, max })
    if (column.isMixture) {
      for (const value of values) {
        if (value > 0.4 && value < 3) column.asLambda++
        else if (value > 5.5 && value < 45) column.asAfr++
        else if (value > 0.02 && value <= 0.4) column.asVolts++
      }
    }
    return Float32Array.from(values)
  }

  function sinceStart(values: Float64Array, lines: Int32Array): void {
    for (let r = 0; r < values.length; r++) {
      const raw = values[r]! + days * DAY
      if (raw !== raw) continue
      if (Number.isNaN(firstTime)) tally.head.first = firstTime = raw
      // A clock that falls back by most of a day has passed midnight.
      const isNextDay = isClock && raw - firstTime < lastTime - MIDNIGHT
      if (isNextDay) days++
      const value = raw - firstTime + (isNextDay ? DAY : 0)
      values[r] = value
      if (value < lastTime) fallBack(value, tally.samples + r, lines[r]!)
      else {
        lastTime = value
        fallen = null
      }
    }
  }

  /** Notes a time before that of a row above; where it goes on from there, another recording has begun. */
  function fallBack(value: number, row: number, line: number): void {
    note(tally.backwards, line)
    if (fallen && value >= fallen.last) fallen = { ...fallen, last: value, rows: fallen.rows + 1 }
    else
      fallen =
        lastTime - value > RESTART_SHARE * (lastTime - began) ? { row, began: value, last: value, rows: 1 } : null
    if (!fallen || fallen.rows < RESTART_ROWS) return
    tally.restarts.push(fallen.row)
    tally.backwards.count -= fallen.rows
    ;[began, lastTime, fallen] = [fallen.began, value, null]
  }

  const [timeAt, rpmAt] = ['time', 'rpm'].map((channel) => columns.findIndex((one) => one.channel === channel))
  /** Keeps the first rows, once time runs from the start. */
  function noteHead(values: Float64Array[], rows: number): void {
    const { time, rpm } = tally.head
    if (timeAt! < 0) return
    for (let r = 0; r < rows && time.length < MOST_HEAD; r++) {
      time.push(values[timeAt!]![r]!)
      rpm.push(values[rpmAt!]![r]!)
    }
  }

  function takeAll(values: Float64Array[], lines: Int32Array): Float32Array[] {
    const taken = columns.map((column, k) => take(column, values[k]!, lines))
    const rows = lines.length
    noteHead(values, rows)
    if (timeFromRate) taken.unshift(Float32Array.from({ length: rows }, (_, r) => (tally.samples + r) / sampleRateHz!))
    tally.samples += rows
    judgeSoFar(columns, tally)
    if (rows > 0) tally.lastLine = lines[rows - 1]!
    return taken
  }

  return {
    channels: names,
    push(all, firstLine) {
      const rows: (readonly string[])[] = []
      const lines: number[] = []
      all.forEach((row, r) => {
        if (row.every(isBlank)) return
        const line = firstLine + r
        if (row.length < headers.length) note(tally.short, line)
        else if (!row.slice(headers.length).every(isBlank)) note(tally.long, line)
        rows.push(row)
        lines.push(line)
      })
      const values = columns.map((column) =>
        Float64Array.from(rows, (row, r) => readCell(column, row[column.index] ?? '', lines[r]!)),
      )
      return takeAll(values, Int32Array.from(lines))
    },
    pushLines(bytes, delimiter, firstLine, decode) {
      const { values, lines } = scanLines(bytes, {
        delimiter,
        firstLine,
        decimalComma,
        columnOf,
        scales: columns,
        decode,
        room,
        readOdd: (k, text, line) => readCell(columns[k]!, text, line),
        onUneven: (line, short) => note(short ? tally.short : tally.long, line),
      })
      return takeAll(values, lines)
    },
    finish: () => settleColumns(options, columns, tally),
  }
}

function note(fault: { count: number; firstLine: number; lastLine: number }, line: number): void {
  if (fault.count++ === 0) fault.firstLine = line
  fault.lastLine = line
}

function isBlank(cell: string): boolean {
  return cell === '' || cell.trim() === ''
}
