import { saver } from './saver'

beforeEach(() => jest.useFakeTimers())
afterEach(() => jest.useRealTimers())

/** A store that answers when it is told to. */
function fake() {
  const sent: [job: string, change: object][] = []
  const answers: ((error?: Error) => void)[] = []
  const faults: string[] = []
  const made = saver<Record<string, unknown>>(
    (job, change) => {
      sent.push([job, change])
      return new Promise((resolve, reject) => answers.push((error) => (error ? reject(error) : resolve())))
    },
    (error) => faults.push(error.message),
  )
  const settle = async (): Promise<void> => {
    for (let k = 0; k < 8; k++) await Promise.resolve()
  }
  return { ...made, sent, answers, faults, settle }
}

describe('choices that save themselves', () => {
  it('are sent once they rest, together', async () => {
    const one = fake()
    one.later('a', { plan: 1 })
    one.later('a', { spark: 2, plan: 3 })
    expect([one.sent, one.state.value]).toEqual([[], 'waiting'])
    jest.advanceTimersByTime(500)
    await one.settle()
    expect([one.sent, one.state.value]).toEqual([[['a', { plan: 3, spark: 2 }]], 'saving'])
    one.answers[0]!()
    await one.settle()
    expect(one.state.value).toBe('saved')
  })
  it('keep the id of the job they were made in, though another is open when they are sent', async () => {
    const one = fake()
    one.later('a', { plan: 1 })
    one.later('b', { plan: 2 })
    await one.settle()
    expect(one.sent).toEqual([['a', { plan: 1 }]])
    jest.advanceTimersByTime(500)
    one.answers[0]!()
    await one.settle()
    expect(one.sent).toEqual([
      ['a', { plan: 1 }],
      ['b', { plan: 2 }],
    ])
  })
  it('are sent at once when one leaves, and the leaver can wait for it', async () => {
    const one = fake()
    one.later('a', { plan: 1 })
    const left = one.flush()
    await one.settle()
    expect(one.sent).toHaveLength(1)
    one.answers[0]!()
    await left
    expect(one.state.value).toBe('saved')
    await one.flush()
    expect(one.sent).toHaveLength(1)
  })
  it('two saves in flight go one after the other, and the state tells of both', async () => {
    const one = fake()
    one.later('a', { plan: 1 })
    void one.flush()
    await one.settle()
    one.later('a', { plan: 2 })
    void one.flush()
    await one.settle()
    expect(one.sent).toHaveLength(1)
    one.answers[0]!()
    await one.settle()
    expect(one.sent).toHaveLength(2)
    expect(one.state.value).not.toBe('waiting')
    one.answers[1]!()
    await one.settle()
    expect(one.state.value).toBe('saved')
  })
  it('a failure is told, and the next choice is sent all the same', async () => {
    const one = fake()
    one.later('a', { plan: 1 })
    void one.flush()
    await one.settle()
    one.answers[0]!(new Error('The disk is full.'))
    await one.settle()
    expect([one.state.value, one.faults]).toEqual(['failed', ['The disk is full.']])
    one.later('a', { plan: 2 })
    void one.flush()
    await one.settle()
    one.answers[1]!()
    await one.settle()
    expect(one.state.value).toBe('saved')
  })
  it('are known until they are saved, so that an answer asked for before does not undo them', async () => {
    const one = fake()
    one.later('a', { plan: 1 })
    expect([one.pending('a'), one.pending('b')]).toEqual([{ plan: 1 }, null])
    jest.advanceTimersByTime(500)
    await one.settle()
    one.later('a', { spark: 2 })
    expect(one.pending('a')).toEqual({ plan: 1, spark: 2 })
    // Of an answer to what is under way, only what was chosen since is newer.
    expect(one.pending('a', false)).toEqual({ spark: 2 })
    one.answers[0]!()
    await one.settle()
    expect(one.pending('a')).toEqual({ spark: 2 })
  })
})
