import { heldStretches } from '../numbers/heldStretches'
import { mean } from '../numbers/mean'
import { median } from '../numbers/median'
import type { RunColumns } from '../run/run'
import type { MeasuredPoint, SparkBin, SparkRun } from './bin'
import { KNOCK_LEVEL, knocksWithin } from './knock'
import { byPlace, type Place } from './place'

/** Degrees to which a setting is told. */
const SETTING_STEP = 0.5
/** % of plate below which nothing is held open. */
const OPEN = 2.5
/** s that a setting must last, after the s that torque takes to follow it. */
const LASTS = 1
const FOLLOWS = 0.8
/** rpm, % and degrees within which a point is held. */
const HELD = { rpm: 120, throttle: 2.5, advance: 0.6 }
/** A run whose advance moves by less than this at one point was not stepped. */
const STEPPED = 1.5

/** A stretch in which speed, throttle and advance are held. */
interface Segment {
  from: number
  to: number
  /** long enough for torque to be told */
  isWhole: boolean
}

function heldSegments({ time, rpm, throttle, spark }: RunColumns): Segment[] {
  return heldStretches(time.length, [
    { values: rpm, within: HELD.rpm },
    { values: throttle!, within: HELD.throttle },
    ...(spark ? [{ values: spark, within: HELD.advance }] : []),
  ]).map(({ from, to }) => ({ from, to, isWhole: time[to - 1]! - time[from]! >= LASTS + FOLLOWS }))
}

/** A stretch in which a place was held at one setting, and what it says. */
interface Held extends MeasuredPoint, Place {
  /** a setting that was stepped to; what was there anyway; or knock, too soon for torque to be told */
  role: 'stepped' | 'there' | 'knock'
  hasKnockChannel: boolean
  isStatic: boolean
}

/** A sweep has no held point, whatever a short stretch of it looks like; with fuel added, torque tells of fuel. */
function isHeldRun({ columns, run }: SparkRun): boolean {
  const has = columns.throttle && columns.torque && (columns.spark || run.setting)
  return Boolean(has) && run.kind !== 'sweep' && run.kind !== 'mixture step'
}

/** Held stretches of a run in its order. Runs need columns of throttle and torque, and one of spark or a setting. */
function heldPoints({ columns, run }: SparkRun, knockLevel: number): Held[] {
  const { time, rpm, throttle, torque, spark, knock } = columns
  const read = heldSegments(columns).map(({ from, to, isWhole }) => {
    let start = from
    while (isWhole && time[start]! - time[from]! < FOLLOWS) start++
    return {
      stop: mean(throttle!, start, to),
      rpm: mean(rpm, start, to),
      advance: run.setting?.advance ?? Math.round(mean(spark!, start, to) / SETTING_STEP) * SETTING_STEP,
      torque: mean(torque!, start, to),
      knock: (run.setting?.knock ?? false) || knocksWithin(knock, start, to, knockLevel),
      run: run.id,
      at: run.createdAt,
      hasKnockChannel: knock !== undefined,
      isStatic: run.setting !== null,
      isWhole,
    }
  })
  const whole = read.filter((one) => one.isWhole && one.stop > OPEN && one.torque > 0)
  const cut = read.filter((one) => !one.isWhole && one.knock)
  return [
    // Whether it was stepped is asked place by place: from one speed to another the table moves the advance by itself.
    ...byPlace(whole).flatMap(({ points }) => {
      const role: Held['role'] = run.setting !== null || wasStepped(points) ? 'stepped' : 'there'
      const frame = role === 'stepped' ? framing(points) : null
      return points.flatMap(({ isWhole: _, ...one }): Held[] => [
        { ...one, role },
        ...(one.advance === frame && !one.isStatic ? [{ ...one, role: 'there' as const }] : []),
      ])
    }),
    ...cut.map(({ isWhole: _, ...one }): Held => ({ ...one, role: 'knock' })),
  ]
}

/** What was there before anything was stepped: a setting that a place begins and ends with. */
function framing(points: readonly { advance: number }[]): number | null {
  const [first, last] = [points[0], points.at(-1)]
  return first && last && points.length > 2 && first.advance === last.advance ? first.advance : null
}

function wasStepped(points: readonly { advance: number }[]): boolean {
  const advances = points.map((point) => point.advance)
  return Math.max(...advances) - Math.min(...advances) >= STEPPED
}

/** Torque at a held point with the advance that is in use. */
export interface PresentReading extends Place {
  advance: number
  torque: number
}

/** Readings at what is in use: of holds, and of stepped runs where they begin and end with it. */
export function presentReadings(runs: readonly SparkRun[]): PresentReading[] {
  return runs
    .filter(isHeldRun)
    .flatMap((one) => heldPoints(one, KNOCK_LEVEL))
    .filter((one) => one.role === 'there')
    .map(({ stop, rpm, advance, torque }) => ({ stop, rpm, advance, torque }))
}

/**
 * Torque by advance where stop and speed were held, by place: out of runs in which the advance was stepped, and of holds that
 * were each made at a setting somebody said. Runs without throttle, torque or any word of the advance are passed over.
 *
 * @param knockLevel of the knock channel from which it is knock
 */
export function stepBins(runs: readonly SparkRun[], knockLevel = KNOCK_LEVEL): SparkBin[] {
  const held = runs.filter(isHeldRun).flatMap((one) => heldPoints(one, knockLevel))
  return byPlace(held).flatMap(({ place, points: here }): SparkBin[] => {
    const stepped = here.filter((one) => one.role === 'stepped')
    if (stepped.length === 0) return []
    // A table that was changed on the way: the newest run has the say.
    const there = here
      .filter((one) => one.role === 'there')
      .reduce<Held | null>((newest, one) => (newest && newest.at > one.at ? newest : one), null)
    const knocked = here.filter((one) => one.role === 'knock').map((one) => one.advance)
    return [
      {
        ...place,
        source: 'steps',
        isStatic: stepped[0]!.isStatic,
        points: stepped.map(({ advance, torque, knock, run, at }) => ({ advance, torque, knock, run, at })),
        present: there?.advance ?? median(stepped.map((one) => one.advance)),
        presentAt: there?.at ?? stepped.at(-1)!.at,
        hasKnockChannel: stepped.every((one) => one.hasKnockChannel),
        knockFrom: knocked.length ? Math.min(...knocked) : null,
      },
    ]
  })
}
