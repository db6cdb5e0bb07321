import { createPinia, setActivePinia } from 'pinia'
import { nextTick } from 'vue'
import type { Job } from '@yuzumix/core'
import { api } from '@/api/client'
import { notifyProblem } from '@/api/notify'
import { useHandling } from './handling'
import { useJob } from './openJob'

jest.mock('@/api/client', () => ({ api: {} }))
jest.mock('@/api/notify', () => ({ notifyProblem: jest.fn(), notifyDone: jest.fn() }))

/** Answers that come when they are told to, by call. */
const answers = new Map<string, (value: unknown) => void>()
const call = (name: string) => (id: string) => new Promise((resolve) => answers.set(`${name} ${id}`, resolve))
const settle = async (): Promise<void> => {
  for (let k = 0; k < 12; k++) await Promise.resolve()
}
const line = (what: string, back: boolean) => ({ id: what, what, back, leftSo: false })
async function answer(id: string, pins: string[], lines: ReturnType<typeof line>[] = []): Promise<void> {
  answers.get(`complaints ${id}`)!(pins.map((word) => ({ id: word, word })))
  answers.get(`putBack ${id}`)!(lines)
  answers.get(`entries ${id}`)!([])
  await settle()
}
function openJob(id: string): void {
  useJob().job = { id, title: id } as Job
}

beforeEach(() => {
  setActivePinia(createPinia())
  answers.clear()
  jest.mocked(notifyProblem).mockClear()
  Object.assign(api, { complaints: call('complaints'), putBack: call('putBack'), entries: call('entries') })
})

describe('what goes with a job from taking in to handing over', () => {
  it('belongs to the job that is open: what comes late for another is dropped', async () => {
    openJob('a')
    const handling = useHandling()
    const late = new Map(answers)
    openJob('b')
    await nextTick()
    await answer('b', ['hot'])
    late.get('complaints a')!([{ id: 'x', word: 'stalls' }])
    late.get('putBack a')!([])
    late.get('entries a')!([])
    await settle()
    expect(handling.complaints.map((one) => one.word)).toEqual(['hot'])
  })
  it('is empty as soon as another job is opened', async () => {
    openJob('a')
    const handling = useHandling()
    await answer('a', ['hot'], [line('fan', false)])
    expect(handling.openCount).toBe(1)
    openJob('b')
    await nextTick()
    expect(handling.complaints).toEqual([])
    expect(handling.openCount).toBe(0)
  })
  it('counts what is neither back nor left so', async () => {
    openJob('a')
    const handling = useHandling()
    await answer('a', [], [line('fan', false), line('plug', true), { ...line('tyre', false), leftSo: true }])
    expect(handling.openCount).toBe(1)
  })
  it('is asked anew after an act, and a refusal is said and changes nothing', async () => {
    openJob('a')
    const handling = useHandling()
    await answer('a', ['hot'])
    api.addComplaint = () => Promise.reject(new Error('beyond the ceiling'))
    expect(await handling.pin({ word: 'hunts' })).toBeNull()
    expect(notifyProblem).toHaveBeenCalledTimes(1)
    expect(handling.complaints.map((one) => one.word)).toEqual(['hot'])

    api.addComplaint = () => Promise.resolve({ id: 'n', word: 'hunts' } as never)
    const pinned = handling.pin({ word: 'hunts' })
    await settle()
    await answer('a', ['hot', 'hunts'])
    expect(await pinned).toMatchObject({ word: 'hunts' })
    expect(handling.complaints).toHaveLength(2)
  })
})
