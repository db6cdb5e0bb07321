import { correctedOn, type TableSince } from '../src/change/sinceMeasured'
import { suggestChange } from '../src/change/suggest'
import { DEFAULT_MIXTURE } from '../src/contract/mixture'
import { estimateField } from '../src/field/estimate'
import { DEFAULT_TARGET } from '../src/field/target'
import { askNextRun } from '../src/job/askNextRun'
import { settleFieldOptions } from '../src/job/fieldChoice'
import { DEFAULT_PACE } from '../src/plan/choice'
import type { NextAnswer } from '../src/plan/nextRun'
import type { RunScript } from '../src/rig/script'
import type { RunColumns } from '../src/run/run'
import type { LiveRig } from '../src/simulator/liveRig'
import type { Rig } from '../src/simulator/rig'
import { runScript } from '../src/simulator/runScript'
import type { Table } from '../src/table/table'

/** What an adaptive plan came to. */
export interface Adapted {
  runs: number
  minutes: number
  corrections: number
  last: NextAnswer
}

/** What is to ride well, and how well. */
export const WANTED = { rpm: [2600, 8900], load: [10, 100], typicalPct: 1, worstPct: 3 } as const
const RATE = 600

/**
 * Asks for the next run, makes it, and corrects once it is enough; done when it is enough with no new run after a
 * correction, or when the runs are used up.
 */
export function adaptivePasses(rig: Rig, live: LiveRig, most = 40): Adapted {
  const found = rig.calibration.base
  const made: { run: RunColumns; on: Table }[] = []
  let [minutes, corrections] = [0, 0]
  for (;;) {
    const now = rig.calibration.base
    const between = (then: Table): TableSince[] => (then === now ? [] : [{ cylinder: null, then, now }])
    const context = {
      mixture: DEFAULT_MIXTURE,
      target: DEFAULT_TARGET,
      table: now,
      revCeiling: null,
      highestRpm: rig.engine.redline,
      hasThrottle: true,
      corrected: between(found),
      since: made.map(({ on }) => between(on)),
    }
    const options = settleFieldOptions({}, context)
    const runs = made.map(({ run }) => run)
    const tables = [{ cylinder: null, table: now }]
    const last = askNextRun(runs, options, { tables, wanted: WANTED, pace: DEFAULT_PACE })
    const isCorrected = corrections > 0 && made.every(({ on }) => on !== now)
    if (last.enough ? isCorrected : made.length >= most) return { runs: made.length, minutes, corrections, last }
    if (last.next) {
      const { kind, load: stop, fromRpm, toRpm } = last.next
      const script: RunScript =
        kind === 'hold'
          ? { kind, stop, rpm: fromRpm, seconds: 8, gear: 4 }
          : { kind, stop, fromRpm, toRpm, rate: RATE, gear: 4 }
      const { trimShort: _trims, ...run } = runScript(live, script, `run ${made.length + 1}`)
      made.push({ run, on: now })
      minutes += last.next.minutes
      continue
    }
    const field = estimateField(runs, { ...options, corrected: correctedOn(options.grid, between(found)) })
    rig.calibration.base = { ...now, values: suggestChange(now, field).values }
    corrections++
    if (corrections > 6) return { runs: made.length, minutes, corrections, last }
  }
}
