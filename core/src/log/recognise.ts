import {
  CHANNEL_KINDS,
  channelKind,
  MOST_OTHERS,
  conversion,
  isAfrUnit,
  plainUnit,
  type ChannelKind,
} from '../run/channels'
import { meaningsOf, type Meaning } from './headerRules'
import { wordsOf } from './headerWords'
import { guessColumns } from './guessColumns'

/** What a column of a log is taken for. */
export interface ColumnMapping {
  channel: string
  unit: string
  /** its values told it, as its name says nothing */
  guessed?: boolean | undefined
}
/** By header, as written in the file; null leaves a column out. */
export type Mapping = Record<string, ColumnMapping | null>

/** A tachometer's face: "RPM x1000", "rpm / 1000". */
const THOUSANDS = /^(.*\b(?:rpm|revs|drehzahl))\s*[x×*/]\s*1[ .,']?000$/i

/** Splits "Engine speed [rpm]" into its text and its unit. */
function splitHeader(header: string): { text: string; unit: string } {
  const thousands = THOUSANDS.exec(header.trim())
  if (thousands) return { text: thousands[1]!, unit: 'krpm' }
  const match = /^(.*?)\s*[([{]\s*([^()[\]{}]*)\s*[)\]}]\s*$/.exec(header.trim())
  return match ? { text: match[1]!, unit: match[2]! } : { text: header.trim(), unit: '' }
}

/** Header text as its words are looked up: lower case, one blank between words, camel case and digits apart. */
export function plainHeader(text: string): string {
  return text
    .replace(/(\p{Ll})(\p{Lu})/gu, '$1 $2')
    .replace(/(\p{Lu})(\p{Lu}\p{Ll})/gu, '$1 $2')
    .toLowerCase()
    .replace(/[_.\-:#]+/g, ' ')
    .replace(/h2o/g, 'water')
    .replace(/(^|[^a-z])(wb|nb)?o2/g, '$1$2 o2 ')
    .replace(/([\p{L}])(\d)/gu, '$1 $2')
    .replace(/\bo 2\b/g, 'o2')
    .replace(/\bdeg ([cfk])\b/g, 'deg$1')
    .replace(/\b(k pa|h pa|m pa|m bar|k w|n m)\b/g, (unit) => unit.replace(' ', ''))
    .replace(/\s+/g, ' ')
    .trim()
}

/** What a text may mean, with a unit that stands at its end as its own word, such as "coolant degC" or "throttle_pct". */
function meaningsWithUnit(plain: string): (Meaning & { trailing: string })[] {
  const cut = plain.lastIndexOf(' ')
  const trailing = plain.slice(cut + 1)
  const before = cut < 0 ? [] : meaningsOf(wordsOf(plain.slice(0, cut)))
  const named = before.filter(({ channel }) => hasUnit(channelKind(channel)!, trailing))
  return [
    ...named.map((one) => ({ ...one, trailing })),
    ...meaningsOf(wordsOf(plain)).map((one) => ({ ...one, trailing: '' })),
  ]
}

const hasUnit = (kind: ChannelKind, unit: string): boolean =>
  Object.hasOwn(kind.units, plainUnit(unit)) || (kind.unit !== '' && plainUnit(unit) === plainUnit(kind.unit))

/** The channel and unit that one header (and the unit under it, if any) stands for, or null. */
export function recogniseHeader(header: string, unitBelow = ''): ColumnMapping | null {
  const { text, unit } = splitHeader(header)
  const stated = unit || unitBelow.trim()
  const plain = plainHeader(text)
  for (const { channel, byUnit, trailing } of meaningsWithUnit(plain)) {
    const kind = channelKind(channel)!
    let foundUnit = stated || trailing
    if (byUnit && (!hasUnit(kind, foundUnit) || plainUnit(foundUnit) === '')) continue
    if (kind.name === 'narrowband' && stated && !hasUnit(kind, stated)) continue
    if (kind.name === 'lambda' && /^m?v$/.test(plainUnit(stated)))
      return { channel: `narrowband${channel.slice(-1)}`, unit: stated }
    const isMixture = kind.name === 'lambda' || kind.name === 'commanded'
    if (isMixture && !isAfrUnit(foundUnit) && /\b(afr|a ?\/ ?f|air ?[ /-]?fuel)/.test(plain)) foundUnit = 'AFR'
    if (conversion(kind, foundUnit) === undefined) {
      // Volts or degrees of a plate are no percents, and guessed torque would go into every figure; what is no unit at all says nothing.
      if (isPower(kind.name) || isUnit(foundUnit)) continue
      foundUnit = ''
    }
    // The unit of a time that says none is told by the whole column.
    return { channel, unit: foundUnit || (channel === 'time' ? '' : kind.unit) }
  }
  // What stands in brackets may belong to the name: "Speed (GPS)".
  return unit && !isUnit(unit) ? recogniseHeader(`${text} ${unit}`, unitBelow) : null
}

function isPower(channel: string): boolean {
  return channel === 'torque' || channel === 'power'
}

/** What stands for numbers straight from a sensor, in no unit. */
const BARE = ['adc', 'raw', 'bits', 'counts', 'steps']
/** Pressures over the air's, which are none without it. */
const GAUGE = ['barg', 'psig', 'kpag', 'mbarg']
/** Single characters that are units; letters such as F and C may name a cylinder. */
const SHORT_UNITS = ['v', '%', '°']

/** Whether a text is a unit of anything that a log tells. */
function isUnit(text: string): boolean {
  const plain = plainUnit(text)
  if (plain.length < 2) return SHORT_UNITS.includes(plain)
  return BARE.includes(plain) || GAUGE.includes(plain) || CHANNEL_KINDS.some((kind) => plain in kind.units)
}

/** What to say of a column whose header is known but not its unit, so that nothing is worked out from it; null for every other column. */
export function unknownUnit(header: string, unitBelow = ''): string | null {
  const { text, unit } = splitHeader(header)
  const stated = unit || unitBelow.trim()
  const [meaning] = meaningsOf(wordsOf(plainHeader(text))).filter((one) => !one.byUnit)
  const kind = meaning && channelKind(meaning.channel)
  if (!kind || !stated || conversion(kind, stated) !== undefined || recogniseHeader(header, unitBelow)) return null
  const known = [...new Set([kind.unit, ...Object.keys(kind.units)])].filter((one) => one !== '')
  return `Column "${header}" looks like ${kind.title.toLowerCase()} in "${stated}", a unit that is not known here: it is kept under its own name, and nothing is worked out from it. Known are ${known.slice(0, 4).join(', ')}; map the column to one of them if it is that.`
}

/**
 * Recognises all columns of a log. Of two columns that mean the same channel the first is taken; further lambda columns
 * without a number become the next cylinder. What the names do not tell is guessed by the values, and marked; every other
 * column is kept under its own name.
 *
 * @param headers as written; @param units the row under the header, when there is one
 * @param rows the first rows, as numbers; NaN where a cell holds none
 * @returns a mapping with null for what is left out
 */
export function recogniseColumns(
  headers: readonly string[],
  units: readonly string[] = [],
  rows: readonly (readonly number[])[] = [],
): Mapping {
  // A column may be called "constructor".
  const mapping = Object.create(null) as Mapping
  const taken = new Set<string>()
  headers.forEach((header, index) => {
    const found = recogniseHeader(header, units[index])
    mapping[header] ??= null
    if (!found || mapping[header]) return
    let { channel } = found
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
  const saysNothing = (header: string): boolean => {
    const { words } = wordsOf(plainHeader(splitHeader(header).text))
    return mapping[header] === null && words.length === 0
  }
  const columns = headers.map((header, k) => (saysNothing(header) ? rows.map((row) => row[k] ?? NaN) : null))
  for (const [k, guess] of guessColumns(columns, taken)) mapping[headers[k]!] = { ...guess, guessed: true }
  return withOthers(headers, mapping, units)
}

/**
 * A mapping in which every column that it does not name, or knows nothing of, is kept as `other1`, `other2` ...
 *
 * @param open whether a column that stands at null is kept, too: it was not understood; else somebody left it out
 */
export function withOthers(
  headers: readonly string[],
  mapping: Mapping,
  units: readonly string[] = [],
  open = true,
): Mapping {
  const taken = new Set(Object.values(mapping).map((one) => one?.channel))
  let n = 1
  const entries = headers.map((header, k): [string, ColumnMapping | null] => {
    const known = Object.hasOwn(mapping, header) ? mapping[header] : undefined
    if (known || (known === null && !open)) return [header, known]
    while (taken.has(`other${n}`)) n++
    if (n > MOST_OTHERS) return [header, null]
    return [header, { channel: `other${n++}`, unit: (splitHeader(header).unit || units[k] || '').slice(0, 40) }]
  })
  return Object.fromEntries(entries)
}

/** Key under which a mapping is remembered: the file's headers, in order. */
export function headerSignature(headers: readonly string[]): string {
  return JSON.stringify(headers.map((header) => header.trim()))
}
