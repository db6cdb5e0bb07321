import {
  inputRefused,
  pyramidOf,
  stretchId,
  stretchesOf,
  type NamedStretch,
  type Pyramid,
  type RunInfo,
  type Stretch,
  type StretchChange,
} from '@yuzumix/core'
import type { Store } from '../../store/database'
import { readAsTold } from './readAsTold'
import { keepStretches, keptStretches, type KeptStretch } from '../../store/stretches'

/** Stretches of a run: those that somebody made, else those that its columns show; none without a throttle. */
export async function stretchesOfRun(store: Store, run: RunInfo): Promise<NamedStretch[]> {
  const kept = (await keptStretches(store, run.id)) ?? named(await foundIn(store, run))
  return kept.map((one) => ({ ...one, id: stretchId(run.id, one) }))
}

async function foundIn(store: Store, run: RunInfo): Promise<Stretch[]> {
  const columns = await readAsTold(store, run, ['time', 'rpm', 'throttle'])
  const [time, rpm, throttle] = ['time', 'rpm', 'throttle'].map((one) => columns.get(one))
  if (!time || !rpm || !throttle || run.kind === 'hand readings') return []
  // To the millisecond, as their ids tell them.
  return stretchesOf(time, rpm, throttle).map((one) => ({ ...one, from: inMs(one.from), to: inMs(one.to) }))
}
const inMs = (seconds: number): number => Math.round(1000 * seconds) / 1000

/** Numbered by kind, in their order. */
function named(stretches: readonly Stretch[]): KeptStretch[] {
  const counts = new Map<string, number>()
  return stretches.map((one) => {
    const n = (counts.get(one.kind) ?? 0) + 1
    counts.set(one.kind, n)
    return { ...one, name: `${one.kind} ${n}` }
  })
}

/**
 * Splits, joins or names stretches of a run by hand.
 *
 * @throws Refusal 'input-refused' for a stretch that there is not, a place outside it, or two that no order holds
 */
export async function changeStretches(
  store: Store,
  job: string,
  run: RunInfo,
  change: StretchChange,
): Promise<NamedStretch[]> {
  const all = await stretchesOfRun(store, run)
  const placeOf = (id: string, field: string): number => {
    const at = all.findIndex((one) => one.id === id)
    if (at < 0) throw inputRefused([{ field, message: 'there is no such stretch in this run' }])
    return at
  }
  const plain: KeptStretch[] = all.map(({ id: _, ...one }) => one)
  let text: string
  if (change.split !== undefined) {
    const at = placeOf(change.split, 'split')
    const one = plain[at]!
    const where = inMs(change.at!)
    if (!(where > one.from && where < one.to))
      throw inputRefused([{ field: 'at', message: `must lie between ${one.from} and ${one.to} s` }])
    plain.splice(at, 1, { ...one, to: where }, { ...one, from: where, name: `${one.name}, second part`.slice(0, 160) })
    text = `${run.name}: ${one.name} split at ${where} s`
  } else if (change.join) {
    const [a, b] = change.join.map((id, k) => placeOf(id!, `join[${k}]`)) as [number, number]
    if (a === b) throw inputRefused([{ field: 'join', message: 'names one stretch twice' }])
    const [first, second] = [plain[Math.min(a, b)]!, plain[Math.max(a, b)]!]
    const joined = { ...first, to: Math.max(first.to, second.to) }
    plain.splice(Math.max(a, b), 1)
    plain.splice(Math.min(a, b), 1, joined)
    text = `${run.name}: ${first.name} and ${second.name} joined`
  } else {
    const at = placeOf(change.id!, 'id')
    text = `${run.name}: ${plain[at]!.name} is now ${change.name!}`
    plain[at] = { ...plain[at]!, name: change.name! }
  }
  await keepStretches(store, job, run.id, plain, text)
  return plain.map((one) => ({ ...one, id: stretchId(run.id, one) }))
}

/** Most parts of a span in one answer. */
const MOST_POINTS = 4000

/**
 * The least and the most of a channel over time.
 *
 * @returns null where the run has no such channel
 * @throws Refusal 'input-refused' for a span or a number that is none
 */
export async function pyramidOfRun(
  store: Store,
  run: RunInfo,
  asked: Readonly<Record<string, string | undefined>>,
): Promise<Record<keyof Pyramid, (number | null)[]> | null> {
  const { channel = '' } = asked
  const columns = await readAsTold(store, run, ['time', channel])
  const [time, values] = [columns.get('time'), columns.get(channel)]
  if (!time || !values) return null
  const [from, to, points] = [
    numberOf(asked, 'from', time[0] ?? 0),
    numberOf(asked, 'to', time.at(-1) ?? 0),
    numberOf(asked, 'points', 800),
  ]
  if (!(to > from)) throw inputRefused([{ field: 'to', message: `must be above from, ${from} s` }])
  if (!(Number.isInteger(points) && points >= 1 && points <= MOST_POINTS))
    throw inputRefused([{ field: 'points', message: `must be a whole number from 1 to ${MOST_POINTS}` }])
  const told = pyramidOf(time, values, { from, to }, points)
  const known = (list: number[]): (number | null)[] => list.map((one) => (Number.isNaN(one) ? null : one))
  return { time: told.time, min: known(told.min), max: known(told.max) }
}

function numberOf(asked: Readonly<Record<string, string | undefined>>, field: string, otherwise: number): number {
  const text = asked[field]
  if (text === undefined) return otherwise
  const value = text.trim() === '' ? NaN : Number(text)
  if (!Number.isFinite(value)) throw inputRefused([{ field, message: 'must be a number' }])
  return value
}
