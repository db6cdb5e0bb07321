import { grouped } from '../numbers/format'
import type { RunKind } from '../run/runKind'

/** A run that the rig makes by itself. Speeds in rpm, openings in % of plate. */
export type RunScript =
  | { kind: 'warm-up'; coolantC: number }
  | { kind: 'sweep'; stop: number; fromRpm: number; toRpm: number; rate: number; gear: number; sparkOffset?: number }
  | { kind: 'hold'; stop: number; rpm: number; seconds: number; gear: number }
  | { kind: 'roll-on'; fromRpm: number; fromStop: number; stop: number; seconds: number; gear: number }
  /** the throttle is shut from a speed, and opened again while fuel is cut */
  | { kind: 'overrun'; fromRpm: number; stop: number; shutSeconds: number; seconds: number; gear: number }
  /** degrees, or percent of fuel, added one after the other */
  | { kind: SteppedKind; stop: number; rpm: number; offsets: readonly number[]; seconds: number; gear: number }

export type SteppedKind = 'spark step' | 'mixture step'

/** Whether runs of that kind go through settings at a held point. */
export function isStepped(kind: RunScript['kind']): kind is SteppedKind {
  return kind === 'spark step' || kind === 'mixture step'
}

/** Kind of the run that a script makes; null when it makes none. */
export function kindOfScript(script: RunScript): RunKind | null {
  return script.kind === 'warm-up' ? null : script.kind === 'overrun' ? 'roll-on' : script.kind
}

/** What a run of that script is called. */
export function nameOfScript(script: RunScript): string {
  switch (script.kind) {
    case 'warm-up':
      return `Warm-up to ${script.coolantC} °C`
    case 'sweep':
      return `Sweep at ${script.stop} %${script.sparkOffset ? `, ${signed(script.sparkOffset)}° of advance` : ''}`
    case 'hold':
      return `Hold at ${script.stop} %, ${grouped(script.rpm)} rpm`
    case 'roll-on':
      return `Roll-on to ${script.stop} % from ${grouped(script.fromRpm)} rpm`
    case 'overrun':
      return `Overrun from ${grouped(script.fromRpm)} rpm, to ${script.stop} %`
    case 'spark step':
      return `Spark step at ${script.stop} %, ${grouped(script.rpm)} rpm`
    case 'mixture step':
      return `Mixture step at ${script.stop} %, ${grouped(script.rpm)} rpm`
  }
}

const signed = (value: number): string => `${value > 0 ? '+' : ''}${value}`
