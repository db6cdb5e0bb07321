import { estimateLag } from '../field/lag/lag'
import { findChops } from '../run/chops'
import { DEFAULT_FILTERS, type Filters, type RunColumns } from '../run/run'
import { engineBraking, type Braking } from './exits/engineBraking'
import { gearsCompared, type GearsCompared } from './gears'
import { gripMap, type GripMap } from './grip/gripMap'
import { gripByGear, gripByMode, type GripsApart } from './grip/gripsApart'
import { loopExits, type LoopExit } from './exits/loopExits'
import { openingsOf } from './rollOns/openingsOf'
import { overrunsOf, type Overrun } from './exits/overrun'
import { groupRollOns, type RollOnGroup } from './rollOns/rollOnGroups'
import { rollOnPlan, type PlannedRollOn } from './rollOns/rollOnPlan'
import { bareRollOn, type RollOn } from './rollOns/rollOns'
import { sensorOf, type SensorKnown } from './film/sensorOf'
import { OPENINGS, steadyMixture } from './film/steadyMixture'
import { snatch, type Snatch } from './exits/snatch'
import { torqueMap, type TorqueMap } from './grip/torqueMap'
import { traceOpening } from './film/tracedOpening'

/** What runs are asked about how a machine answers the hand. */
export interface ResponseChoice {
  /** s, when somebody says it */
  lag: number | null
  filters: Filters
  /** whether a closed loop may hold the mixture: without one it has no exit */
  hasLoop: boolean
  /** riding mode whose runs count; null for the one most run in */
  mode: number | null
  /** speeds that a rider complains of, and the highest that may be asked, rpm */
  complaints: readonly number[]
  top: number
}

export const DEFAULT_RESPONSE: ResponseChoice = {
  lag: null,
  filters: DEFAULT_FILTERS,
  hasLoop: true,
  mode: null,
  complaints: [],
  top: 10_000,
}

/** How a machine answers the hand. */
export interface Response {
  groups: RollOnGroup[]
  /** openings out of an overrun with fuel cut, or without a mixture */
  bare: RollOn[]
  exits: LoopExit[]
  overrun: Overrun[]
  braking: Braking[]
  grip: GripMap | null
  /** maps of each riding mode, and of each gear of the mode that counts */
  byMode: GripsApart
  byGear: GripsApart
  torque: TorqueMap | null
  snatch: Snatch[]
  gears: GearsCompared
  plan: PlannedRollOn[]
  sensor: SensorKnown
  /** riding modes seen, and the one that counts; null without a mode channel */
  modes: number[]
  mode: number | null
  /** what the runs do not tell, and what would */
  notes: string[]
}

/** Doubt of the steady mixture, ln lambda, that is worth a word. */
const UNEVEN = 0.01
/** s either way beyond which it is said that the readings do not tell when a mixture settles. */
const UNTOLD_SETTLING = 0.25
/** Openings that are looked at; a day on the road has no more to say. */
const MOST_OPENINGS = 160

/**
 * Everything that runs tell of the answer to the hand: roll-ons, loop exits, overruns, grip map, snatch.
 *
 * @example
 * const { groups } = respond(runs)
 */
export function respond(all: readonly RunColumns[], choice: ResponseChoice = DEFAULT_RESPONSE): Response {
  const { runs, modes, mode } = inOneMode(all, choice.mode)
  const openings = runs.flatMap((run) => openingsOf(run).map((opening) => ({ run, opening }))).slice(0, MOST_OPENINGS)
  const steady = steadyMixture(runs, choice.filters, choice.lag)
  const traced = openings.map(({ run, opening }) => ({ run, opening, trace: traceOpening(run, opening, steady) }))
  const fuelled = traced.flatMap(({ trace }) => (trace && !trace.afterCut ? [trace] : []))
  // Out of an overrun, or without a mixture: there, and no more to be said of its fuel.
  const bare = traced
    .filter(({ trace }) => !trace || trace.afterCut)
    .map(({ run, opening }) => bareRollOn(run, opening))
  const sensor = sensorOf(fuelled, runs, choice.lag)
  const { lag, error } = sensor.from === 'assumed' ? lagOfField(runs, choice, sensor) : sensor
  const groups = groupRollOns(new Map(runs.map((run) => [run.id, run])), fuelled, sensor)
  const exits = choice.hasLoop ? loopExits(runs, { lag, error }, choice.filters) : []
  const tau = sensor.likely.reduce((sum, one) => sum + one.weight * one.tau, 0)
  const overrun = runs.flatMap((run) => overrunsOf(run, lag, Math.min(tau, lag)))
  const grip = gripMap(runs)
  const torque = torqueMap(runs)
  return {
    groups,
    bare,
    exits,
    overrun,
    braking: engineBraking(runs),
    grip,
    byMode: gripByMode(all),
    byGear: gripByGear(runs),
    torque,
    snatch: snatch(torque, grip, groups, exits, overrun),
    gears: gearsCompared(runs, lag, choice.filters),
    plan: rollOnPlan(runs, groups, exits, choice.complaints, choice.top),
    sensor,
    modes,
    mode,
    notes: [
      ...notesOn(runs, groups, { grip, torque, modes, mode }, sensor.from === 'given' || runs.some(hasChops)),
      ...lagNote(sensor, exits),
    ],
  }
}

