import type { RigControls } from './controls'
import type { RigSample } from './sample'
import { stepping, TORQUE_FALLS } from './stepping'
import type { RunScript } from './runScript'

/** Where a script stands. */
export interface ScriptState {
  phase: 'starting' | 'settling' | 'running' | 'ending' | 'done'
  /** share of the run that is done, 0 to 1 */
  share: number
  /** readings now belong to the run */
  recording: boolean
  /** what was left out of it on the way, and why; empty when nothing was */
  note: string
}

/** Drives a rig through a script, reading by reading. */
export interface ScriptDriver {
  /** what to set, given what is read; call it for every sample */
  next(sample: RigSample): { controls: Partial<RigControls>; state: ScriptState }
}

/** s that speed must stay near where a run begins. */
const SETTLED = 0.8
/**
 * s that the brake holds a sweep at its start with the stop open: what follows the opening is set aside, and without a hold
 * nothing would be known of the lowest speeds (common practice).
 */
const HELD_OPEN = 1.6
/** s after which a run that does not settle begins all the same. */
const PATIENCE = 12
const NEAR = 60
/** Longest that a sweep may take, in units of what it should. */
const SLOWEST = 5
/** s without this much more rpm that end a sweep: the engine does not get any further. */
const STALLED = { seconds: 1.5, rpm: 25 }
/** s of shut throttle at the end, so that the log has its chop. */
const TAIL = 1.6
const IDLE_OPENING = 12
/** s that a speed is held before the throttle is shut on the overrun. */
const HELD_BEFORE = 0.8
/** Opening and speed at which an engine is warmed. */
const WARMING = { throttle: 15, rpm: 3000, gear: 3 }

/** Settings of a stepped script as they come, each given up at knock; more advance also where torque falls. */
function stepsOf(script: RunScript) {
  if (script.kind === 'spark step') return stepping({ ...script, danger: 1, falls: TORQUE_FALLS, unit: '°' })
  return script.kind === 'mixture step' ? stepping({ ...script, danger: -1, falls: null, unit: '% fuel' }) : null
}

/**
 * A driver of a script, from wherever the rig is now: settle at the start, run, shut the throttle, rest in neutral.
 *
 * @example
 * const { controls, state } = scriptDriver(script).next(sample)
 */
export function scriptDriver(script: RunScript): ScriptDriver {
  let phase: ScriptState['phase'] = 'starting'
  let began = 0
  let settledAt = NaN
  const enter = (next: ScriptState['phase'], time: number): void => void ([phase, began] = [next, time])
  const start = startOf(script)
  const hands = handsOf(script, start)
  const steps = stepsOf(script)
  let offset: number | null = null
  let furthest = { rpm: NaN, at: 0 }
  /** Whether a sweep's speed has come to a stand. */
  function isStalled({ time, rpm }: RigSample): boolean {
    if (script.kind !== 'sweep' || time - began < HELD_OPEN) return false
    const sign = Math.sign(script.toRpm - script.fromRpm)
    if (!(sign * (rpm - furthest.rpm) < STALLED.rpm)) furthest = { rpm, at: time }
    return time - furthest.at > STALLED.seconds
  }

  return {
    next(sample) {
      const { time, rpm } = sample
      if (phase === 'starting') enter('settling', time)
      if (phase === 'settling') {
        const near = start === null || Math.abs(rpm - start.rpm) < NEAR
        settledAt = near ? (Number.isNaN(settledAt) ? time : settledAt) : NaN
        if (start === null || time - settledAt >= SETTLED || time - began > PATIENCE) enter('running', time)
      }
      const since = time - began
      if (phase === 'running' && steps) offset = steps.next(sample)
      if (phase === 'running' && ((steps && offset === null) || isOver(script, sample, since) || isStalled(sample)))
        enter('ending', time)
      else if (phase === 'ending' && since >= TAIL) enter('done', time)
      return {
        controls: hands(phase, phase === 'running' ? time - began : 0, offset ?? 0),
        state: {
          phase,
          share: phase === 'running' ? shareOf(script, sample, time - began) : phase === 'settling' ? 0 : 1,
          recording: script.kind !== 'warm-up' && (phase === 'running' || phase === 'ending'),
          note: steps?.note() ?? '',
        },
      }
    },
  }
}

/** Speed at which a run begins; null when it begins anywhere. */
function startOf(script: RunScript): { rpm: number } | null {
  switch (script.kind) {
    case 'warm-up':
      return null
    case 'sweep':
    case 'roll-on':
    case 'overrun':
      return { rpm: script.fromRpm }
    default:
      return { rpm: script.rpm }
  }
}

