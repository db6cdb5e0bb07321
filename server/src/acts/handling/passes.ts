import {
  cropped,
  inputRefused,
  namedRuns,
  passesIn,
  refused,
  touchesWithout,
  USUAL_RULES,
  type FoundPass,
  type Job,
  type KeptPass,
  type NewPass,
  type Pass,
  type PassChange,
  type PassesMade,
  type RunInfo,
  type StripRules,
} from '@yuzumix/core'
import type { Store } from '../../store/database'
import { writeEntry } from '../../store/entries'
import { changeLine, dropLine, insertLine, listLines, type StoredLine } from '../../store/lines'
import { listRuns } from '../../store/runs'
import { listSets } from '../../store/sets'
import type { Workshop } from '../questions/ask'
import { readAsTold } from '../jobs/readAsTold'
import { passesTold } from './passesTold'

type PassData = Omit<KeptPass, 'id' | 'at'>
const KIND = 'pass'

/** Passes of a job as they are kept. */
export async function keptPasses(store: Store, job: string): Promise<KeptPass[]> {
  return (await listLines<PassData>(store, job, KIND)).map(keptOf)
}
const keptOf = ({ id, at, data }: StoredLine<PassData>): KeptPass => ({ id, at, ...data })

/** Passes of a job with what their air and their logs tell. */
export async function listPasses(workshop: Workshop, job: Job, signal: AbortSignal): Promise<Pass[]> {
  return passesTold(workshop, job, await keptPasses(workshop.store, job.id), signal)
}

/**
 * Keeps a slip, or the passes of a run.
 *
 * @throws Refusal 'input-refused' for a run or a set that is not there, 'no-pass' where a run holds none
 */
export async function addPass(
  workshop: Workshop,
  job: Job,
  asked: NewPass,
  signal: AbortSignal,
): Promise<Pass | PassesMade> {
  const { store } = workshop
  const sets = await listSets(store, job.id)
  if (asked.set !== undefined && !sets.some((one) => one.id === asked.set))
    throw inputRefused([{ field: 'set', message: 'there is no such set in this job' }])
  const rules = { ...USUAL_RULES, ...given(asked) }
  const made = asked.splits ? [slip(asked, rules, sets.at(-1)?.id ?? null)] : await found(store, job, asked, rules)
  const kept = await store.act(async (transaction) => {
    const all = await keptPasses(store, job.id)
    const lines: KeptPass[] = []
    for (const data of made) {
      const same = all.find((one) => one.run !== null && one.run === data.run && Math.abs(one.from! - data.from!) < 1)
      if (same) {
        lines.push(same)
        continue
      }
      const count = all.length + lines.length + 1
      const line = { ...data, name: data.name || `Pass ${count}` }
      const at = new Date().toISOString()
      lines.push(
        keptOf(await insertLine(store, transaction, job.id, KIND, { id: crypto.randomUUID(), at, data: line })),
      )
      await writeEntry(store, transaction, job.id, 'pass kept', passText(line))
    }
    return lines
  })
  const told = await passesTold(workshop, job, kept, signal)
  return told.length === 1 ? told[0]! : { passes: told }
}

const given = ({ rolloutM, trapM, endM }: NewPass): Partial<StripRules> => ({
  ...(rolloutM !== undefined && { rolloutM }),
  ...(trapM !== undefined && { trapM }),
  ...(endM !== undefined && { endM }),
})

const facts = ({ reactionS, weather, note }: NewPass): Pick<PassData, 'reactionS' | 'weather' | 'note'> => ({
  reactionS: reactionS ?? null,
  weather: weather ?? null,
  note: note ?? '',
})

function slip(asked: NewPass, rules: StripRules, newest: string | null): PassData {
  const splits = asked.splits!.map((one) => ({ ...one, speedKmh: one.speedKmh ?? null }))
  return {
    name: asked.name ?? '',
    set: asked.set ?? newest,
    run: null,
    from: null,
    to: null,
    lifted: asked.lifted ?? false,
    liftedAtM: null,
    splits,
    ...rules,
    endM: asked.endM ?? splits.at(-1)!.distanceM,
    ...facts(asked),
  }
}

async function found(store: Store, job: Job, asked: NewPass, rules: StripRules): Promise<PassData[]> {
  const [run] = namedRuns(await listRuns(store, job.id), [asked.run!]) as [RunInfo]
  const NEEDED = ['time', 'speed', 'throttle']
  const columns = await readAsTold(store, { ...run, id: run.part?.of ?? run.id }, NEEDED)
  const [time, speed, throttle] = NEEDED.map((one) => columns.get(one))
  if (!time || !speed)
    throw refused('no-pass', `"${run.name}" has no road speed: note the slip of the pass by hand instead.`, 'run')
  const whole = { time, speed, ...(throttle && { throttle }) }
  const inside = passesIn(run.part ? cropped(whole, run.part) : whole, rules)
  const passes = inside.filter(({ from, to }) => !touchesWithout(run.without, from, to))
  if (inside.length > 0 && passes.length === 0)
    throw refused('no-pass', `Every pass of "${run.name}" was left out by time: take it in again first.`, 'run')
  if (passes.length === 0)
    throw refused(
      'no-pass',
      `"${run.name}" holds no pass: it stands, leaves wide open and passes 60 ft within six seconds. Is the speed that of the road?`,
      'run',
    )
  const own = (one: FoundPass, k: number): PassData => ({
    ...one,
    name: asked.name ? (passes.length > 1 ? `${asked.name} ${k + 1}` : asked.name) : '',
    set: asked.set ?? run.set,
    run: run.part?.of ?? run.id,
    ...rules,
    ...facts(asked),
  })
  return passes.map(own)
}

function passText({ name, splits, lifted }: PassData): string {
  const last = splits.at(-1)
  const time = last ? `${last.timeS.toFixed(3)} s at ${Math.round(last.distanceM)} m` : 'no mark reached'
  return `${name}: ${time}${lifted ? ', lifted' : ''}`
}

/** Changes what was noted of a pass; null where there is none. @throws Refusal 'input-refused' for a set that is not there */
export async function changePass(
  workshop: Workshop,
  job: Job,
  id: string,
  change: PassChange,
  signal: AbortSignal,
): Promise<Pass | null> {
  const { store } = workshop
  if (change.set !== undefined && !(await listSets(store, job.id)).some((one) => one.id === change.set))
    throw inputRefused([{ field: 'set', message: 'there is no such set in this job' }])
  const line = await changeLine<PassData>(store, job.id, KIND, id, (now) => {
    // Ridden through it was shut nowhere.
    const data = { ...now, ...(change as Partial<PassData>), ...(change.lifted === false && { liftedAtM: null }) }
    return { data, said: ['pass changed', passText(data)] }
  })
  return line && (await passesTold(workshop, job, [keptOf(line)], signal))[0]!
}

export const takeBackPass = (store: Store, job: string, id: string): Promise<boolean> =>
  dropLine(store, job, KIND, id, ['pass taken back', ''])
