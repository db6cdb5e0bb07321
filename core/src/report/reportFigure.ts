import type { Figure } from '../contract/report'

/** A call of the HTTP interface and what it answered. */
export interface Answered {
  method: 'GET' | 'POST'
  path: string
  body: object | null
  answer: unknown
}

/** What stands at a JSON pointer (RFC 6901) in an answer; undefined where nothing does. */
export function pointedAt(answer: unknown, at: string): unknown {
  if (at === '') return answer
  return at
    .slice(1)
    .split('/')
    .map((part) => part.replace(/~1/g, '/').replace(/~0/g, '~'))
    .reduce<unknown>((value, part) => (value as Record<string, unknown> | null | undefined)?.[part], answer)
}

/**
 * A figure taken out of an answer, unrounded, that says where it stands; null where there is no number.
 *
 * @param at JSON pointer to the value; `low` and `high` to the ends of its interval, where it has one
 */
export function figureFrom(
  source: Answered,
  at: string,
  unit: string,
  ends?: { low: string; high: string },
): Figure | null {
  const number = (pointer: string | undefined): number | null => {
    const value = pointer === undefined ? null : pointedAt(source.answer, pointer)
    return typeof value === 'number' && Number.isFinite(value) ? value : null
  }
  const value = number(at)
  if (value === null) return null
  const { method, path, body } = source
  return { value, unit, low: number(ends?.low), high: number(ends?.high), from: { method, path, body, at } }
}
