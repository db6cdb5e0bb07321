import { hurriedClock, steppedClock, wallClock } from './clock'

describe('a clock that is moved by hand', () => {
  it('calls what is due in its order, as often as it is due', async () => {
    const clock = steppedClock()
    const called: string[] = []
    const end = clock.every(20, () => called.push(`tick ${clock.now()}`))
    void clock.wait(30).then(() => called.push('waited'))
    clock.advance(19)
    expect(called).toEqual([])
    clock.advance(41)
    await Promise.resolve()
    expect(called).toEqual(['tick 20', 'tick 40', 'tick 60', 'waited'])
    end()
    clock.advance(100)
    expect([called.length, clock.now()]).toEqual([4, 160])
  })
})

describe('a hurried clock', () => {
  it('goes on by itself until it is ended', async () => {
    const clock = hurriedClock(40)
    let ticks = 0
    clock.every(20, () => ticks++)
    await clock.wait(200)
    expect(ticks).toBeGreaterThanOrEqual(9)
    clock.end()
    const at = clock.now()
    await wallClock().wait(5)
    expect(clock.now()).toBe(at)
  })
  it('stands while nobody waits for it, and goes on when somebody does', async () => {
    const clock = hurriedClock(1000)
    await clock.wait(20)
    const at = clock.now()
    await wallClock().wait(5)
    expect(clock.now()).toBe(at)
    await clock.wait(30)
    expect(clock.now()).toBeGreaterThanOrEqual(at + 30)
  })
  it('falls behind when nobody looked for a while, so that nothing on it misses its turn', async () => {
    const clock = hurriedClock(1000)
    const gaps: number[] = []
    let last = clock.now()
    clock.every(20, () => {
      gaps.push(clock.now() - last)
      last = clock.now()
    })
    for (const until = performance.now() + 30; performance.now() < until;);
    await clock.wait(100)
    clock.end()
    expect(Math.max(...gaps)).toBe(20)
  })
})
