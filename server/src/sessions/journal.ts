import { readdirSync, readFileSync, rmSync } from 'node:fs'
import { appendFile, mkdir, rm } from 'node:fs/promises'
import { randomUUID } from 'node:crypto'
import { join } from 'node:path'
import type { RigSample, RunKind } from '@yuzumix/core'
import type { Store } from '../store/database'
import { findJob } from '../store/jobs'
import { storeRecorded, type Bound } from './recordedRun'

/** What stands at the head of a recording's file: all that makes a run of what follows. */
export interface JournalHead {
  job: string
  name: string
  kind: RunKind | undefined
  bound: Bound
}

/** A recording as it is written while it runs, so that a server which is killed costs a moment of it. */
export interface Journal {
  add(sample: RigSample): void
  /** The recording is a run now, or is to be none: its file goes. */
  drop(): Promise<void>
}

/** s of readings that are written together. */
const TOGETHER = 0.5

const folderOf = (store: Pick<Store, 'folder'>): string => join(store.folder, 'recordings')

/**
 * Begins the file of a recording. What cannot be written (the disk is full) is left out of it: the recording itself goes on, in
 * memory.
 */
export function beginJournal(store: Pick<Store, 'folder'>, head: Promise<JournalHead>): Journal {
  const path = join(folderOf(store), `${randomUUID()}.jsonl`)
  let waiting = ''
  let since = -Infinity
  let isBroken = false
  const begin = async (): Promise<void> => {
    const first = `${JSON.stringify(await head)}\n`
    await mkdir(folderOf(store), { recursive: true })
    await appendFile(path, first)
  }
  let last = begin().catch(() => void (isBroken = true))
  const flush = (): void => {
    const text = waiting
    waiting = ''
    last = last.then(async () => {
      if (isBroken) return
      // A gap would be read as time that went by: nothing is written behind what could not be.
      await appendFile(path, text).catch(() => void (isBroken = true))
    })
  }
  return {
    add(sample) {
      waiting += `${JSON.stringify(sample)}\n`
      if (sample.time - since < TOGETHER && sample.time >= since) return
      since = sample.time
      flush()
    },
    async drop() {
      await last
      isBroken = true
      await rm(path, { force: true }).catch(() => undefined)
    },
  }
}

/**
 * Makes runs of recordings that a server left behind when it was killed. One that cannot be stored now is kept for the next start.
 *
 * @returns how many became runs
 */
export async function recoverRecordings(store: Store): Promise<number> {
  let recovered = 0
  let files: string[] = []
  try {
    files = readdirSync(folderOf(store)).filter((name) => name.endsWith('.jsonl'))
  } catch {
    return 0
  }
  for (const file of files) {
    const path = join(folderOf(store), file)
    const read = readJournal(path)
    if (!read || !(await findJob(store, read.head.job))) {
      rmSync(path, { force: true })
      continue
    }
    const { head, samples } = read
    try {
      const cut = { reason: 'link lost', text: 'the server ended while it was recorded' } as const
      await storeRecorded(store, head.job, { samples, name: head.name, kind: head.kind }, head.bound, cut)
      recovered++
      rmSync(path, { force: true })
    } catch {
      continue
    }
  }
  return recovered
}

/** A recording's file, as far as it was written; null where there is nothing of it. */
function readJournal(path: string): { head: JournalHead; samples: RigSample[] } | null {
  const lines = readFileSync(path, 'utf8').split('\n')
  // The last line may be cut.
  const parsed = lines.flatMap((line): unknown[] => {
    try {
      return [JSON.parse(line)]
    } catch {
      return []
    }
  })
  const [head, ...rest] = parsed
  // After a power cut anything may stand in it: what is no reading is passed over, and without its head it is nothing.
  const samples = rest.filter(isSample)
  return isHead(head) && samples.length >= 2 ? { head, samples: samples.map(withNumbers) } : null
}

const isHead = (one: unknown): one is JournalHead => {
  const { job, name, bound } = (one ?? {}) as Partial<JournalHead>
  return typeof job === 'string' && typeof name === 'string' && Array.isArray(bound?.warnings)
}
const isSample = (one: unknown): one is RigSample => {
  const { time, lambda } = (one ?? {}) as Partial<RigSample>
  return typeof time === 'number' && Array.isArray(lambda)
}

/** What a source does not tell is no number, which JSON cannot say. */
function withNumbers(sample: RigSample): RigSample {
  const known = Object.entries(sample).map(([name, value]: [string, unknown]) => [name, value ?? NaN])
  return { ...(Object.fromEntries(known) as RigSample), lambda: sample.lambda.map((one) => one ?? NaN) }
}
