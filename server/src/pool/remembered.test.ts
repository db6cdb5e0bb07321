import { remembered } from './remembered'

const soon = <T>(value: T): (() => Promise<T>) => jest.fn(() => Promise.resolve(value))

describe('answers worked out lately', () => {
  it('are given again without work, whatever object asks, and worked out for another question', async () => {
    const answers = remembered<string>(4)
    const work = soon('one')
    expect(await answers.ask({ runs: ['a'], lag: 0.2 }, work)).toBe('one')
    expect(await answers.ask({ runs: ['a'], lag: 0.2 }, work)).toBe('one')
    expect(work).toHaveBeenCalledTimes(1)
    expect(await answers.ask({ runs: ['a'], lag: 0.21 }, soon('two'))).toBe('two')
  })
  it('are worked out once where they are asked for at the same time', async () => {
    const answers = remembered<number>(4)
    const work = soon(7)
    expect(await Promise.all([1, 2, 3].map(() => answers.ask('q', work)))).toEqual([7, 7, 7])
    expect(work).toHaveBeenCalledTimes(1)
  })
  it('the one not asked for the longest goes first', async () => {
    const answers = remembered<number>(2)
    await answers.ask('a', soon(1))
    await answers.ask('b', soon(2))
    await answers.ask('a', soon(-1))
    await answers.ask('c', soon(3))
    expect(await answers.ask('a', soon(-1))).toBe(1)
    expect(await answers.ask('b', soon(20))).toBe(20)
  })
  it('errors are passed on, and the next one who asks gets the answer', async () => {
    const answers = remembered<number>(2)
    await expect(answers.ask('q', () => Promise.reject(new Error('gone')))).rejects.toThrow('gone')
    expect(await answers.ask('q', soon(5))).toBe(5)
  })
  it('work that was called off by whoever asked first is begun anew for whoever waits', async () => {
    const answers = remembered<number>(2)
    let callOff = (): void => undefined
    const first = answers.ask('q', () => new Promise((_, reject) => (callOff = () => reject(new Error('aborted')))))
    const work = soon(9)
    const others = [1, 2, 3].map(() => answers.ask('q', work))
    callOff()
    await expect(first).rejects.toThrow('aborted')
    expect(await Promise.all(others)).toEqual([9, 9, 9])
    expect(work).toHaveBeenCalledTimes(1)
  })
})
