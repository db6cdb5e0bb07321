/**
 * Reads a number as people type it and spreadsheets write it: true minus, decimal comma or point, percent and blanks
 * allowed. "4,5" is four and a half in every field.
 *
 * @returns NaN when it is no number
 * @example
 * readNumber('−4,5 %') // -4.5
 */
export function readNumber(text: string): number {
  const plain = text
    .trim()
    .replace(/\u2212/g, '-')
    .replace(/[\s\u00a0\u202f%]/g, '')
    .replace(/^([+-]?\d*),(\d+)$/, '$1.$2')
  return /^[+-]?(\d+\.?\d*|\.\d+)(e[+-]?\d+)?$/i.test(plain) ? Number(plain) : NaN
}

/** Figures behind a comma that still are decimals; "3000,4000" is two numbers without a blank between. */
const MOST_DECIMALS = 2

/**
 * Reads several numbers as people type them: apart by blanks, semicolons, or commas with a blank behind. A comma between
 * two digits is a decimal comma, as everywhere.
 *
 * @returns the numbers in their order, or what is wrong in words
 * @example
 * readNumbers('4,5 20; 40') // [4.5, 20, 40]
 */
export function readNumbers(text: string): number[] | string {
  const parts = text.split(/\s*;\s*|,?\s+|,$/).filter((part) => part !== '')
  for (const part of parts) {
    const decimals = /,(\d+)$/.exec(part)?.[1]
    if (part.split(',').length > 2 || (decimals && decimals.length > MOST_DECIMALS))
      return `"${part.slice(0, 40)}": put a blank between numbers; a comma between digits is a decimal comma.`
    if (Number.isNaN(readNumber(part))) return `"${part.slice(0, 40)}" is not a number.`
  }
  return parts.map(readNumber)
}
