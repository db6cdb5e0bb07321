import { channelKind, channelTitle, conversion, isAfrUnit } from './channels'
import { LogError } from './logError'
import { parseClock, parseNumber } from './number'
import { recogniseHeader, unknownPowerUnit, type Mapping } from './recognise'

/** A channel as read: its numbers still need `factor` and `offset` applied, because some units show only in the whole. */
export interface ReadChannel {
  channel: string
  unit: string
  count: number
  min: number
  max: number
  factor: number
}

/** What came of reading all rows. */
export interface ReadResult {
  samples: number
  channels: ReadChannel[]
  warnings: string[]
  /** AFR scale taken out of the lambda columns, or null when they were lambda already. */
  gaugeScale: number | null
}

export interface ReaderOptions {
  headers: readonly string[]
  mapping: Mapping
  /** the row of units under the headers, where there is one */
  units?: readonly string[]
  decimalComma: boolean
  /** AFR the gauge shows at lambda 1. */
  gaugeScale: number
  /** Samples per second, where the log has no time column. */
  sampleRateHz?: number | undefined
}

interface ColumnState {
  index: number
  header: string
  channel: string
  isTime: boolean
  isLambda: boolean
  factor: number
  offset: number
  afrStated: boolean
  count: number
  min: number
  max: number
  text: number
  firstTextLine: number
  firstText: string
  asLambda: number
  asAfr: number
  /** values of a lambda column that only a sensor's voltage takes */
  asVolts: number
  least: number
  most: number
}

/** Text in more than this share of a required column refuses the log. */
const MOST_TEXT = 0.5
/** A lambda column with more of its values below 0.4 is a narrowband sensor's voltage. */
const MOST_VOLTS = 0.1
const EMPTY_WORDS = new Set(['', 'nan', 'null', 'n/a', 'na', '-', '--', '---', 'inf', '-inf', 'infinity', '#n/a'])

type Rows = readonly (readonly string[])[]

/** Reads rows of text into columns, chunk by chunk, so a log of any length needs little memory. */
export interface LogReader {
  channels: readonly string[]
  /** @returns one Float32Array per channel for these rows; NaN where a cell is empty or text */
  push(rows: Rows, firstLine: number): Float32Array[]
  /** @throws LogError when what was read is no usable log */
  finish(): ReadResult
}

/**
 * Sets up a reader for a log of that layout.
 *
 * @throws LogError when the mapping names unknown headers, channels or units, or rpm or lambda is missing
 */
