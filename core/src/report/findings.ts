import { LOAD_UNITS } from '../table/table'
import type { Doubt } from '../checks/doubt'
import type { OddRun } from '../curves/lay/overlay'
import { oddRunWords, type ProbesKnown } from '../curves/lay/oddRunWords'
import type { Field } from '../field/field'
import { misfireWords } from '../field/faults/misfires'
import { counted, grouped, signed, plain } from '../numbers/format'

/** What runs show beside their figures: one, told alike on every page and in the report. */
export interface Finding {
  kind: 'in doubt' | 'misfire' | 'does not answer' | 'held zone' | 'odd run'
  text: string
}

/** What the field of some runs shows beside its figures. @param name of a cylinder, from 1 */
export function fieldFindings(
  field: Pick<Field, 'grid' | 'cylinders' | 'heldZones' | 'misfires'>,
  name: (cylinder: number) => string,
): Finding[] {
  const unit = LOAD_UNITS[field.grid.loadAxis]
  return [
    ...field.misfires.map((zone): Finding => ({ kind: 'misfire', text: misfireWords(zone, name) })),
    ...field.cylinders.flatMap((one) => silentFinding(field, one, field.cylinders.length > 1 ? name : null)),
    ...field.heldZones.map(({ load, fromRpm, toRpm }): Finding => ({
      kind: 'held zone',
      text: `Held by the closed loop at ${plain(load, 0)} ${unit}, ${grouped(fromRpm)} to ${grouped(toRpm)} rpm: no change there shows.`,
    })),
  ]
}

/** Cells of a cylinder that do not answer to fuel, as one finding. */
function silentFinding(
  { grid }: Pick<Field, 'grid'>,
  { cylinder, silentPct }: Field['cylinders'][number],
  name: ((cylinder: number) => string) | null,
): Finding[] {
  const cells = silentPct.flatMap((row, r) =>
    row.flatMap((pct, k) => (pct === null ? [] : [{ pct, rpm: grid.rpm[k]!, load: grid.load[r]! }])),
  )
  if (cells.length === 0) return []
  const most = cells.reduce((best, one) => (Math.abs(one.pct) > Math.abs(best.pct) ? one : best))
  const whose = name ? ` of ${name(cylinder)}` : ''
  return [
    {
      kind: 'does not answer',
      text: `${counted(cells.length, 'cell')}${whose} ${cells.length === 1 ? 'does' : 'do'} not answer to fuel: at ${grouped(most.rpm)} rpm and ${most.load} ${LOAD_UNITS[grid.loadAxis]} ${signed(most.pct)} % changed nothing. ${SILENT_CAUSES}`,
    },
  ]
}

/** What usually makes a cell not answer (common practice). */
export const SILENT_CAUSES =
  'Usual causes: a closed loop, a misfire, a leak before the probe, the pump or its filter, another table or cylinder in force. Find it before more fuel is added.'

/** What is in doubt of what came in. */
export const doubtFindings = (doubts: readonly Doubt[]): Finding[] =>
  doubts.map(({ text }) => ({ kind: 'in doubt', text }))

/** What repeats of a stop show among themselves. @param name of a run by its id */
export function oddFindings(
  odd: readonly OddRun[],
  run: (id: string) => string,
  probes: (id: string) => ProbesKnown,
): Finding[] {
  return odd.map((one): Finding => ({
    kind: one.misfire ? 'misfire' : 'odd run',
    text: `"${run(one.run)}": ${oddRunWords(one, probes(one.run))}`,
  }))
}
