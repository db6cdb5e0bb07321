import type { Refusal } from '../refusal/refusal'
import { logRefused } from './logRefused'
import { channelKind, channelTitle, isOther } from '../run/channels'
import type { ColumnState, ReaderOptions } from './mappedColumns'
import { isMilliseconds } from './milliseconds'
import { timeUnit, type TimeUnit } from './timeUnit'
import { unknownUnit } from './recognise'

/** A channel as read: its numbers still need `factor` and `offset` applied, because some units show only in the whole. */
interface ReadChannel {
  channel: string
  unit: string
  count: number
  min: number
  max: number
  factor: number
  header?: string
  guessed?: boolean
}

/** What came of reading all rows. */
export interface ReadResult {
  samples: number
  channels: ReadChannel[]
  warnings: string[]
  /** rows at which another recording begins */
  restarts: number[]
  /** AFR scale taken out of the lambda columns, or null when they were lambda already. */
  gaugeScale: number | null
}

/** Rows that have something the matter. */
interface OddRows {
  count: number
  firstLine: number
  lastLine: number
}

/** What was counted over all rows of a log. */
export interface RowTally {
  samples: number
  lastLine: number
  /** too few cells */
  short: OddRows
  /** something in cells beyond the header's */
  long: OddRows
  /** time before that of a row above */
  backwards: OddRows
  /** the first rows, as read: by these the unit of time is judged */
  head: { time: number[]; rpm: number[]; first: number }
  /** rows at which time begins anew: another recording */
  restarts: number[]
}

/** Names of columns in a sentence, at most. */
const MOST_NAMED = 12
/** That columns are left out, by name. */
function leftOutWords(headers: readonly string[]): string {
  const more = headers.length - MOST_NAMED
  const named = headers.slice(0, MOST_NAMED).map((one) => `"${one}"`)
  return `Left out: ${named.join(', ')}${more > 0 ? ` and ${more} more` : ''}.`
}

/** Text in more than this share of a required column refuses the log. */
const MOST_TEXT = 0.5
/** A lambda column with more of its values below 0.4 is a narrowband sensor's voltage. */
const MOST_VOLTS = 0.1
/** Time that falls back on a larger share of the rows is no time. */
const MOST_BACKWARDS = 0.1

/**
 * Judges a log once all its rows were read: units that only the whole shows, what is missing, what to warn of.
 *
 * @throws Refusal 'no-log' when it is no usable log
 */
export function settleColumns(options: ReaderOptions, columns: readonly ColumnState[], tally: RowTally): ReadResult {
  const { headers, gaugeScale, sampleRateHz } = options
  const { samples } = tally
  if (samples === 0) throw logRefused('The file has a header but no rows. Export the log again with its data.')
  const kept = (header: string): boolean => !options.mapping[header] || isOther(options.mapping[header].channel)
  const warnings = headers.flatMap((header, k) => (kept(header) ? (unknownUnit(header, options.units?.[k]) ?? []) : []))
  const leftOut = headers.filter((header) => !options.mapping[header])
  if (leftOut.length) warnings.push(leftOutWords(leftOut))
  if (!columns.some((column) => column.isLambda))
    warnings.push('No lambda column: this run tells torque and power, but nothing about the mixture.')
  const channels: ReadChannel[] = []
  if (!columns.some((column) => column.isTime)) {
    channels.push({ channel: 'time', unit: 's', count: samples, min: 0, max: (samples - 1) / sampleRateHz!, factor: 1 })
    warnings.push(`No time column: ${sampleRateHz} samples per second, as stated.`)
  }
  let afrSeen = false
  for (const column of columns) {
    const settled = settleColumn(column, samples, gaugeScale, column.isTime ? unitOfTime(column, tally) : null)
    warnings.push(...settled.warnings)
    afrSeen ||= settled.afr
    if (settled.channel) channels.push(settled.channel)
  }
  warnings.push(...judgeRows(tally))
  return { samples, channels, warnings, restarts: tally.restarts, gaugeScale: afrSeen ? gaugeScale : null }
}

