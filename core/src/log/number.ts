/**
 * Reads a number as loggers write it; NaN for an empty cell or text. Blanks around it are allowed, a decimal comma only
 * when the file uses one.
 */
export function parseNumber(text: string, decimalComma: boolean): number {
  if (!decimalComma) {
    const quick = plainDecimal(text)
    if (quick === quick) return quick
  }
  let plain = text.trim()
  if (plain.charCodeAt(0) === 0x2212) plain = `-${plain.slice(1)}`
  if (decimalComma) plain = plain.replace(/\./g, '').replace(',', '.')
  // Number('') is 0, Number('0x1f') is 31 and Number('Infinity') is no reading.
  if (plain === '' || !/^[+-]?[\d.]/.test(plain) || /^[+-]?0x/i.test(plain)) return NaN
  const value = Number(plain)
  return Number.isFinite(value) ? value : NaN
}

const POWERS = Float64Array.from({ length: 16 }, (_, k) => 10 ** k)

/**
 * A cell such as "-12.34", the form of nearly all of them; NaN for any other, which the slower way then judges. Up to 15
 * digits both parts are exact in double precision, so their quotient is rounded as Number would.
 */
function plainDecimal(text: string): number {
  const length = text.length
  if (length === 0 || length > 16) return NaN
  const negative = text.charCodeAt(0) === 45
  let mantissa = 0
  let point = -1
  let digits = 0
  for (let i = negative ? 1 : 0; i < length; i++) {
    const code = text.charCodeAt(i)
    if (code >= 48 && code <= 57) {
      mantissa = mantissa * 10 + code - 48
      digits++
    } else if (code === 46 && point < 0) point = i
    else return NaN
  }
  if (digits === 0 || digits > 15) return NaN
  const value = point < 0 ? mantissa : mantissa / POWERS[length - point - 1]!
  return negative ? -value : value
}

/** Seconds from "12:34:56.7" or "34:56.7", optionally behind a date; NaN when the text is no clock time. */
export function parseClock(text: string): number {
  const match = /(?:^|[ T])(?:(\d{1,3}):)?(\d{1,2}):(\d{1,2}(?:[.,]\d+)?)Z?$/.exec(text.trim())
  return match ? Number(match[1] ?? 0) * 3600 + Number(match[2]) * 60 + Number(match[3]!.replace(',', '.')) : NaN
}
