import { rigList, type Job, type RigLine } from '@yuzumix/core'
import type { Store } from '../../store/database'
import { addLine, changeLine, listLines } from '../../store/lines'
import { listJobs } from '../../store/jobs'

/** What is stored of a line: its words where it is one's own, and the tick. */
export interface StoredRigLine {
  text?: string | undefined
  why?: string | undefined
  minutes?: number | undefined
  done: boolean
}

const FROM_LIKE = 'like-'
const ownLine = (id: string, { text, why, minutes, done }: StoredRigLine, from: RigLine['from']): RigLine => ({
  id,
  text: text ?? '',
  why: why ?? '',
  minutes: minutes ?? null,
  caution: null,
  gate: false,
  from,
  done,
})

/** Own lines of other jobs on a machine of the same name. */
async function likeLines(store: Store, job: Job): Promise<RigLine[]> {
  const name = job.machine?.name?.trim().toLowerCase()
  if (!name) return []
  const like = (await listJobs(store)).filter(
    (one) => one.id !== job.id && one.machine?.name?.trim().toLowerCase() === name,
  )
  const lines = await Promise.all(like.map((one) => listLines<StoredRigLine>(store, one.id, 'rig')))
  const texts = new Set<string>()
  return lines.flat().flatMap(({ id, data }) => {
    if (!data.text || texts.has(data.text)) return []
    texts.add(data.text)
    return [ownLine(FROM_LIKE + id, { ...data, done: false }, 'like machine')]
  })
}

/** The rig list: made from the job, own lines, and those kept from like machines, with what is ticked. */
export async function listRig(store: Store, job: Job): Promise<RigLine[]> {
  const stored = await listLines<StoredRigLine>(store, job.id, 'rig')
  const ticked = new Map(stored.map(({ id, data }) => [id, data.done]))
  const own = stored.flatMap(({ id, data }) => (data.text ? [ownLine(id, data, 'own')] : []))
  const like = (await likeLines(store, job)).filter((one) => !own.some(({ text }) => text === one.text))
  const made = rigList(job).map((one): RigLine => ({ ...one, from: 'made from the job', done: false }))
  return [...made, ...like].map((one) => ({ ...one, done: ticked.get(one.id) ?? false })).concat(own)
}

export async function addRigLine(
  store: Store,
  job: Job,
  line: { text: string; why?: string | undefined; minutes?: number | undefined },
): Promise<RigLine> {
  const { id, data } = await addLine<StoredRigLine>(store, job.id, 'rig', { ...line, done: false }, [
    'rig line added',
    line.text,
  ])
  return ownLine(id, data, 'own')
}

/** Ticks a line, or takes the tick back; null when there is no such line. */
export async function tickRigLine(store: Store, job: Job, id: string, done: boolean): Promise<RigLine | null> {
  const line = (await listRig(store, job)).find((one) => one.id === id)
  if (!line) return null
  const said: [string, string] = [done ? 'rigged' : 'not rigged', line.text]
  const changed = await changeLine<StoredRigLine>(store, job.id, 'rig', id, (now) => ({ data: { ...now, done }, said }))
  if (!changed) await addLine<StoredRigLine>(store, job.id, 'rig', { done }, said, id)
  return { ...line, done }
}
