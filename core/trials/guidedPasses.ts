import { correctedOn } from '../src/change/sinceMeasured'
import { DEFAULT_MIXTURE } from '../src/contract/mixture'
import type { Field, FieldOptions } from '../src/field/field'
import { fieldOfPasses } from '../src/field/fieldOfPasses'
import { DEFAULT_TARGET } from '../src/field/target'
import { settleFieldOptions } from '../src/question/settleFieldOptions'
import type { MeasuredFlatness, Proof } from '../src/rig/flatness'
import { loopStep, proveStep, type CorrectedTable } from '../src/rig/loopStep'
import type { RunScript } from '../src/rig/runScript'
import type { RunColumns } from '../src/run/run'
import type { LiveRig } from '../src/simulator/liveRig'
import type { Rig } from '../src/simulator/rig'
import { runScript } from '../src/simulator/runScript'

/** One pass of measuring and correcting. */
export interface Pass {
  runs: RunColumns[]
  field: Field
  flatness: MeasuredFlatness
  /** what the pass before had predicted against this field; null in the first pass */
  proof: Proof | null
}

/** Sweeps at usual stops, each so many times; rate in rpm/s. */
export function usualSweeps(
  { stops, repeats, rate } = { stops: [20, 40, 60, 80, 100], repeats: 2, rate: 700 },
): RunScript[] {
  return stops.flatMap((stop) =>
    Array.from({ length: repeats }, (): RunScript => ({
      kind: 'sweep',
      stop,
      fromRpm: 2500,
      toRpm: 9000,
      rate,
      gear: 4,
    })),
  )
}

/**
 * Measures, corrects the rig's own tables and measures again, until the field is flat or the passes are used up: the guided
 * loop without anybody at the rig.
 *
 * @param most corrections
 * @param sendsTrims whether the controller tells its closed loop's trims; without them held zones are left alone
 */
export function guidedPasses(
  rig: Rig,
  live: LiveRig,
  scripts: readonly RunScript[],
  most: number,
  sendsTrims = true,
): Pass[] {
  const { base, trims } = rig.calibration
  const options = settleFieldOptions(
    {},
    {
      mixture: DEFAULT_MIXTURE,
      target: DEFAULT_TARGET,
      table: base,
      revCeiling: null,
      highestRpm: rig.engine.redline,
      hasThrottle: true,
    },
  )
  const passes: Pass[] = []
  let corrected: CorrectedTable[] = []
  const correctedByPass: FieldOptions['corrected'][] = []
  for (let pass = 0; pass <= most; pass++) {
    const runs = scripts.map((script, k) => {
      const { trimShort, ...run } = runScript(live, script, `pass ${pass + 1}, run ${k + 1}`)
      return sendsTrims ? { ...run, trimShort } : run
    })
    const before = passes.at(-1)?.field ?? null
    const { base: now, trims: trimsNow } = rig.calibration
    const moved = [
      { cylinder: null, then: base, now },
      ...trimsNow.map((table, c) => ({ cylinder: c + 1, then: trims[c]!, now: table })),
    ]
    const since = pass ? correctedOn(options.grid, moved) : []
    const asked = { ...options, corrected: since, correctedBefore: before && [], correctedByPass: [...correctedByPass] }
    const field = fieldOfPasses(
      runs,
      passes.map((one) => one.runs),
      asked,
    )
    correctedByPass.push(since)
    const tables = trims.length
      ? rig.calibration.trims.map((table, c) => ({ cylinder: c + 1, table }))
      : [{ cylinder: null, table: rig.calibration.base }]
    const { flatness, changes } = loopStep(field, tables)
    passes.push({ runs, field, flatness, proof: before && proveStep(before, corrected, field) })
    if (flatness.isFlat || pass === most) break
    corrected = tables.map(({ cylinder, table }, k) => ({
      cylinder,
      before: table.values,
      table: { ...table, values: changes[k]!.values },
    }))
    const changed = corrected.map((one) => one.table)
    if (trims.length) rig.calibration.trims = changed
    else rig.calibration.base = changed[0]!
  }
  return passes
}
