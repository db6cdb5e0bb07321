import { plain } from '../numbers/format'
import type { InForce } from '../table/inForce'

const RULED: Readonly<Record<InForce['by'], [what: string, unit: string]>> = {
  throttle: ['throttle', '%'],
  manifold: ['manifold pressure', 'kPa'],
  rpm: ['engine speed', 'rpm'],
}

/**
 * Where a map is in force, in words.
 *
 * @example
 * inForceWords({ by: 'throttle', from: null, to: 25 }) // 'throttle up to 25 %'
 */
export function inForceWords({ by, from, to }: InForce): string {
  const [what, unit] = RULED[by]
  const at = (value: number): string => plain(value, 0)
  if (from !== null && to !== null) return `${what} from ${at(from)} to ${at(to)} ${unit}`
  return from !== null ? `${what} from ${at(from)} ${unit} up` : `${what} up to ${at(to!)} ${unit}`
}
