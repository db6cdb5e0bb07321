import { grouped } from '../numbers/format'
import { inputRefused } from '../refusal/refusal'

/** What one input may hold, all lists and objects in it counted. */
export interface InputLimits {
  /** entries of one list, or members of one object */
  list: number
  /** values altogether */
  values: number
}
/** What a body may hold: far more than any screen sends, and little enough to be looked at in a moment. */
export const BODY_LIMITS: InputLimits = { list: 20_000, values: 200_000 }

/**
 * Refuses an input that holds more than anybody means, before it is looked at value by value. Any depth; time by what it holds, up
 * to the limit.
 *
 * @param raw as JSON gives it
 * @throws Refusal 'input-refused' naming the list that is too long
 * @example
 * refuseTooMuch({ rpm: [1000, 2000] }, BODY_LIMITS) // undefined
 */
export function refuseTooMuch(raw: unknown, { list, values }: InputLimits): void {
  let total = 0
  const open: [value: unknown, path: string][] = [[raw, '']]
  for (let next = open.pop(); next; next = open.pop()) {
    const [value, path] = next
    if (typeof value !== 'object' || value === null) continue
    const isList = Array.isArray(value)
    const names = isList ? null : Object.keys(value)
    const length = isList ? value.length : names!.length
    const field = path.slice(0, LONGEST_PATH) || 'body'
    if (length > list)
      throw inputRefused([
        { field, message: `holds ${grouped(length)} values, and may hold ${grouped(list)} at the most` },
      ])
    total += length
    if (total > values)
      throw inputRefused([{ field: 'body', message: `holds more than ${grouped(values)} values: send it in parts` }])
    if (isList)
      for (let k = 0; k < length; k++) open.push([value[k], path.length > LONGEST_PATH ? path : `${path}[${k}]`])
    else
      for (const name of names!)
        open.push([
          (value as Record<string, unknown>)[name],
          path.length > LONGEST_PATH ? path : path ? `${path}.${name}` : name,
        ])
  }
}
/** Characters of a path that are said. */
const LONGEST_PATH = 120
