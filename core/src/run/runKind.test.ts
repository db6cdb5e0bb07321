import { guessKind } from './runKind'

describe('kinds of run', () => {
  const time = Float32Array.from({ length: 500 }, (_, i) => i / 50)
  const flat = (value: number) => new Float32Array(500).fill(value)
  it('are guessed from what they hold', () => {
    const rising = time.map((t) => 2000 + 800 * t)
    expect(
      guessKind(
        time,
        rising,
        flat(40).map((v, i) => v + 0.4 * Math.sin(i * 2.4)),
      ),
    ).toBe('sweep')
    expect(guessKind(time, flat(4000), flat(40))).toBe('hold')
    expect(
      guessKind(
        time,
        flat(4000).map((v, i) => v + i / 2),
        time.map((t) => (t % 4 < 2 ? 5 : 60)),
      ),
    ).toBe('roll-on')
    expect(
      guessKind(
        time,
        rising,
        time.map((t) => 30 + 30 * Math.sin(5 * t)),
      ),
    ).toBe('road')
    expect(guessKind(time, rising, undefined)).toBe('sweep')
    // A ride of ten minutes whose openings last for five seconds each, though one of them is met more often.
    const ten = Float32Array.from({ length: 6000 }, (_, i) => i / 10)
    const openings = [10, 25, 6, 40, 15, 70, 6, 100]
    const ridden = ten.map((t) => openings[Math.floor(t / 5) % openings.length]!)
    const speeds = ten.map((t) => 4500 + 2000 * Math.sin(t / 9))
    expect(guessKind(ten, speeds, ridden)).toBe('road')
    // Sweep after sweep at one stop, the plate shut between them, is none.
    const again = ten.map((t) => (t % 30 < 20 ? 40 : 1))
    expect(guessKind(ten, speeds, again)).toBe('sweep')
  })
  it('a hold in which the advance was stepped is a spark step, though the throttle shuts at its end', () => {
    const stepped = time.map((t) => 20 + 3 * Math.floor(t / 2))
    const ended = flat(4000).map((v, i) => (i > 460 ? v - 40 * (i - 460) : v))
    const shut = flat(40).map((v, i) => (i > 460 ? 0 : v))
    expect(guessKind(time, ended, shut, stepped)).toBe('spark step')
    expect(guessKind(time, flat(4000), flat(40), flat(24))).toBe('hold')
    // In a sweep the table moves the advance by itself.
    const rising = time.map((t) => 2000 + 800 * t)
    expect(
      guessKind(
        time,
        rising,
        flat(40),
        rising.map((v) => v / 300),
      ),
    ).toBe('sweep')
  })
  it('so is a log in which it was stepped at several speeds, one after the other; a ride over several speeds is none', () => {
    const long = Float32Array.from({ length: 3000 }, (_, i) => i / 50)
    const speeds = long.map((t) => [3000, 4200, 5400][Math.floor(t / 20)]!)
    const stepped = long.map((t) => 20 + 3 * Math.floor((t % 20) / 4))
    const at = new Float32Array(3000).fill(60)
    expect(guessKind(long, speeds, at, stepped)).toBe('spark step')
    // The table alone moves the advance from one speed to the next.
    const own = speeds.map((rpm) => rpm / 200)
    expect(guessKind(long, speeds, at, own)).not.toBe('spark step')
  })
})
