import type { Complaint } from '@yuzumix/core'
import { pinSpans } from './pinSpans'

const pin = (over: Partial<Complaint>): Complaint => ({ id: 'p', at: '', word: 'hunts', ...over }) as Complaint

describe('complaints on the ruler', () => {
  it('are those with a span of rpm, held inside it, with what the rider says', () => {
    const spans = pinSpans(
      [pin({ toThrottle: 20 }), pin({ id: 'q', fromRpm: 3000, toRpm: 20_000, riderSays: 'gone' })],
      10_000,
    )
    expect(spans).toMatchObject([{ from: 3000, to: 10_000, text: 'hunts: gone', look: 'attention' }])
  })
})
