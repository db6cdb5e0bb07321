/**
 * Seconds of a clock time: "12:34:56.7", "34:56.7", "1:02:03 PM", "12:34:56:789", "1h02m03s", behind a date or before a zone; NaN
 * when the text is none.
 *
 * @example
 * parseClock('30.11.2026 1:02:03,5 PM') // 46923.5
 */
export function parseClock(text: string): number {
  const plain = text.trim()
  const spoken = /^(?:(\d+)h)?(?:(\d+)m(?:in)?)?(\d+(?:[.,]\d+)?)s$/i.exec(plain)
  if (spoken && (spoken[1] || spoken[2]))
    return 3600 * Number(spoken[1] ?? 0) + 60 * Number(spoken[2] ?? 0) + decimal(spoken[3]!)
  const match =
    /(?:^|[ T])(?:(\d{1,3}):)?(\d{1,2}):(\d{1,2}(?:[.,]\d+)?)(?::(\d{3}))?\s*([ap]\.?m\.?)?\s*(?:Z|[+-]\d{2}:?\d{2}|uhr|h)?$/i.exec(
      plain,
    )
  if (!match) return NaN
  const [, hours, minutes, seconds, thousandths, half] = match
  const hour = Number(hours ?? 0)
  // Twelve at noon is PM, at midnight AM.
  const ofDay = half ? (hour % 12) + (/^p/i.test(half) ? 12 : 0) : hour
  return 3600 * ofDay + 60 * Number(minutes) + decimal(seconds!) + Number(thousandths ?? 0) / 1000
}

const decimal = (text: string): number => Number(text.replace(',', '.'))

/** s of a day, and how far a clock must fall back for a day to have ended. */
export const DAY = 86_400
export const MIDNIGHT = DAY / 2

/** Share of rows with the time of the row before, from which a clock shows whole seconds alone. */
const LEAST_ALIKE = 0.3

/**
 * Spreads times that a clock gives in whole seconds evenly over each second, in place. Those that are finer stay as they are.
 *
 * @returns whether it did
 */
export function spreadSeconds(time: Float32Array): boolean {
  let alike = 0
  for (let i = 1; i < time.length; i++) {
    const step = time[i]! - time[i - 1]!
    if (step === 0) alike++
    else if (step > 0 && Math.abs(step - Math.round(step)) > 1e-3) return false
  }
  if (time.length < 10 || alike < LEAST_ALIKE * time.length) return false
  const sizes: number[] = []
  for (let from = 0; from < time.length;) {
    let to = from + 1
    while (to < time.length && time[to] === time[from]) to++
    sizes.push(to - from)
    from = to
  }
  const usual = [...sizes].sort((a, b) => a - b)[sizes.length >> 1]!
  let at = 0
  sizes.forEach((size, k) => {
    // The first second may have begun before the log, the last may end after it.
    const offset = k === 0 ? Math.max(0, usual - size) : 0
    const share = 1 / Math.max(size, k === 0 || k === sizes.length - 1 ? usual : size)
    for (let i = 0; i < size; i++) time[at + i] = time[at + i]! + (offset + i) * share
    at += size
  })
  return true
}
