import type { BenchWish } from '../contract/bench'
import { grouped, signed, plain } from '../numbers/format'
import type { RigControls } from '../rig/controls'
import type { RunScript, SteppedKind } from '../rig/runScript'
import { UNDER_LOAD } from '../field/target'
import type { DangerKind } from '../refusal/dangers'
import type { Danger } from './danger'

/** °C below which an engine is not opened wide: oil and pistons want their clearance first (common practice). */
const WARM_C = 60

/** Furthest offsets taken unasked, under load and below it; degrees and % of fuel (common practice). */
const OFFSETS = {
  load: { advance: 6, lean: 5 },
  below: { advance: 10, lean: 12 },
  retard: 15,
  rich: 25,
}

/** Furthest settings of a stepped run, of its first, and of one step toward danger (common practice: feel the way). */
const STEPS: Record<SteppedKind, { furthest: number; first: number; step: number; sign: 1 | -1; unit: string }> = {
  'spark step': { furthest: 10, first: 4, step: 6, sign: 1, unit: '°' },
  'mixture step': { furthest: 12, first: 5, step: 16, sign: -1, unit: ' % of fuel' },
}

const said = (value: number): string => signed(value, Number.isInteger(value) ? 0 : 1)

function offsetTexts({ throttle, sparkOffset, fuelOffset }: RigControls): { field: string; text: string }[] {
  const isLoaded = throttle >= UNDER_LOAD
  const most = isLoaded ? OFFSETS.load : OFFSETS.below
  const where = isLoaded ? `from ${UNDER_LOAD} % of plate` : 'here'
  const found: { field: string; text: string }[] = []
  if (sparkOffset > most.advance || sparkOffset < -OFFSETS.retard)
    found.push({
      field: 'controls.sparkOffset',
      text: `${said(sparkOffset)}° of advance at ${plain(throttle, 0)} %: at most +${most.advance}° unasked ${where}, and no less than −${OFFSETS.retard}°. More can knock before anybody hears it, less runs the exhaust hot.`,
    })
  if (fuelOffset < -most.lean || fuelOffset > OFFSETS.rich)
    found.push({
      field: 'controls.fuelOffset',
      text: `${said(fuelOffset)} % of fuel at ${plain(throttle, 0)} %: at most −${most.lean} % unasked ${where}, and +${OFFSETS.rich} %. Lean under load destroys pistons.`,
    })
  return found
}

const coldText = (coolant: number): string =>
  `The coolant has ${plain(coolant, 0)} °C. Warm the engine to ${WARM_C} °C before it is opened beyond ${UNDER_LOAD} %.`

const isColdAndOpen = ({ throttle, ignition, fuel }: RigControls, coolant: number): boolean =>
  throttle >= UNDER_LOAD && ignition && fuel && coolant < WARM_C

/**
 * What of new controls can hurt that those before could not: offsets, and a cold engine opened wide.
 *
 * @param coolant °C
 */
export function controlDangers(before: RigControls, after: RigControls, coolant: number): Danger[] {
  const known = offsetTexts(before).map((one) => one.field)
  const isSame = (field: string): boolean => {
    const name = field.slice('controls.'.length) as 'sparkOffset'
    return known.includes(field) && Math.abs(after[name]) <= Math.abs(before[name])
  }
  const offsets = offsetTexts(after)
    .filter(({ field }) => !isSame(field))
    .map((one): Danger => ({ kind: 'offset', ...one }))
  if (!isColdAndOpen(after, coolant) || isColdAndOpen(before, coolant)) return offsets
  return [...offsets, { kind: 'cold and wide open', field: 'controls.throttle', text: coldText(coolant), never: true }]
}

type Judged<Kind extends RunScript['kind']> = (script: Extract<RunScript, { kind: Kind }>) => Danger[]
const none = (): Danger[] => []

function stepDangers({ kind, offsets }: Extract<RunScript, { kind: SteppedKind }>): Danger[] {
  const { furthest, first, step, sign, unit } = STEPS[kind]
  const toward = offsets.map((one) => sign * one)
  const jump = Math.max(0, ...toward.slice(1).map((one, k) => (one > first ? one - toward[k]! : 0)))
  const texts = [
    ...(Math.max(...toward) > furthest ? [`goes to ${said(sign * Math.max(...toward))}${unit}`] : []),
    ...(toward[0]! > first ? [`begins at ${said(offsets[0]!)}${unit}`] : []),
    ...(jump > step ? [`goes ${jump}${unit} at one step toward ${sign > 0 ? 'knock' : 'lean'}`] : []),
  ]
  if (texts.length === 0) return []
  return [
    {
      kind: 'offset',
      field: 'script.offsets',
      text: `The run ${texts.join(' and ')}. Feel the way: begin within ${said(sign * first)}${unit}, go no further than ${said(sign * furthest)}${unit}, and at most ${step}${unit} at a step.`,
    },
  ]
}

/** What of each kind of script is looked at; a kind that is added has to say. */
const JUDGED: { [Kind in RunScript['kind']]: Judged<Kind> } = {
  'warm-up': none,
  sweep: ({ sparkOffset = 0, stop }) =>
    sparkOffset > (stop >= UNDER_LOAD ? OFFSETS.load.advance : OFFSETS.below.advance) || sparkOffset < -OFFSETS.retard
      ? [
          {
            kind: 'offset',
            field: 'script.sparkOffset',
            text: `A whole sweep at ${stop} % with ${said(sparkOffset)}° of advance. Step the advance at a held point first: there a knock ends it.`,
          },
        ]
      : [],
  hold: none,
  'roll-on': none,
  overrun: none,
  'spark step': stepDangers,
  'mixture step': stepDangers,
}

/** Highest speed that a script asks for; 0 where it asks for none. */
const highestOf = (script: RunScript): number =>
  script.kind === 'warm-up'
    ? 0
    : script.kind === 'sweep'
      ? Math.max(script.fromRpm, script.toRpm)
      : 'rpm' in script
        ? script.rpm
        : script.fromRpm

/**
 * What of a script can hurt: its settings, a cold engine opened wide, a speed above the ceiling of the brief.
 *
 * @param coolant °C; @param ceiling rpm, Infinity for none
 */
export function scriptDangers(script: RunScript, coolant: number, ceiling: number): Danger[] {
  const judged = JUDGED[script.kind] as (script: RunScript) => Danger[]
  const dangers = judged(script)
  if ('stop' in script && script.stop >= UNDER_LOAD && coolant < WARM_C)
    dangers.push({ kind: 'cold and wide open', field: 'script.stop', text: coldText(coolant), never: true })
  if (highestOf(script) > ceiling)
    dangers.push({
      kind: 'above the ceiling',
      field: 'script',
      text: `The run goes to ${grouped(highestOf(script))} rpm; the brief has a rev ceiling of ${grouped(ceiling)} rpm. Run it below, or change the ceiling in Brief.`,
      never: true,
    })
  return dangers
}

/** What is looked at in each wish of the bench's stream; one that is added has to say. */
export const WISH_DANGERS: Record<BenchWish['act'], readonly DangerKind[]> = {
  drive: [],
  'let go': [],
  set: ['offset', 'cold and wide open', 'somebody else drives'],
  run: ['offset', 'cold and wide open', 'above the ceiling', 'open gate', 'somebody else drives'],
  limits: ['limit loosened', 'somebody else drives'],
  record: ['open gate', 'somebody else drives'],
  stop: ['somebody else drives'],
  'store again': [],
}
