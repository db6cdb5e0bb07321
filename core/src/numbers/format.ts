const MINUS = '\u2212'
/** Between thousands: narrow, and no line breaks there. */
const THIN = '\u202f'

/** What stands for a number that is none. */
const NONE = '·'

/**
 * A number with a true minus; a dot where it is none.
 *
 * @example
 * plain(-2, 1) // '−2.0'
 */
export function plain(value: number, digits: number): string {
  if (!Number.isFinite(value)) return NONE
  const text = value.toFixed(digits)
  // What rounds to nothing has no sign.
  return Number(text) === 0 ? text.replace('-', '') : text.replace('-', MINUS)
}

/**
 * A number with its sign, also when it rounds to nothing.
 *
 * @example
 * signed(0.04) // '±0.0'
 */
export function signed(value: number, digits = 1): string {
  if (!Number.isFinite(value)) return NONE
  const text = Math.abs(value).toFixed(digits)
  if (Number(text) === 0) return `±${text}`
  return (value < 0 ? MINUS : '+') + text
}

/**
 * A whole number with thin spaces between thousands.
 *
 * @example
 * grouped(12500) // '12\u202f500'
 */
export function grouped(value: number): string {
  if (!Number.isFinite(value)) return NONE
  return Math.round(value)
    .toString()
    .replace('-', MINUS)
    .replace(/\B(?=(\d{3})+(?!\d))/g, THIN)
}

/**
 * So many of something, in words that agree.
 *
 * @example
 * counted(1, 'run') // '1 run'
 */
export function counted(count: number, one: string, many = `${one}s`): string {
  return `${grouped(count)} ${Math.round(count) === 1 ? one : many}`
}
