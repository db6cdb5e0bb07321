import { plain } from '@yuzumix/core'

export { counted, grouped, plain, signed } from '@yuzumix/core'

/** Seconds as people say them: 9.8 s, 2 min 05 s. */
export function duration(seconds: number): string {
  if (seconds < 60) return `${plain(seconds, 1)} s`
  return `${Math.floor(seconds / 60)} min ${String(Math.round(seconds % 60)).padStart(2, '0')} s`
}

/** A cell's value for the one cell that is explained, with more figures than the table shows. */
export function fullText(value: number): string {
  return plain(value, Math.abs(value) >= 999.5 ? 1 : 2)
}