export function logReader(options: ReaderOptions): LogReader {
  const { headers, decimalComma, gaugeScale } = options
  const columns = mappedColumns(options)
  const timeFromRate = !columns.some((column) => column.channel === 'time')
  if (timeFromRate && !(options.sampleRateHz! > 0 && options.sampleRateHz! <= 10000)) {
    throw new LogError('No time column was found. Map one, or state the sample rate in samples per second.', [
      { field: 'sampleRateHz', message: 'needed where there is no time column (above 0, at most 10000)' },
    ])
  }
  const names = columns.map((column) => column.channel)
  if (timeFromRate) names.unshift('time')

  let samples = 0
  let short = 0
  let firstShort = 0
  let long = 0
  let firstLong = 0
  let lastShortLine = 0
  let firstTime = NaN
  let lastTime = -Infinity
  let backwards = 0
  let firstBackwards = 0
  let lastLine = 0

  /** A cell that is no plain number: empty, a clock time, or text, which is counted. */
  function readOddCell(column: ColumnState, text: string, line: number): number {
    if (EMPTY_WORDS.has(text.trim().toLowerCase())) return NaN
    const clock = column.isTime ? parseClock(text) : NaN
    if (Number.isNaN(clock) && column.text++ === 0) [column.firstTextLine, column.firstText] = [line, text.slice(0, 24)]
    return clock
  }

  /** One column of these rows in its own unit, with what the whole column needs to know of it. */
  function readColumn(column: ColumnState, rows: Rows, lines: Int32Array): Float32Array {
    const { index, factor, offset, isTime } = column
    const out = new Float32Array(rows.length)
    let { count, min, max } = column
    for (let r = 0; r < rows.length; r++) {
      const text = rows[r]![index] ?? ''
      let value = parseNumber(text, decimalComma)
      if (value === value) value = value * factor + offset
      else value = readOddCell(column, text, lines[r]!)
      if (isTime) value = sinceStart(value, lines[r]!)
      out[r] = value
      if (value === value) {
        count++
        if (value < min) min = value
        if (value > max) max = value
      }
    }
    Object.assign(column, { count, min, max })
    if (column.isLambda) {
      for (const value of out) {
        if (value > 0.4 && value < 3) column.asLambda++
        else if (value > 5.5 && value < 45) column.asAfr++
        else if (value > 0.02 && value <= 0.4) column.asVolts++
      }
    }
    return out
  }

  function sinceStart(raw: number, line: number): number {
    if (Number.isNaN(raw)) return NaN
    if (Number.isNaN(firstTime)) firstTime = raw
    const value = raw - firstTime
    if (value < lastTime) {
      if (backwards++ === 0) firstBackwards = line
    } else lastTime = value
    return value
  }

  function checkLength(row: readonly string[], line: number): void {
    if (row.length < headers.length) {
      if (short++ === 0) firstShort = line
      lastShortLine = line
    } else if (row.length > headers.length && row.slice(headers.length).some((cell) => cell.trim() !== '')) {
      if (long++ === 0) firstLong = line
    }
  }

  return {
    channels: names,
    push(all, firstLine) {
      const rows: (readonly string[])[] = []
      const lines = new Int32Array(all.length)
      for (let r = 0; r < all.length; r++) {
        const row = all[r]!
        if (isBlank(row)) continue
        lastLine = lines[rows.length] = firstLine + r
        if (row.length !== headers.length) checkLength(row, lastLine)
        rows.push(row)
      }
      const read = columns.map((column) => readColumn(column, rows, lines))
      if (timeFromRate) read.unshift(Float32Array.from(rows, (_, r) => (samples + r) / options.sampleRateHz!))
      samples += rows.length
      return read
    },
    finish() {
      if (samples === 0) throw new LogError('The file has a header but no rows. Export the log again with its data.')
      const warnings = headers.flatMap((header, k) =>
        options.mapping[header] ? [] : (unknownPowerUnit(header, options.units?.[k]) ?? []),
      )
      if (!columns.some((column) => column.isLambda))
        warnings.push('No lambda column: this run tells torque and power, but nothing about the mixture.')
      const channels: ReadChannel[] = []
      if (timeFromRate) {
        channels.push({
          channel: 'time',
          unit: 's',
          count: samples,
          min: 0,
          max: (samples - 1) / options.sampleRateHz!,
          factor: 1,
        })
        warnings.push(`No time column: ${options.sampleRateHz} samples per second, as stated.`)
      }
      let afrSeen = false
      for (const column of columns) {
        const needed = isNeeded(column.channel)
        if (column.count === 0) {
          if (needed) {
            throw new LogError(
              column.text > 0
                ? `Column "${column.header}" holds text (first "${column.firstText}" on line ${column.firstTextLine}) where ${channelTitle(column.channel)} needs numbers. Map another column.`
                : `Column "${column.header}" is empty, and ${channelTitle(column.channel)} is needed. Map another column.`,
              [
                {
                  message: 'no numbers',
                  field: column.header,
                  line: column.firstTextLine || 1,
                  column: column.index + 1,
                },
              ],
            )
          }
          warnings.push(`Column "${column.header}" has no numbers and is left out.`)
          continue
        }
        if (column.text > 0) {
          if (needed && column.text > MOST_TEXT * samples) {
            throw new LogError(
              `Column "${column.header}" holds text in ${column.text} of ${samples} rows (first "${column.firstText}" on line ${column.firstTextLine}). Map another column or mend the file.`,
              [{ message: 'mostly text', field: column.header, line: column.firstTextLine, column: column.index + 1 }],
            )
          }
          warnings.push(
            `Column "${column.header}": ${column.text} cells hold text, first "${column.firstText}" on line ${column.firstTextLine}; they count as empty.`,
          )
        }
        if (column.isLambda && column.asVolts > MOST_VOLTS * column.count && column.max < 1.3) throw narrowband(column)
        const { factor, note, afr } = settleUnit(column, gaugeScale)
        if (note) warnings.push(note)
        afrSeen ||= afr
        const kind = channelKind(column.channel)!
        if (needed && (column.max * factor < kind.least || column.min * factor > kind.most)) {
          throw new LogError(
            `Column "${column.header}" runs from ${column.min.toPrecision(4)} to ${column.max.toPrecision(4)}, which cannot be ${kind.title} in ${kind.unit || 'plain numbers'}. Check the mapping and its unit.`,
            [{ message: 'values out of range', field: column.header, column: column.index + 1 }],
          )
        }
        channels.push({
          channel: column.channel,
          unit: kind.unit,
          count: column.count,
          min: column.min * factor,
          max: column.max * factor,
          factor,
        })
      }
      if (backwards > 0.1 * samples) {
        throw new LogError(
          `Time runs backwards on ${backwards} of ${samples} rows, first on line ${firstBackwards}. Check that the time column is mapped right.`,
          [{ message: 'time runs backwards', field: 'time', line: firstBackwards }],
        )
      }
      if (backwards)
        warnings.push(`Time runs backwards on ${backwards} rows, first on line ${firstBackwards}; they are set aside.`)
      if (short) {
        const cutOff = short === 1 && lastShortLine === lastLine
        warnings.push(
          cutOff
            ? `The last line (${lastLine}) is cut off; what is missing counts as empty.`
            : `${short} rows have too few cells, first on line ${firstShort}; what is missing counts as empty.`,
        )
      }
      if (long)
        warnings.push(
          `${long} rows have more cells than the header, first on line ${firstLong}; the extra cells are left out.`,
        )
      if (samples < 20) warnings.push(`Only ${samples} rows: too few to learn from.`)
      return { samples, channels, warnings, gaugeScale: afrSeen ? gaugeScale : null }
    },
  }
}

