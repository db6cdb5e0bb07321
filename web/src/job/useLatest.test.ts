import { effectScope, nextTick, ref } from 'vue'
import { useLatest } from './useLatest'

const settled = async (): Promise<void> => {
  for (let k = 0; k < 10; k++) await nextTick()
}

describe('what was answered last', () => {
  it('is the answer to the newest question, however late older ones come', async () => {
    const asked: { give: (value: string) => void; fail: (error: Error) => void }[] = []
    const faults: unknown[] = []
    const wish = ref(0)
    const ask = (): Promise<string> => new Promise((give, fail) => asked.push({ give, fail }))
    const answer = effectScope().run(() =>
      useLatest(
        'none',
        () => wish.value,
        ask,
        (error) => faults.push(error),
      ),
    )!
    expect(answer.value).toBe('none')
    wish.value = 1
    await settled()
    wish.value = 2
    await settled()
    asked[1]!.give('second')
    asked[0]!.fail(new Error('late'))
    await settled()
    expect([answer.value, faults]).toEqual(['none', []])
    asked[2]!.give('third')
    await settled()
    expect(answer.value).toBe('third')
    wish.value = 3
    await settled()
    asked[3]!.fail(new Error('gone'))
    await settled()
    expect([answer.value, faults]).toEqual(['third', [new Error('gone')]])
  })
})
