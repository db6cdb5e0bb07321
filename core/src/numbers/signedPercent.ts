/** A number to a tenth with its sign, and a true minus. @example signedPercent(-2.04) // '−2.0' */
export function signedPercent(value: number): string {
  const text = Math.abs(value).toFixed(1)
  return `${value < 0 && Number(text) !== 0 ? '−' : '+'}${text}`
}