/** @throws Refusal 'no-log' when a column that is needed has no numbers, mostly text, or values that cannot be */
function settleColumn(
  column: ColumnState,
  samples: number,
  gaugeScale: number,
  time: TimeUnit | null,
): { channel: ReadChannel | null; afr: boolean; warnings: string[] } {
  const { header, count, text, firstText, firstTextLine } = column
  const needed = isNeeded(column.channel)
  const place = { field: header, column: column.index + 1 }
  if (count === 0) {
    if (!needed) return { channel: null, afr: false, warnings: [`Column "${header}" has no numbers and is left out.`] }
    throw logRefused(
      text > 0
        ? `Column "${header}" holds text (first "${firstText}" on line ${firstTextLine}) where ${channelTitle(column.channel)} needs numbers. Map another column.`
        : `Column "${header}" is empty, and ${channelTitle(column.channel)} is needed. Map another column.`,
      [{ message: 'no numbers', line: firstTextLine || 1, ...place }],
    )
  }
  const warnings: string[] = []
  if (isOther(column.channel) && text > count)
    return { channel: null, afr: false, warnings: [`Column "${header}" holds text and is left out.`] }
  if (text > 0) {
    if (needed && text > MOST_TEXT * samples) {
      throw logRefused(
        `Column "${header}" holds text in ${text} of ${samples} rows (first "${firstText}" on line ${firstTextLine}). Map another column or mend the file.`,
        [{ message: 'mostly text', line: firstTextLine, ...place }],
      )
    }
    warnings.push(
      `Column "${header}": ${text} cells hold text, first "${firstText}" on line ${firstTextLine}; they count as empty.`,
    )
  }
  if (column.isLambda && column.asVolts > MOST_VOLTS * count && column.max < 1.3) throw narrowband(column)
  const { factor, note, afr } = time ? asTime(column, time) : settleUnit(column, gaugeScale)
  if (note) warnings.push(note)
  const kind = channelKind(column.channel)!
  if (needed && (column.max * factor < kind.least || column.min * factor > kind.most)) {
    throw logRefused(
      `Column "${header}" runs from ${column.min.toPrecision(4)} to ${column.max.toPrecision(4)}, which cannot be ${kind.title} in ${kind.unit || 'plain numbers'}. Check the mapping and its unit.`,
      [{ message: 'values out of range', ...place }],
    )
  }
  const [min, max] = [column.min * factor, column.max * factor]
  if (column.guessed)
    warnings.push(
      `Column "${header}" does not say what it is; by its values it was taken for ${kind.title.toLowerCase()} in ${column.unit || kind.unit}, which is a guess. Map it by hand if it is something else.`,
    )
  const named = {
    ...((column.guessed || isOther(column.channel)) && { header: header.slice(0, 200) }),
    ...(column.guessed && { guessed: true }),
  }
  const unit = isOther(column.channel) ? column.unit : kind.unit
  return { channel: { channel: column.channel, unit, count, min, max, factor, ...named }, afr, warnings }
}

/** Rows after which it shows whether a file is a log at all. */
const ENOUGH_ROWS = 10_000
/** Share of rows with a value, of a channel that every row has. */
const LEAST_FILLED = 0.02

/**
 * Judges what was read so far, so that a file which is no log is not read to its end.
 *
 * @throws Refusal 'no-log' where time or engine speed is text or missing all along
 */
export function judgeSoFar(columns: readonly ColumnState[], { samples }: RowTally): void {
  if (samples < ENOUGH_ROWS) return
  for (const { channel, header, index, count, text, firstText, firstTextLine } of columns) {
    if (channel !== 'time' && channel !== 'rpm') continue
    if (count >= LEAST_FILLED * samples) continue
    const said = text > count ? `holds text (first "${firstText}" on line ${firstTextLine})` : 'is empty'
    throw logRefused(
      `Column "${header}" ${said} on nearly all of the first ${samples} rows, where ${channelTitle(channel)} needs numbers. Map another column or mend the file.`,
      [{ message: 'no numbers', line: firstTextLine || 1, field: header, column: index + 1 }],
    )
  }
}

/** @throws Refusal 'no-log' when time runs backwards so often that it is no time */
function judgeRows({ samples, lastLine, short, long, backwards }: RowTally): string[] {
  const warnings: string[] = []
  if (backwards.count > MOST_BACKWARDS * samples) {
    throw logRefused(
      `Time runs backwards on ${backwards.count} of ${samples} rows, first on line ${backwards.firstLine}. Check that the time column is mapped right.`,
      [{ message: 'time runs backwards', field: 'time', line: backwards.firstLine }],
    )
  }
  if (backwards.count) {
    const { count, firstLine } = backwards
    warnings.push(`Time runs backwards on ${count} rows, first on line ${firstLine}; they are set aside.`)
  }
  if (short.count) {
    const cutOff = short.count === 1 && short.lastLine === lastLine
    warnings.push(
      cutOff
        ? `The last line (${lastLine}) is cut off; what is missing counts as empty.`
        : `${short.count} rows have too few cells, first on line ${short.firstLine}; what is missing counts as empty.`,
    )
  }
  if (long.count)
    warnings.push(
      `${long.count} rows have more cells than the header, first on line ${long.firstLine}; the extra cells are left out.`,
    )
  if (samples < 20) warnings.push(`Only ${samples} rows: too few to learn from.`)
  return warnings
}

function narrowband({ header, index }: ColumnState): Refusal {
  return logRefused(
    `Column "${header}" swings between 0 and 1 as the voltage of a narrowband sensor does. Such a sensor tells rich from lean, not how much, so it is never used as a number. Map the column as a narrowband sensor, and a wideband column as lambda.`,
    [{ message: 'a narrowband sensor, not lambda', field: header, column: index + 1 }],
  )
}

function isNeeded(channel: string): boolean {
  return channel === 'time' || channel === 'rpm' || channel === 'lambda1'
}

/** Unit of a time column where it says none, or says seconds that cannot be; null where it stands. */
function unitOfTime({ unit, factor }: ColumnState, { head }: RowTally): TimeUnit | null {
  if (unit === '') return timeUnit(head.time, head.rpm, head.first)
  return factor === 1 && isMilliseconds(head.time, head.rpm) ? { factor: 1e-3, name: 'milliseconds' } : null
}

function asTime({ header, unit }: ColumnState, time: TimeUnit): ReturnType<typeof settleUnit> {
  const why = unit === '' ? 'it says no unit' : 'in seconds the engine would creep through its range as none does'
  const note = time.factor === 1 ? '' : `Column "${header}" was taken for ${time.name}: ${why}.`
  return { factor: time.factor, note, afr: false }
}

/** Settles what only the whole column shows: AFR or lambda, throttle as fraction or percent. */
function settleUnit(column: ColumnState, gaugeScale: number): { factor: number; note: string; afr: boolean } {
  if (column.isMixture) {
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
