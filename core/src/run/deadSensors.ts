import type { Columns } from './alignChannels'

/** A sensor that reads one value throughout, beyond what an engine burns, is not connected, or stands in free air. */
const DEAD = { below: 0.68, above: 1.25, share: 0.98, least: 50 }

/** Whether a sensor of mixture tells nothing: it reads one value throughout, or none. */
function isDead(lambda: Float32Array): boolean {
  if (lambda.length < DEAD.least) return false
  const counts = new Map<number, number>()
  let [known, most] = [0, 0]
  for (const value of lambda) {
    if (value !== value) continue
    known++
    if (value >= DEAD.below && value <= DEAD.above) continue
    const count = (counts.get(value) ?? 0) + 1
    counts.set(value, count)
    if (count > most) most = count
  }
  return known === 0 || most >= DEAD.share * known
}

/** Beside a sensor that tells, one that is dead is blank: it must not set aside what the other reads. */
export function withoutDead<C extends Columns>(columns: C): C {
  const lambdas = Object.entries(columns).filter(([channel]) => channel.startsWith('lambda'))
  const dead = lambdas.filter(([, values]) => values && isDead(values))
  if (dead.length === 0 || dead.length === lambdas.length) return columns
  const blanks = dead.map(([channel, values]) => [channel, new Float32Array(values!.length).fill(NaN)])
  return { ...columns, ...Object.fromEntries(blanks) }
}
