import { circuitTargets, DEFAULT_JETTING, type JettingSettings } from '../contract/jetting'
import { fitIdleMixture, fitIdlePeak, type IdleReading, type IdleSide, type IdleWay } from '../jetting/idle/idle'

/** Readings of an idle screw, and what a job need not have said. */
export interface IdleAsked {
  way: IdleWay
  readings: readonly IdleReading[]
  side?: IdleSide | undefined
  richerIsOut?: boolean | undefined
  target?: number | undefined
}

/** Where an idle screw should stand; all but the words null where the readings do not tell. */
export interface IdleTold {
  turns: number | null
  value: number | null
  error: number | null
  set: number | null
  note: string
}

/**
 * Where the idle screw of a job's carburettor should stand: by the peak of speed or vacuum, or where a wideband reads the target.
 *
 * @param jetting what the job knows of its carburettors; the usual ones without
 * @example
 * idleAnswer(job.jetting, { way: 'speed', readings: [{ turns: 1, value: 1180 }, { turns: 1.25, value: 1240 }] }).note
 */
export function idleAnswer(jetting: JettingSettings | null | undefined, asked: IdleAsked): IdleTold {
  const settings = jetting ?? DEFAULT_JETTING
  const { way, readings, side = 'richer', target } = asked
  const isFuel =
    settings.body.kind !== 'slide' && settings.body.kind !== 'constant-vacuum' ? true : settings.body.screwIs === 'fuel'
  const found =
    way === 'wideband'
      ? fitIdleMixture(readings, target ?? circuitTargets(settings)[0]!.lambda)
      : fitIdlePeak(readings, side, asked.richerIsOut ?? isFuel)
  return found.turns === null ? { turns: null, value: null, error: null, set: null, note: found.note } : found
}
