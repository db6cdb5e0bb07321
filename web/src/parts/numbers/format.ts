const MINUS = '\u2212'

/** A number with a true minus. */
export function plain(value: number, digits: number): string {
  const text = value.toFixed(digits)
  // What rounds to nothing has no sign.
  return Number(text) === 0 ? text.replace('-', '') : text.replace('-', MINUS)
}

/** A number with its sign, also when it rounds to nothing: +0.0 is ±0.0. */
export function signed(value: number, digits = 1): string {
  const text = Math.abs(value).toFixed(digits)
  if (Number(text) === 0) return `±${text}`
  return (value < 0 ? MINUS : '+') + text
}

/** A count with narrow groups that do not break: 12 500. */
export function grouped(value: number): string {
  return Math.round(value)
    .toString()
    .replace(/\B(?=(\d{3})+(?!\d))/g, '\u202f')
}

/** So many of something, in words that agree: 1 run, 2 runs, 12 500 cells. */
export function counted(count: number, one: string, many = `${one}s`): string {
  return `${grouped(count)} ${Math.round(count) === 1 ? one : many}`
}

/** Seconds as people say them: 9.8 s, 2 min 05 s. */
export function duration(seconds: number): string {
  if (seconds < 60) return `${seconds.toFixed(1)} s`
  return `${Math.floor(seconds / 60)} min ${String(Math.round(seconds % 60)).padStart(2, '0')} s`
}

/** A cell's value for the one cell that is explained, with more figures than the table shows. */
export function fullText(value: number): string {
  return plain(value, Math.abs(value) >= 999.5 ? 1 : 2)
}
