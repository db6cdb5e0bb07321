/** A number whose thousands are set apart by commas, as spreadsheets export it: 2,000 or 12,345.6, but not 0,950. */
export const THOUSANDS_APART = /^[+-]?[1-9]\d{0,2}(,\d{3})+(\.\d+)?$/

/**
 * Reads a number as loggers write it; NaN for an empty cell or text. Blanks around it are allowed, a decimal comma only
 * when the file uses one, and else commas between thousands.
 */
export function parseNumber(text: string, decimalComma: boolean): number {
  let plain = text.trim()
  if (plain.charCodeAt(0) === 0x2212) plain = `-${plain.slice(1)}`
  if (decimalComma) plain = plain.replace(/\./g, '').replace(',', '.')
  else if (plain.includes(',') && THOUSANDS_APART.test(plain)) plain = plain.replace(/,/g, '')
  // Number('') is 0, Number('0x1f') is 31 and Number('Infinity') is no reading.
  if (plain === '' || !/^[+-]?[\d.]/.test(plain) || /^[+-]?0x/i.test(plain)) return NaN
  const value = Number(plain)
  return Number.isFinite(value) ? value : NaN
}
