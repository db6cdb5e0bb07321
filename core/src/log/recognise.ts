import { CHANNEL_KINDS, conversion, isAfrUnit, plainUnit, type ChannelKind } from '../run/channels'

/** What a column of a log is taken for. */
export interface ColumnMapping {
  channel: string
  unit: string
}
/** By header, as written in the file; null leaves a column out. */
export type Mapping = Record<string, ColumnMapping | null>

const BANK_WORDS: Record<string, string> = { front: '1', rear: '2', left: '1', right: '2' }

/** A tachometer's face: "RPM x1000", "rpm / 1000". */
const THOUSANDS = /^(.*\b(?:rpm|revs|drehzahl))\s*[x×*/]\s*1[ .,']?000$/i

/** Splits "Engine speed [rpm]" into its text and its unit. */
function splitHeader(header: string): { text: string; unit: string } {
  const thousands = THOUSANDS.exec(header.trim())
  if (thousands) return { text: thousands[1]!, unit: 'krpm' }
  const match = /^(.*?)\s*[([{]\s*([^()[\]{}]*)\s*[)\]}]\s*$/.exec(header.trim())
  return match ? { text: match[1]!, unit: match[2]! } : { text: header.trim(), unit: '' }
}

/** Header text as the patterns expect it: lower case, one blank between words, camel case and digits apart. */
export function plainHeader(text: string): string {
  return text
    .replace(/([a-zäöü])([A-Z])/g, '$1 $2')
    .toLowerCase()
    .replace(/[_.\-:#]+/g, ' ')
    .replace(/([a-zλ])(\d)/g, '$1 $2')
    .replace(/\bo 2\b/g, 'o2')
    .replace(/\bdeg ([cfk])\b/g, 'deg$1')
    .replace(/\s+/g, ' ')
    .trim()
}

/** A unit that stands at the end of a header as its own word, such as "coolant degC" or "throttle_pct". */
function trailingUnit(kind: ChannelKind, plain: string): { text: string; unit: string } | null {
  const cut = plain.lastIndexOf(' ')
  if (cut < 0) return null
  const unit = plain.slice(cut + 1)
  return kind.units[plainUnit(unit)] || plainUnit(unit) === plainUnit(kind.unit)
    ? { text: plain.slice(0, cut), unit }
    : null
}

/** The channel and unit that one header (and the unit under it, if any) stands for, or null. */
export function recogniseHeader(header: string, unitBelow = ''): ColumnMapping | null {
  const { text, unit } = splitHeader(header)
  const stated = unit || unitBelow.trim()
  const plain = plainHeader(text)
  for (const kind of CHANNEL_KINDS) {
    let foundUnit = stated
    let matched = kind.headers.exec(plain)
    if (!matched && !stated) {
      const trailing = trailingUnit(kind, plain)
      if (trailing) {
        matched = kind.headers.exec(trailing.text)
        foundUnit = trailing.unit
      }
    }
    if (!matched) continue
    if (kind.name === 'narrowband' && stated && !kind.units[plainUnit(stated)]) continue
    if (kind.name === 'lambda' && /^m?v$/.test(plainUnit(stated)))
      return { channel: `narrowband${cylinderOf(plain)}`, unit: stated }
    if (
      (kind.name === 'lambda' || kind.name === 'commanded') &&
      !isAfrUnit(foundUnit) &&
      /\b(afr|a\/f|air[ /-]?fuel)\b/.test(plain)
    )
      foundUnit = 'AFR'
    if (conversion(kind, foundUnit) === undefined) {
      // Volts or degrees of a plate are no percents, and guessed torque would go into every figure; what is no unit at all says nothing.
      if (isPower(kind.name) || isUnit(foundUnit)) return null
      foundUnit = ''
    }
    return { channel: kind.numbered ? `${kind.name}${cylinderOf(plain)}` : kind.name, unit: foundUnit || kind.unit }
  }
  return null
}

function isPower(channel: string): boolean {
  return channel === 'torque' || channel === 'power'
}

/** What stands for numbers straight from a sensor, in no unit. */
const BARE = ['adc', 'raw', 'bits', 'counts', 'steps']
/** Single characters that are units; letters such as F and C may name a cylinder. */
const SHORT_UNITS = ['v', '%', '°']

/** Whether a text is a unit of anything that a log tells. */
function isUnit(text: string): boolean {
  const plain = plainUnit(text)
  if (plain.length < 2) return SHORT_UNITS.includes(plain)
  return BARE.includes(plain) || CHANNEL_KINDS.some((kind) => plain in kind.units)
}

/** What to say of a column whose header is known but not its unit, so that it is left out; null for every other column. */
export function unknownUnit(header: string, unitBelow = ''): string | null {
  const { text, unit } = splitHeader(header)
  const stated = unit || unitBelow.trim()
  const kind = CHANNEL_KINDS.find((one) => one.headers.test(plainHeader(text)))
  if (!kind || !stated || conversion(kind, stated) !== undefined || recogniseHeader(header, unitBelow)) return null
  const known = [...new Set([kind.unit, ...Object.keys(kind.units)])].filter((one) => one !== '')
  return `Column "${header}" looks like ${kind.title.toLowerCase()} in "${stated}", a unit that is not known here, so it is left out. Known are ${known.slice(0, 4).join(', ')}; map the column to one of them if it is that.`
}

function cylinderOf(plain: string): string {
  const word = /\b(front|rear|left|right)\b/.exec(plain)
  return word ? BANK_WORDS[word[1]!]! : (/([1-4])$/.exec(plain)?.[1] ?? '1')
}

/**
 * Recognises all columns of a log. Of two columns that mean the same channel the first is taken; further lambda columns
 * without a number become the next cylinder.
 *
 * @param headers as written; @param units the row under the header, when there is one
 * @returns a mapping with null for what was not recognised
 */
export function recogniseColumns(headers: readonly string[], units: readonly string[] = []): Mapping {
  const mapping: Mapping = {}
  const taken = new Set<string>()
  headers.forEach((header, index) => {
    const found = recogniseHeader(header, units[index])
    mapping[header] ??= null
    if (!found || mapping[header]) return
    let channel = found.channel
    const numbered = /^(lambda|narrowband)(\d)$/.exec(channel)
    if (numbered) {
      let n = Number(numbered[2])
      while (taken.has(`${numbered[1]}${n}`) && n < 4) n++
      channel = `${numbered[1]}${n}`
    }
    if (taken.has(channel)) return
    taken.add(channel)
    mapping[header] = { channel, unit: found.unit }
  })
  return mapping
}

/** Key under which a mapping is remembered: the file's headers, in order. */
export function headerSignature(headers: readonly string[]): string {
  return JSON.stringify(headers.map((header) => header.trim()))
}
