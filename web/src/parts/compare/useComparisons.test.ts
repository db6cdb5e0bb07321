/** @jest-environment jsdom */
import { mount } from '@vue/test-utils'
import { defineComponent, nextTick, shallowRef } from 'vue'
import { Refusal, type CompareRequest } from '@yuzumix/core'
import { api } from '@/api/client'
import { useComparisons } from './useComparisons'

jest.mock('@/api/client', () => ({ api: {} }))

const wish = (second: string): CompareRequest => ({ first: ['a'], second, stop: 100, quantity: 'torque' })
/** Questions to the server, to be answered by hand. */
let asked: { second: string; give: (answer: unknown) => void; fail: (error: Error) => void }[] = []
beforeEach(() => {
  jest.useFakeTimers()
  asked = []
  Object.assign(api, {
    compare: (_job: string, { second }: CompareRequest) =>
      new Promise((give, fail) => asked.push({ second, give, fail })),
  })
})
afterEach(() => jest.useRealTimers())
const settled = async (): Promise<void> => {
  for (let k = 0; k < 20; k++) await nextTick()
}

function shown(...seconds: string[]) {
  const wishes = shallowRef(seconds.map(wish))
  let state!: ReturnType<typeof useComparisons>
  const wrapper = mount(
    defineComponent({
      setup() {
        state = useComparisons(() => 'job', wishes)
        return () => null
      },
    }),
  )
  return { wishes, wrapper, ...state }
}

describe('comparisons asked of the server', () => {
  it('are asked for at once, one for each second set, and busy until all are here', async () => {
    const { outcomes, busy } = shown('b', 'c')
    expect([asked.map((one) => one.second), busy.value]).toEqual([['b', 'c'], true])
    asked[0]!.give({ name: 'first' })
    await settled()
    expect([outcomes.value.length, busy.value]).toEqual([0, true])
    asked[1]!.give({ name: 'second' })
    await settled()
    expect(outcomes.value.map((one) => one.second)).toEqual(['b', 'c'])
    expect(busy.value).toBe(false)
  })
  it('wait until wishes rest, and drop the answer to an older one', async () => {
    const { wishes, outcomes } = shown('b')
    wishes.value = [wish('c')]
    await settled()
    jest.advanceTimersByTime(150)
    wishes.value = [wish('d')]
    await settled()
    jest.advanceTimersByTime(250)
    expect(asked.map((one) => one.second)).toEqual(['b', 'd'])
    asked[1]!.give({ name: 'new' })
    await settled()
    asked[0]!.give({ name: 'old' })
    await settled()
    expect(outcomes.value).toMatchObject([{ second: 'd', compared: { name: 'new' } }])
  })
  it('tell what was not measured alike apart from what went wrong', async () => {
    const { outcomes } = shown('b', 'c')
    const refused = [{ what: 'gear', weight: 'refuse', message: 'Different gears.' }]
    asked[0]!.fail(new Refusal('not-alike', 'Different gears.', [], { refused }))
    asked[1]!.fail(new Refusal('no-answer', 'No answer.'))
    await settled()
    expect(outcomes.value).toEqual([
      { second: 'b', compared: null, refused, problem: '' },
      { second: 'c', compared: null, refused: [], problem: 'No answer.' },
    ])
  })
  it('show nothing that comes after the page was left', async () => {
    const { wrapper, outcomes } = shown('b')
    wrapper.unmount()
    asked[0]!.give({ name: 'late' })
    await settled()
    expect(outcomes.value).toEqual([])
  })
})
