import type { Complaint } from '@yuzumix/core'
import { pinSpans, placeWords } from './pinWords'

const pin = (over: Partial<Complaint>): Complaint => ({ id: 'p', at: '', word: 'hunts', ...over }) as Complaint

describe('where a complaint is pinned', () => {
  it.each([
    [{}, ''],
    [{ fromRpm: 3000, toRpm: 4200 }, '3\u202f000 to 4\u202f200 rpm'],
    [{ fromRpm: 3000 }, 'from 3\u202f000 rpm'],
    [{ toThrottle: 20 }, 'up to 20 % throttle'],
    [{ fromThrottle: 0, toThrottle: 10, gear: 2, temperature: 'cold' as const }, '0 to 10 % throttle, gear 2, cold'],
  ])('%j', (where, words) => expect(placeWords(pin(where))).toBe(words))
})

describe('complaints on the ruler', () => {
  it('are those with a span of rpm, held inside it, with what the rider says', () => {
    const spans = pinSpans(
      [pin({ toThrottle: 20 }), pin({ id: 'q', fromRpm: 3000, toRpm: 20_000, riderSays: 'gone' })],
      10_000,
    )
    expect(spans).toMatchObject([{ from: 3000, to: 10_000, text: 'hunts: gone', look: 'attention' }])
  })
})
