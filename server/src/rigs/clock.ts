/** The time that a rig lives by, ms. Handed to it, so that tests need not wait for the wall's. */
export interface Clock {
  now(): number
  /** Calls again and again. @returns what ends it */
  every(ms: number, tick: () => void): () => void
  wait(ms: number): Promise<void>
}

/** The clock on the wall. */
export function wallClock(): Clock {
  return {
    now: () => performance.now(),
    every(ms, tick) {
      const timer = setInterval(tick, ms)
      return () => clearInterval(timer)
    },
    wait: (ms) => new Promise((resolve) => setTimeout(resolve, ms)),
  }
}

/** A clock that stands until it is moved on. */
export interface SteppedClock extends Clock {
  /** Goes on by so many ms; what is due on the way is called in its order. */
  advance(ms: number): void
  /** whether anything is due on it, now or later */
  isAwaited(): boolean
}

export function steppedClock(): SteppedClock {
  let now = 0
  const due = new Set<{ at: number; every: number | null; call: () => void }>()
  return {
    now: () => now,
    every(ms, call) {
      const one = { at: now + ms, every: ms, call }
      due.add(one)
      return () => due.delete(one)
    },
    wait: (ms) => new Promise((resolve) => due.add({ at: now + ms, every: null, call: resolve })),
    advance(ms) {
      const end = now + ms
      for (;;) {
        const next = [...due].filter((one) => one.at <= end).sort((a, b) => a.at - b.at)[0]
        if (!next) break
        now = next.at
        if (next.every === null) due.delete(next)
        else next.at += next.every
        next.call()
      }
      now = end
    },
    isAwaited: () => due.size > 0,
  }
}

/** ms that a hurried clock goes on by at once, however long nobody looked: nothing on it can miss its turn. */
const STRIDE = 40

/**
 * A clock that goes so many times as fast as the one on the wall, for tests. When the machine is busy it falls behind rather
 * than leap: on it a rig is never silent because something else took its time. It stands while nobody waits for it.
 *
 * @returns the clock, and what ends it
 */
export function hurriedClock(times: number): Clock & { end(): void } {
  const { now, every, wait, advance, isAwaited } = steppedClock()
  let last = 0
  let timer: ReturnType<typeof setInterval> | undefined
  const end = (): void => {
    clearInterval(timer)
    timer = undefined
  }
  const tick = (): void => {
    const wall = performance.now()
    advance(Math.min(STRIDE, (wall - last) * times))
    last = wall
    if (!isAwaited()) end()
  }
  const start = (): void => {
    if (timer) return
    last = performance.now()
    // It keeps no process alive by itself.
    timer = setInterval(tick, Math.max(1, STRIDE / times)).unref()
  }
  return {
    now,
    every(ms, call) {
      start()
      return every(ms, call)
    },
    wait(ms) {
      start()
      return wait(ms)
    },
    end,
  }
}
