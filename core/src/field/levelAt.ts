import type { CylinderField } from './field'

/** ln of lambda at a cell and the half width of its interval; null where it is not known, or a loop is known to hold it. */
export function levelAt(one: CylinderField, row: number, column: number): { level: number; half: number } | null {
  const [lambda, pct, high] = [one.lambda[row]![column], one.changePct[row]![column], one.highPct[row]![column]]
  if (one.evidence[row]![column] === 'none' || one.held[row]![column]!) return null
  if (lambda == null || pct == null || high == null) return null
  return { level: Math.log(lambda), half: Math.log((100 + high) / (100 + pct)) }
}
