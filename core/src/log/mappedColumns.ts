import { logRefused } from './logRefused'
import { sentence } from '../numbers/sentence'
import { channelKind, channelTitle, conversion, isAfrUnit } from '../run/channels'
import { recogniseHeader, type Mapping } from './recognise'

/** How a log's columns are to be read. */
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

/** A column while it is read, with what only the whole of it will tell. */
export interface ColumnState {
  index: number
  header: string
  channel: string
  unit: string
  guessed: boolean
  isTime: boolean
  isLambda: boolean
  /** lambda or AFR, measured or commanded */
  isMixture: boolean
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

/** What these channels still lack to be a run: engine speed, and mixture or something that tells torque. */
export function missingChannels(channels: readonly string[]): ('rpm' | 'lambda1')[] {
  const hasReading = ['lambda1', 'torque', 'power', 'drum'].some((channel) => channels.includes(channel))
  return [...(channels.includes('rpm') ? [] : (['rpm'] as const)), ...(hasReading ? [] : (['lambda1'] as const))]
}

/**
 * The columns a mapping takes, in the order of the file.
 *
 * @throws Refusal 'no-log' when it names unknown headers, channels or units, or rpm or lambda is missing
 */
export function mappedColumns({ headers, mapping, sampleRateHz }: ReaderOptions): ColumnState[] {
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
        unit: mapped.unit,
        guessed: mapped.guessed ?? false,
        isTime: mapped.channel === 'time',
        isLambda: mapped.channel.startsWith('lambda'),
        isMixture: mapped.channel.startsWith('lambda') || mapped.channel === 'commanded',
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
  if (faults.length) throw logRefused(sentence(`The mapping does not fit the file: ${faults[0]!.message}`), faults)
  const missing = missingChannels(columns.map((column) => column.channel))
  if (missing.length) {
    const words = missing
      .map((channel) => (channel === 'rpm' ? 'an rpm column' : 'a lambda or AFR column'))
      .join(' and ')
    const narrow = headers.find((header) => recogniseHeader(header)?.channel.startsWith('narrowband'))
    throw logRefused(
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
  if (!columns.some((column) => column.isTime) && !(sampleRateHz! > 0 && sampleRateHz! <= 10000)) {
    throw logRefused('No time column was found. Map one, or state the sample rate in samples per second.', [
      { field: 'sampleRateHz', message: 'needed where there is no time column (above 0, at most 10000)' },
    ])
  }
  return columns
}
