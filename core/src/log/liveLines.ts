import { channelKind, conversion, isAfrUnit } from '../run/channels'
import { parseClock } from './clockTime'
import { parseNumber } from './number'
import { headerSignature, recogniseColumns, type Mapping } from './recognise'

/** What a column of live lines is taken for; null where it is left out. */
export interface LiveColumn {
  header: string
  channel: string | null
  unit: string
}

/** One line of readings, by channel, in the core's units. */
export interface LiveReading {
  /** s since the first line */
  time: number
  values: Readonly<Record<string, number>>
}

/** How live lines are to be read. */
export interface LiveOptions {
  /** what somebody said of a header that came: its mapping, or undefined where nobody said anything */
  mapped(signature: string, headers: readonly string[]): Mapping | undefined
  /** AFR of the gauge at lambda 1 */
  gaugeScale: number
}

const SEPARATORS = ['\t', ';', '|', ','] as const
/** s by which the sender's clock may differ from the one here before it is begun anew: it was started again. */
const JUMPS = 5
/** lambda beyond which a figure without a unit is AFR. */
const AFR_FROM = 5
/** Lines by which the unit of a clock that names none is told, and s. */
const CLOCK_LINES = 10
/** Sizes that a clock's unit may have, s. */
const CLOCKS = [1, 1e-3, 1e-6]

/**
 * Reads lines as they come: a header, then values, by any separator. A header that comes again is passed over; another one is
 * taken anew. Lines before the first header are told, and tell nothing.
 *
 * @example
 * const lines = liveLines({ mapped: () => undefined, gaugeScale: 14.7 })
 * lines.read('rpm;throttle;afr', 0)
 * lines.read('3000;20,5;13,2', 0.1)[0]?.values['throttle']
 */
export function liveLines({ mapped, gaugeScale }: LiveOptions) {
  let columns: LiveColumn[] | null = null
  let signature = ''
  let separator = ','
  /** of the sender's clock: its unit, s, null until it is told, and what is added to it */
  let clock: { unit: number | null; offset: number } = { unit: null, offset: 0 }
  let first: number | null = null
  let newest = -Infinity
  let behind = 0
  let strange = 0
  let waiting: { at: number; told: number; values: Record<string, number> }[] = []

  function takeHeader(headers: string[]): void {
    signature = headerSignature(headers)
    const given = mapped(signature, headers) ?? recogniseColumns(headers)
    columns = headers.map((header) => {
      const one = given[header]
      const isKnown = one && channelKind(one.channel) !== undefined
      return { header, channel: isKnown ? one.channel : null, unit: isKnown ? one.unit : '' }
    })
    const time = columns.find((one) => one.channel === 'time')
    const stated = time && time.unit !== '' ? conversion(channelKind('time')!, time.unit) : undefined
    clock = { unit: stated ? stated[0] : null, offset: NaN }
    waiting = []
  }

  /** Seconds since the first line, by the sender's clock where it has one. */
  function timed(at: number, told: number): number {
    first ??= at
    const own = told * (clock.unit ?? 1)
    if (Number.isNaN(own)) return at - first
    const since = at - first
    // A clock that is begun anew, or stands at another time of day, goes on from where it was heard.
    if (Number.isNaN(clock.offset) || Math.abs(own + clock.offset - since) > JUMPS) clock.offset = since - own
    behind = since - (own + clock.offset)
    return own + clock.offset
  }
  const rising = (time: number): number => (newest = Math.max(time, newest + 1e-4))

  function readings(at: number, cells: readonly string[]): LiveReading[] {
    const values: Record<string, number> = {}
    let told = NaN
    columns!.forEach(({ channel, unit }, k) => {
      const text = cells[k] ?? ''
      if (channel === null) return
      const number = parseNumber(text, separator !== ',' && text.includes(','))
      if (channel === 'time') told = /[:hm]/i.test(text) ? parseClock(text) : number
      else values[channel] = inUnit(channel, unit, number)
    })
    if (Object.values(values).every(Number.isNaN)) {
      strange++
      return []
    }
    if (Number.isNaN(told) || clock.unit !== null || cells.some((text) => /\d:\d/.test(text))) {
      clock.unit ??= 1
      return [{ time: rising(timed(at, told)), values }]
    }
    waiting.push({ at, told, values })
    const [from, to] = [waiting[0]!, waiting.at(-1)!]
    if (waiting.length < CLOCK_LINES && to.at - from.at < 1) return []
    const rate = (to.at - from.at) / (to.told - from.told)
    clock.unit = CLOCKS.reduce((best, one) =>
      Math.abs(Math.log(one / rate)) < Math.abs(Math.log(best / rate)) ? one : best,
    )
    const held = waiting
    waiting = []
    return held.map((one) => ({ time: rising(timed(one.at, one.told)), values: one.values }))
  }

  function inUnit(channel: string, unit: string, value: number): number {
    const kind = channelKind(channel)!
    const isMixture = kind.name === 'lambda' || kind.name === 'commanded'
    if (isMixture) return isAfrUnit(unit) || value > AFR_FROM ? value / gaugeScale : value
    const [factor, offset] = conversion(kind, unit) ?? [NaN, NaN]
    const told = value * factor + offset
    return told < kind.least || told > kind.most ? NaN : told
  }

  return {
    /** @param at when it was heard, s @returns what it tells; nothing of a header, and of what is no reading */
    read(line: string, at: number): LiveReading[] {
      const text = line.replace(/^\uFEFF/, '').trim()
      if (text === '') return []
      const split = (by: string): string[] => text.split(by).map((one) => one.trim().replace(/^"(.*)"$/, '$1'))
      const found = SEPARATORS.map((one) => [one, split(one)] as const).sort((a, b) => b[1].length - a[1].length)[0]!
      const [by, cells] = found[1].length > 1 ? found : ([' ', text.split(/\s+/)] as const)
      const words = cells.filter((one) => one !== '' && !/\d/.test(one[0]!) && !/^[-+.]/.test(one)).length
      if (cells.length > 1 && words > cells.length / 2) {
        if (headerSignature(cells) !== signature) {
          separator = by
          takeHeader(cells)
        }
        return []
      }
      if (!columns) {
        strange++
        return []
      }
      return readings(at, separator === ' ' ? text.split(/\s+/) : split(separator))
    },
    /** what the header's columns are taken for; null before it came */
    columns: (): readonly LiveColumn[] | null => columns,
    signature: (): string => signature,
    /** s that the sender's clock has fallen behind since it was first heard */
    behind: (): number => behind,
    /** lines that told nothing */
    strange: (): number => strange,
  }
}
