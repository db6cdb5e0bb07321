import { isMilliseconds } from './milliseconds'

const rows = (count: number, step: number, rpm: (seconds: number) => number, secondsPerRow = step / 1000) => ({
  time: Array.from({ length: count }, (_, k) => step * k),
  rpm: Array.from({ length: count }, (_, k) => rpm(k * secondsPerRow)),
})
const sweep = (seconds: number): number => 3000 + 600 * seconds + 15 * Math.sin(40 * seconds)
const told = ({ time, rpm }: { time: number[]; rpm: number[] }): boolean => isMilliseconds(time, rpm)

it.each([1, 2, 5, 10, 20, 50, 100, 250])('a sweep in steps of %i ms is told', (step) =>
  expect(told(rows(9000 / step, step, sweep))).toBe(true),
)
it('with a throttle chop at its end, too', () =>
  expect(told(rows(115, 100, (s) => (s < 10 ? sweep(s) : 9000 - 5000 * (s - 10))))).toBe(true))
it.each([
  ['seconds at 50 Hz', rows(500, 0.02, sweep, 0.02)],
  ['seconds at 1 Hz on the road', rows(300, 1, (s) => 4000 + 2500 * Math.sin(s / 3), 1)],
  ['points noted every 20 s', rows(40, 20, (k) => 2000 + 500 * (Math.round(k / 20) % 12), 20)],
  ['a warm-up watched every 10 s', rows(60, 10, (s) => 1500 - s / 4, 10)],
  ['a road log every 10 s', rows(200, 10, (s) => 4000 + 2500 * Math.sin(s * 1.7), 10)],
  ['a slow climb at 1 Hz', rows(60, 1, (s) => 3500 + 20 * s + 8 * Math.sin(s), 1)],
  ['a slow climb every 4 s', rows(60, 4, (s) => 3500 + 12 * s, 4)],
  ['too few rows to tell', rows(20, 100, sweep)],
])('%s are seconds', (_what, log) => expect(told(log)).toBe(false))
