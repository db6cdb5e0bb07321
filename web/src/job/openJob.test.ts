import { createPinia, setActivePinia } from 'pinia'
import type { Job, JobChange, RunInfo, RunSet, TableInfo } from '@yuzumix/core'
import { api } from '@/api/client'
import { useJob } from './openJob'

jest.mock('@/api/client', () => ({ api: {} }))

/** Answers that come when they are told to, by call. */
const answers = new Map<string, (value: unknown) => void>()
const call = (name: string) => (id: string) => new Promise((resolve) => answers.set(`${name} ${id}`, resolve))
const changes: [string, JobChange][] = []
const jobOf = (id: string, over: Partial<Job> = {}): Job => ({ id, title: `Job ${id}`, mixture: {}, ...over }) as Job
const settle = async (): Promise<void> => {
  for (let k = 0; k < 12; k++) await Promise.resolve()
}

beforeEach(() => {
  jest.useFakeTimers()
  setActivePinia(createPinia())
  answers.clear()
  changes.length = 0
  Object.assign(api, {
    job: call('job'),
    sets: call('sets'),
    runs: call('runs'),
    tables: call('tables'),
    addSet: call('addSet'),
    changeJob: (id: string, change: JobChange) => {
      changes.push([id, change])
      return new Promise((resolve) => answers.set(`change ${id}`, resolve))
    },
  })
})
afterEach(() => jest.useRealTimers())

async function answer(id: string, runs: string[] = []): Promise<void> {
  answers.get(`job ${id}`)!(jobOf(id))
  answers.get(`sets ${id}`)!([] as RunSet[])
  answers.get(`runs ${id}`)!(runs.map((run) => ({ id: run }) as RunInfo))
  answers.get(`tables ${id}`)!([] as TableInfo[])
  await settle()
}

describe('the open job', () => {
  it('is the one the address names, though an earlier answer comes later', async () => {
    const open = useJob()
    void open.load('a')
    const late = new Map(answers)
    void open.load('b')
    await answer('b')
    for (const [name, resolve] of late) resolve(name.startsWith('job') ? jobOf('a') : [])
    await settle()
    expect([open.job!.id, open.state]).toEqual(['b', 'ready'])
  })
  it('takes no runs of a job that was left while they were fetched', async () => {
    const open = useJob()
    void open.load('a')
    await answer('a')
    void open.reloadRuns()
    const [runs, sets] = [answers.get('runs a')!, answers.get('sets a')!]
    void open.load('b')
    await answer('b', ['of b'])
    runs([{ id: 'of a' }])
    sets([])
    await settle()
    expect(open.runs.map((run) => run.id)).toEqual(['of b'])
  })
  it('saves choices under the job they were made in, as it is left', async () => {
    const open = useJob()
    void open.load('a')
    await answer('a')
    open.choose({ plan: { fromRpm: 1 } as never })
    expect(open.saving).toBe('saving')
    void open.load('b')
    await settle()
    expect(changes.map(([id]) => id)).toEqual(['a'])
    await answer('b')
    jest.advanceTimersByTime(2000)
    answers.get('change a')!(jobOf('a', { title: 'Late' }))
    await settle()
    expect([open.job!.id, open.job!.title]).toEqual(['b', 'Job b'])
    expect(changes).toHaveLength(1)
  })
  it('keeps a choice that waits to be saved when an answer comes that was asked for before', async () => {
    const open = useJob()
    void open.load('a')
    await answer('a')
    const changed = open.change({ title: 'Short silencer' })
    await settle()
    const asked = answers.get('change a')!
    open.choose({ plan: { fromRpm: 2500 } as never })
    asked(jobOf('a', { title: 'Short silencer' }))
    await changed
    expect([open.job!.title, open.job!.plan]).toEqual(['Short silencer', { fromRpm: 2500 }])
    open.putJob(jobOf('a', { title: 'Opened again' }))
    expect([open.job!.title, open.job!.plan]).toEqual(['Opened again', { fromRpm: 2500 }])
    jest.advanceTimersByTime(2000)
    await settle()
    expect(changes.at(-1)).toEqual(['a', { plan: { fromRpm: 2500 } }])
    // What the server made of it has the word in the end.
    answers.get('change a')!(jobOf('a', { title: 'Opened again', plan: { fromRpm: 2600 } as never }))
    await settle()
    expect(open.job!.plan).toEqual({ fromRpm: 2600 })
  })
  it('says what is typed and not saved, and forgets it with the job', async () => {
    const open = useJob()
    void open.load('a')
    await answer('a')
    expect(open.saving).toBe('saved')
    open.notSaved('brief', 'Brief not saved')
    expect([open.saving, [...open.unsaved.values()]]).toEqual(['unsaved', ['Brief not saved']])
    open.notSaved('brief', '')
    expect(open.saving).toBe('saved')
    open.notSaved('table t', 'Trim not saved')
    void open.load('b')
    await answer('b')
    expect(open.saving).toBe('saved')
  })
  it('an act that fails is told, until one succeeds', async () => {
    const open = useJob()
    void open.load('a')
    await answer('a')
    Object.assign(api, { changeJob: () => Promise.reject(new Error('No.')) })
    await expect(open.change({ title: 'x' })).rejects.toThrow('No.')
    expect(open.saving).toBe('failed')
    Object.assign(api, { changeJob: () => Promise.resolve(jobOf('a', { title: 'x' })) })
    await open.change({ title: 'x' })
    expect([open.saving, open.job!.title]).toEqual(['saved', 'x'])
  })
})
