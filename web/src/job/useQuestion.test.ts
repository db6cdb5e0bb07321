import { createPinia, setActivePinia } from 'pinia'
import { effectScope, nextTick, ref } from 'vue'
import { DEFAULT_MIXTURE, type Job } from '@yuzumix/core'
import { useJob } from './openJob'
import { useQuestion } from './useQuestion'

jest.mock('@/api/client', () => ({ api: {} }))
jest.mock('@/api/notify', () => ({ notifyProblem: jest.fn() }))

const settled = async (): Promise<void> => {
  for (let k = 0; k < 20; k++) await nextTick()
}

function setUp() {
  setActivePinia(createPinia())
  const open = useJob()
  open.job = { id: 'j', title: 'first', mixture: DEFAULT_MIXTURE } as unknown as Job
  const puts: { give: (value: { n: number }) => void; fail: (error: Error) => void }[] = []
  const wish = ref(0)
  const put = (): Promise<{ n: number }> => new Promise((give, fail) => puts.push({ give, fail }))
  const state = effectScope().run(() => useQuestion(put, () => wish.value))!
  return { open, puts, wish, ...state }
}

describe('a question of the open job', () => {
  it('is put together anew when what it stands on changes; one that comes late is dropped', async () => {
    const { puts, wish, question } = setUp()
    wish.value = 1
    await settled()
    puts[1]!.give({ n: 2 })
    await settled()
    puts[0]!.give({ n: 1 })
    await settled()
    expect(question.value).toEqual({ n: 2 })
  })
  it('that is the same again sets nothing off', async () => {
    const { open, puts, question } = setUp()
    puts[0]!.give({ n: 1 })
    await settled()
    const before = question.value
    open.job = { ...open.job!, title: 'another' }
    await settled()
    puts[1]!.give({ n: 1 })
    await settled()
    expect([puts.length, question.value === before]).toEqual([2, true])
  })
  it('that cannot be put together is told, and the last one that could stand stays', async () => {
    const { puts, wish, question, fault } = setUp()
    puts[0]!.give({ n: 1 })
    await settled()
    wish.value = 1
    await settled()
    puts[1]!.fail(new Error('No answer.'))
    await settled()
    expect([question.value, fault.value]).toEqual([{ n: 1 }, 'No answer.'])
  })
})