function narrowband({ header, index }: ColumnState): LogError {
  return new LogError(
    `Column "${header}" swings between 0 and 1 as the voltage of a narrowband sensor does. Such a sensor tells rich from lean, not how much, so it is never used as a number. Map the column as a narrowband sensor, and a wideband column as lambda.`,
    [{ message: 'a narrowband sensor, not lambda', field: header, column: index + 1 }],
  )
}

function isBlank(row: readonly string[]): boolean {
  return row.every((cell) => cell === '' || cell.trim() === '')
}

function isNeeded(channel: string): boolean {
  return channel === 'time' || channel === 'rpm' || channel === 'lambda1'
}

/** What these channels still lack to be a run: engine speed, and mixture or something that tells torque. */
export function missingChannels(channels: readonly string[]): ('rpm' | 'lambda1')[] {
  const told = ['lambda1', 'torque', 'power', 'drum'].some((channel) => channels.includes(channel))
  return [...(channels.includes('rpm') ? [] : (['rpm'] as const)), ...(told ? [] : (['lambda1'] as const))]
}

function mappedColumns({ headers, mapping }: ReaderOptions): ColumnState[] {
  const faults = Object.keys(mapping)
    .filter((header) => !headers.includes(header))
    .map((header) => ({ field: header, message: `the file has no column "${header}"` }))
  const columns: ColumnState[] = []
  headers.forEach((header, index) => {
    const mapped = mapping[header]
    if (!mapped) return
    const kind = channelKind(mapped.channel)
    const scale = kind && conversion(kind, mapped.unit)
    if (!kind) faults.push({ field: header, message: `there is no channel "${mapped.channel}"` })
    else if (!scale) faults.push({ field: header, message: `${kind.title} has no unit "${mapped.unit}"` })
    else if (columns.some((column) => column.channel === mapped.channel)) {
      faults.push({ field: header, message: `${channelTitle(mapped.channel)} is mapped twice` })
    } else {
      columns.push({
        index,
        header,
        channel: mapped.channel,
        isTime: mapped.channel === 'time',
        isLambda: mapped.channel.startsWith('lambda'),
        factor: scale[0],
        offset: scale[1],
        afrStated: isAfrUnit(mapped.unit),
        count: 0,
        min: Infinity,
        max: -Infinity,
        text: 0,
        firstTextLine: 0,
        firstText: '',
        asLambda: 0,
        asAfr: 0,
        asVolts: 0,
        least: kind.least,
        most: kind.most,
      })
    }
  })
  if (faults.length) throw new LogError(`The mapping does not fit the file: ${faults[0]!.message}.`, faults)
  const missing = missingChannels(columns.map((column) => column.channel))
  if (missing.length) {
    const words = missing
      .map((channel) => (channel === 'rpm' ? 'an rpm column' : 'a lambda or AFR column'))
      .join(' and ')
    const narrow = headers.find((header) => recogniseHeader(header)?.channel.startsWith('narrowband'))
    throw new LogError(
      `The log has no ${words.replace(/^an? /, '').replace(/ and an? /, ' and ')}. Its columns are: ${headers.slice(0, 12).join(', ')}. Map ${words}.` +
        (missing.includes('lambda1') && narrow
          ? ` "${narrow}" is a narrowband sensor: it tells rich from lean, not how much.`
          : ''),
      missing.map((channel) => ({
        field: channel === 'lambda1' ? 'lambda' : channel,
        message: 'no column is mapped to it',
        line: 1,
      })),
    )
  }
  return columns
}

/** Settles what only the whole column shows: AFR or lambda, throttle as fraction or percent. */
function settleUnit(column: ColumnState, gaugeScale: number): { factor: number; note: string; afr: boolean } {
  if (column.channel.startsWith('lambda')) {
    const afr = column.asAfr > column.asLambda
    const note =
      afr && !column.afrStated
        ? `Column "${column.header}" says lambda but its values are AFR; read as AFR of a gauge scaled for ${gaugeScale}.`
        : !afr && column.afrStated
          ? `Column "${column.header}" says AFR but its values are lambda; read as lambda.`
          : ''
    return { factor: afr ? 1 / gaugeScale : 1, note, afr }
  }
  if (
    (column.channel === 'throttle' || column.channel === 'grip') &&
    column.factor === 1 &&
    column.max <= 1.05 &&
    column.max > 0.02
  ) {
    return {
      factor: 100,
      note: `Column "${column.header}" runs from 0 to 1; read as a fraction, times 100 %.`,
      afr: false,
    }
  }
  return { factor: 1, note: '', afr: false }
}
