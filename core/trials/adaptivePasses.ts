import { correctedOn, type TableSince } from '../src/change/sinceMeasured'
import { suggestChange } from '../src/change/suggest'
import { DEFAULT_MIXTURE } from '../src/contract/mixture'
import type { Corrected, Field } from '../src/field/field'
import { fieldOfPasses } from '../src/field/fieldOfPasses'
import { DEFAULT_TARGET } from '../src/field/target'
import { askNextRun } from '../src/question/askNextRun'
import { settleFieldOptions } from '../src/question/settleFieldOptions'
import { DEFAULT_PACE } from '../src/plan/choice'
import type { NextRun } from '../src/plan/candidates'
import type { NextOfJob } from '../src/question/askNextRun'
import type { Wanted } from '../src/plan/wanted'
import type { RunScript } from '../src/rig/runScript'
import type { RunColumns } from '../src/run/run'
import type { LiveRig } from '../src/simulator/liveRig'
import type { Rig } from '../src/simulator/rig'
import { runScript } from '../src/simulator/runScript'
import { interpolate } from '../src/table/lookup'
import { build, type Table } from '../src/table/table'
import { knownRuns, type KnownCase } from './knownTruthLog'

/** What an adaptive plan came to. */
export interface Adapted {
  runs: number
  minutes: number
  corrections: number
  last: NextOfJob
}

/** What is to ride well, and how well. */
export const WANTED = { rpm: [2600, 8900], load: [10, 100], typicalPct: 1, worstPct: 3 } as const
const RATE = 600

/** A machine that can be run as asked for, and corrected. */
export interface Measurable {
  table: Table
  highestRpm: number
  run(next: NextRun, number: number): RunColumns
}

/** The simulated one. */
export function measurableRig(rig: Rig, live: LiveRig): Measurable {
  return {
    get table() {
      return rig.calibration.base
    },
    set table(table) {
      rig.calibration.base = table
    },
    highestRpm: rig.engine.redline,
    run({ kind, load: stop, fromRpm, toRpm }, number) {
      const script: RunScript =
        kind === 'hold'
          ? { kind, stop, rpm: fromRpm, seconds: 8, gear: 4 }
          : { kind, stop, fromRpm, toRpm, rate: RATE, gear: 4 }
      const { trimShort: _trims, ...run } = runScript(live, script, `run ${number}`)
      return run
    },
  }
}

/** One of a known truth, made without the simulated engine; its table is corrected from 10 everywhere. */
export function measurableCase(c: KnownCase): Measurable & { left: KnownCase['truth'] } {
  const machine = {
    table: {
      kind: 'fuel base',
      composition: 'multiply',
      ...c.grid,
      values: build(c.grid, () => 10),
    } as Table,
    highestRpm: c.grid.rpm.at(-1)!,
    left: (rpm: number, load: number): number =>
      c.truth(rpm, load) - Math.log(interpolate(c.grid, machine.table.values, rpm, load) / 10),
    run({ kind, load, fromRpm: from, toRpm: to }: NextRun, number: number): RunColumns {
      const seconds = kind === 'hold' ? 8 : Math.abs(to - from) / RATE
      const sweep = { from, to, seconds, downEvery: 0 }
      const asked = { ...c, seed: c.seed + 7 * number, truth: machine.left, stops: [load], repeats: 1, sweep }
      return { ...knownRuns(asked)[0]!, id: `run ${number}` }
    },
  }
  return machine
}

/**
 * Asks for the next run, makes it, and corrects once no run is asked for; done when it is enough with no new run after a
 * correction, or when the runs are used up.
 */
export function adaptivePasses(machine: Measurable, most = 60, wanted: Wanted = WANTED): Adapted {
  const found = machine.table
  const made: { run: RunColumns; on: Table }[] = []
  let [minutes, corrections] = [0, 0]
  let before: Field | null = null
  const earlier: { runs: RunColumns[]; corrected: Corrected[] }[] = []
  for (;;) {
    const now = machine.table
    const between = (then: Table): TableSince[] => (then === now ? [] : [{ cylinder: null, then, now }])
    const context = {
      mixture: DEFAULT_MIXTURE,
      target: DEFAULT_TARGET,
      table: now,
      revCeiling: null,
      highestRpm: machine.highestRpm,
      hasThrottle: true,
      corrected: between(found),
      since: made.map(({ on }) => between(on)),
    }
    const options = settleFieldOptions({}, context)
    const runs = made.map(({ run }) => run)
    const tables = [{ cylinder: null, table: now }]
    const last = askNextRun(runs, options, { tables, wanted, pace: DEFAULT_PACE })
    const present = made.filter(({ on }) => on === now).map(({ run }) => run)
    const isCorrected = corrections > 0 && present.length === 0
    if (last.enough ? isCorrected : made.length >= most) return { runs: made.length, minutes, corrections, last }
    if (last.next) {
      made.push({ run: machine.run(last.next, made.length + 1), on: now })
      minutes += last.next.minutes
      continue
    }
    // The runs on the table as it is make the change.
    const corrected = correctedOn(options.grid, between(found))
    const correctedByPass = earlier.map((one) => one.corrected)
    const asked = { ...options, since: [], corrected, correctedBefore: before && [], correctedByPass }
    before = fieldOfPasses(
      present,
      earlier.map((one) => one.runs),
      asked,
    )
    earlier.push({ runs: present, corrected })
    machine.table = { ...now, values: suggestChange(now, before).values }
    corrections++
    if (corrections > 6) return { runs: made.length, minutes, corrections, last }
  }
}
