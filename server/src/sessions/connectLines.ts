import { type Job, type LinesChoice, type Mapping } from '@yuzumix/core'
import { rememberedMappings } from '../intake/addLog'
import { wallClock } from '../rigs/clock'
import { lineRig } from '../rigs/lineRig'
import { lineAddress } from '../rigs/lineSource'
import type { Store } from '../store/database'
import { rememberMapping } from '../store/runs'
import type { Benches } from './benches'
import { beginSession } from './beginSession'
import { benchSession } from './benchSession'
import type { BenchSession } from './session'

const USUAL_BAUD = 115_200
/** rpm that no engine of the trade goes beyond; where the job says its ceiling, that. */
const BEYOND = 20_000

/**
 * Connects a source of live lines to a job, read-only.
 *
 * @throws Refusal 'input-refused' for an address that is none
 */
export async function connectLines(
  store: Store,
  benches: Benches,
  job: Job,
  { source, baud, mapping }: LinesChoice,
): Promise<BenchSession> {
  const address = lineAddress(source, baud ?? USUAL_BAUD)
  const remembered = await rememberedMappings(store)
  const link = lineRig({
    name: `Live lines from ${source.trim()}`,
    source: source.trim(),
    address,
    // Whoever sends lives by the clock on the wall, however fast simulated rigs go.
    clock: wallClock(),
    redline: job.limits?.revCeiling ?? BEYOND,
    gaugeScale: job.gaugeScale,
    mapped(signature, headers): Mapping | undefined {
      const fits = mapping && Object.keys(mapping).every((header) => headers.includes(header))
      if (!fits) return remembered[signature]
      void rememberMapping(store, signature, mapping).catch(() => undefined)
      return mapping
    },
  })
  const session = benchSession(store, job.id, link, benches.clock)
  await session.readAim()
  return beginSession(store, benches, session)
}
