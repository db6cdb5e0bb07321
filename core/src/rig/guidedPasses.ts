import { suggestChange } from '../change/suggest'
import type { LiveRig, RigSample } from '../simulator/liveRig'
import type { Rig } from '../simulator/rig'
import { estimateField } from '../field/estimate'
import { DEFAULT_FIELD_OPTIONS, type Field } from '../field/field'
import { DEFAULT_TARGET, targetOn } from '../field/target'
import type { HeldZone } from '../field/heldZones'
import type { RunColumns } from '../run/run'
import type { SparseMatrix } from '../table/table'
import { measuredFlatness, provePrediction, type MeasuredFlatness, type Proof } from './flatness'
import { safetyWatch, type SafetyLimits } from './safety'
import { scriptDriver, type RunScript } from './script'

/** Longest that a script may take on the rig's clock, s. */
const LONGEST = 180
const RATE = 50

/**
 * Runs a script on a live rig as fast as it goes, recording at 50 Hz.
 *
 * @param limits what ends the run early; nothing does when left out
 */
export function runScript(live: LiveRig, script: RunScript, id: string, limits?: SafetyLimits): RunColumns {
  const driver = scriptDriver(script)
  const watch = limits && safetyWatch(limits)
  const samples: RigSample[] = []
  for (let k = 0; k < LONGEST * RATE; k++) {
    live.step(1 / RATE)
    const sample = live.sample()
    const { controls, state } = driver.next(sample)
    Object.assign(live.controls, controls)
    if (state.recording) samples.push(sample)
    if (state.phase === 'done' || watch?.see(sample)) break
  }
  Object.assign(live.controls, { throttle: 0, brake: { kind: 'off' }, gear: 0 })
  const column = (of: (sample: RigSample) => number): Float32Array => Float32Array.from(samples, of)
  return {
    id,
    time: column((one) => one.time - samples[0]!.time),
    rpm: column((one) => one.rpm),
    throttle: column((one) => one.throttle),
    torque: column((one) => one.torque),
    coolant: column((one) => one.coolant),
    trimShort: column((one) => one.trimShort),
    spark: column((one) => one.spark),
    knock: column((one) => one.knock),
    lambda: (samples[0]?.lambda ?? []).map((_, c) => column((one) => one.lambda[c]!)),
  }
}

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
  const options = {
    ...DEFAULT_FIELD_OPTIONS,
    grid: { loadAxis: base.loadAxis, rpm: base.rpm, load: base.load },
    target: targetOn(base, 'throttle', DEFAULT_TARGET),
  }
  const passes: Pass[] = []
  let knownZones: readonly HeldZone[] = []
  let predicted: Map<number, SparseMatrix> | null = null
  for (let pass = 0; pass <= most; pass++) {
    const runs = scripts.map((script, k) => {
      const { trimShort, ...run } = runScript(live, script, `pass ${pass + 1}, run ${k + 1}`)
      return sendsTrims ? { ...run, trimShort } : run
    })
    const field = estimateField(runs, { ...options, knownZones })
    // A loop that was seen once stays in the controller, though another pass may not show it.
    knownZones = field.heldZones
    const flatness = measuredFlatness(field)
    passes.push({ runs, field, flatness, proof: predicted && provePrediction(predicted, field) })
    if (flatness.isFlat || pass === most) break
    const tables = trims.length ? rig.calibration.trims : [rig.calibration.base]
    const changes = tables.map((table, c) => suggestChange(table, field, undefined, trims.length ? c + 1 : null))
    const changed = tables.map((table, c) => ({ ...table, values: changes[c]!.values }))
    if (trims.length) rig.calibration.trims = changed
    else rig.calibration.base = changed[0]!
    predicted = new Map(
      field.cylinders.map(({ cylinder }) => [cylinder, changes[trims.length ? cylinder - 1 : 0]!.predicted]),
    )
  }
  return passes
}
