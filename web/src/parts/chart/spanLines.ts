import type { RulerSpan } from './RulerSpans.vue'

/** px that a letter takes, and that names keep apart. */
const LETTER = 6.6
const APART = 8
/** Lines of names at the most; what finds no room is left to the band itself. */
const MOST_LINES = 4

/**
 * On which line each name stands, counted upward from 0, so that none is printed over another; null where there is no room.
 *
 * @param x of an engine speed, px
 * @example
 * spanLines([{ from: 2000, text: 'hole' }, { from: 2100, text: 'flat spot' }], (rpm) => rpm / 10) // [0, 1]
 */
export function spanLines(
  spans: readonly Pick<RulerSpan, 'from' | 'text'>[],
  x: (rpm: number) => number,
): (number | null)[] {
  const ends: number[] = []
  const lines = spans.map((): number | null => null)
  const order = [...spans.keys()].sort((a, b) => x(spans[a]!.from) - x(spans[b]!.from))
  for (const k of order) {
    const { from, text } = spans[k]!
    const start = x(from)
    const free = Array.from({ length: MOST_LINES }, (_, line) => line).find(
      (line) => (ends[line] ?? -Infinity) <= start,
    )
    if (free === undefined) continue
    ends[free] = start + LETTER * text.length + APART
    lines[k] = free
  }
  return lines
}