const SHUT: Partial<RigControls> = { throttle: 0, sparkOffset: 0, fuelOffset: 0 }

/** What the hands do in each part of a script: made once, for they are asked at every reading. */
function handsOf(
  script: RunScript,
  start: { rpm: number } | null,
): (phase: ScriptState['phase'], since: number, offset: number) => Partial<RigControls> {
  const on = { ignition: true, fuel: true }
  const done: Partial<RigControls> = { ...SHUT, gear: 0, brake: { kind: 'off' } }
  const ending: Partial<RigControls> = { ...SHUT, brake: { kind: 'off' } }
  if (script.kind === 'warm-up') {
    const warming: Partial<RigControls> = {
      ...on,
      fan: true,
      throttle: WARMING.throttle,
      gear: WARMING.gear,
      brake: { kind: 'hold', rpm: WARMING.rpm },
    }
    return (phase) => (phase === 'done' ? done : phase === 'ending' ? ending : warming)
  }
  const held = { ...on, fan: true, gear: script.gear, brake: { kind: 'hold', rpm: start!.rpm } as const }
  const free = { ...on, gear: script.gear, brake: { kind: 'off' } as const }
  // Small openings alone may not reach the speed: a little more until it does.
  const settling = { ...held, throttle: script.kind === 'roll-on' ? script.fromStop : settlingAt(script.stop) }
  const running = runningHands(script, held, free)
  return (phase, since, offset) =>
    phase === 'done' ? done : phase === 'ending' ? ending : phase === 'running' ? running(since, offset) : settling
}

function runningHands(
  script: Exclude<RunScript, { kind: 'warm-up' }>,
  held: Partial<RigControls>,
  free: Partial<RigControls>,
): (since: number, offset: number) => Partial<RigControls> {
  switch (script.kind) {
    case 'sweep': {
      const open = { ...held, throttle: script.stop, sparkOffset: script.sparkOffset ?? 0 }
      const swept = { ...open, brake: { kind: 'sweep', toRpm: script.toRpm, rate: script.rate } as const }
      return (since) => (since < HELD_OPEN ? open : swept)
    }
    case 'hold': {
      const open = { ...held, throttle: script.stop }
      return () => open
    }
    case 'roll-on': {
      const before = { ...held, throttle: script.fromStop }
      const after = { ...free, throttle: script.stop }
      return (since) => (since < 1 ? before : after)
    }
    case 'overrun': {
      const before = { ...held, throttle: settlingAt(script.stop) }
      const shut = { ...free, throttle: 0 }
      const after = { ...free, throttle: script.stop }
      return (since) => (since < HELD_BEFORE ? before : since < HELD_BEFORE + script.shutSeconds ? shut : after)
    }
    case 'spark step':
      return (_, offset) => ({ ...held, throttle: script.stop, sparkOffset: offset })
    case 'mixture step':
      return (_, offset) => ({ ...held, throttle: script.stop, fuelOffset: offset })
  }
}

/** Opening at which a speed is reached. */
const settlingAt = (stop: number): number => Math.max(IDLE_OPENING, Math.min(stop, 25))

function lengthOf(script: RunScript): number {
  switch (script.kind) {
    case 'warm-up':
      return Infinity
    case 'sweep':
      // A small opening may turn the drum up more slowly than the brake lets it.
      return HELD_OPEN + 1 + (SLOWEST * Math.abs(script.toRpm - script.fromRpm)) / script.rate
    case 'spark step':
    case 'mixture step':
      // Each setting ends on the reading after its time.
      return script.offsets.length * (script.seconds + 0.1)
    case 'hold':
      return script.seconds
    case 'roll-on':
      return script.seconds + 1
    case 'overrun':
      return HELD_BEFORE + script.shutSeconds + script.seconds
  }
}

function isOver(script: RunScript, sample: RigSample, since: number): boolean {
  if (script.kind === 'warm-up') return sample.coolant >= script.coolantC
  if (script.kind === 'sweep') {
    const up = script.toRpm > script.fromRpm
    if (up ? sample.rpm >= script.toRpm - 30 : sample.rpm <= script.toRpm + 30) return true
  }
  return since >= lengthOf(script)
}

function shareOf(script: RunScript, sample: RigSample, since: number): number {
  const share =
    script.kind === 'warm-up'
      ? sample.coolant / script.coolantC
      : script.kind === 'sweep'
        ? (sample.rpm - script.fromRpm) / (script.toRpm - script.fromRpm)
        : since / lengthOf(script)
  return Math.min(1, Math.max(0, share))
}