/** Lag and its standard error, s, by what the field's own estimate goes by, where openings do not tell. */
function lagOfField(
  runs: readonly RunColumns[],
  { filters }: ResponseChoice,
  usual: SensorKnown,
): { lag: number; error: number } {
  const mixed = runs.filter((run) => !run.handRange && run.lambda.length > 0 && run.throttle)
  if (mixed.length === 0) return usual
  const grid = { rpm: Array.from({ length: 20 }, (_, k) => 500 + 600 * k), load: OPENINGS }
  const found = estimateLag(grid, mixed, 'throttle', filters)
  // A loop that hunts scatters by itself: sweeps alone do not tell the lag there.
  const isTold = found.sources.some((one) => one.what !== 'scatter of sweeps')
  return isTold ? { lag: found.lag, error: found.error ?? usual.error } : usual
}

/** Runs, or their parts, made in one riding mode. */
export function inOneMode(
  runs: readonly RunColumns[],
  wanted: number | null,
): { runs: RunColumns[]; modes: number[]; mode: number | null } {
  const counts = new Map<number, number>()
  for (const { mode } of runs) {
    if (!mode) continue
    const stride = Math.max(1, Math.floor(mode.length / 5000))
    for (let i = 0; i < mode.length; i += stride)
      if (mode[i] === mode[i]) counts.set(Math.round(mode[i]!), (counts.get(Math.round(mode[i]!)) ?? 0) + stride)
  }
  const modes = [...counts.keys()].sort((a, b) => a - b)
  if (modes.length === 0) return { runs: [...runs], modes, mode: null }
  const usual = [...counts].reduce((best, one) => (one[1] > best[1] ? one : best))[0]
  const mode = wanted ?? usual
  return { modes, mode, runs: runs.map((run) => inMode(run, mode)) }
}

/** A run whose grip is unknown outside a mode: mixture and torque hold in all, the map from grip to plate does not. */
function inMode(run: RunColumns, mode: number): RunColumns {
  if (!run.mode || !run.grip || run.mode.every((value) => Math.round(value) === mode)) return run
  return { ...run, grip: run.grip.map((value, i) => (Math.round(run.mode![i]!) === mode ? value : NaN)) }
}

const hasChops = (run: RunColumns): boolean => findChops(run).length > 0

/** A lag that nothing in the runs tells moves all loop exits with the speed of their sweeps. */
function lagNote({ from }: SensorKnown, exits: readonly LoopExit[]): string[] {
  const most = Math.max(0, ...exits.map((one) => one.rpmError))
  return from === 'assumed' && exits.length
    ? [
        `These runs do not tell the lag: the usual one stands for it, and loop exits may be off by ${Math.round(most / 10) * 10} rpm, all one way. Shut the throttle at once from a steady mixture, or open it so, once in a log; or say the lag in Mixture.`,
      ]
    : []
}

/** What is missing, run by run, and which run would show it. */
function notesOn(
  runs: readonly RunColumns[],
  groups: readonly RollOnGroup[],
  { grip, torque, modes, mode }: Pick<Response, 'grip' | 'torque' | 'modes' | 'mode'>,
  isLagTold: boolean,
): string[] {
  const notes: string[] = []
  const members = groups.flatMap((one) => one.members)
  if (members.length === 0)
    notes.push(
      'No opening of the throttle in these runs. Hold a speed at a small opening for a second, open within a quarter of a second, keep it there for three: three times from each speed.',
    )
  const onUnknown = members.filter((one) => one.trace.doubt > UNEVEN)
  if (onUnknown.length)
    notes.push(
      `${onUnknown.length} of ${members.length} roll-ons pass speeds at which the mixture in steady running is not known, and elsewhere it moves along speed: part of their peaks may be no matter of acceleration fuel. Sweep at the openings they lead to, or correct the fuel first.`,
    )
  const bounded = members.filter((one) => one.rollOn.bounded && !onUnknown.includes(one)).length
  if (bounded)
    notes.push(
      `${bounded} of ${members.length} roll-ons happen faster than the sensor or the log follows, or end too soon: their peaks are at least what is shown. Log at 50 Hz, and keep the throttle still for three seconds.${isLagTold ? '' : ' Openings alone tell the lag here, and a slow peak and a late one look alike: say the lag in Mixture, or shut the throttle at once from a steady mixture, once in a log.'}`,
    )
  const isLate = ([earliest, latest]: readonly [number, number]): boolean => (latest - earliest) / 2 > UNTOLD_SETTLING
  const late = members.filter(
    (one) => !onUnknown.includes(one) && one.rollOn.settleBetweenS && isLate(one.rollOn.settleBetweenS),
  ).length
  if (late)
    notes.push(
      `When the mixture is settled is not told to a quarter of a second in ${late} of ${members.length} roll-ons: it stays near 2 % for long, or noise and lag hide when. Two more openings of the same kind halve that; keep the throttle still for three seconds.`,
    )
  const hasGrip = runs.some((run) => run.grip)
  const hasPlate = runs.some((run) => run.throttle)
  if (!hasGrip)
    notes.push(
      'No grip channel: how the plate follows the hand is not known. Where a motor moves the plate, log grip and plate together.',
    )
  else if (!hasPlate)
    notes.push('Grip without plate: log the throttle plate as well, or nothing can be said of how it follows.')
  else if (!grip)
    notes.push(
      'Grip and plate were never read together with the hand still for long enough. Open in slow steps over the whole range at two or three speeds.',
    )
  if (!torque)
    notes.push(
      'No torque by plate: torque against grip and the snatch index need sweeps with torque at several throttle stops.',
    )
  if (modes.length > 1)
    notes.push(
      `Modes ${modes.join(', ')} were ridden in these runs; the map of the plate is that of mode ${mode}. Choose another to see it.`,
    )
  return notes
}
