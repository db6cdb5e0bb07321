import { readAsWords, readChannelAs } from './readAs'

const stored: Record<string, Float32Array> = {
  time: Float32Array.of(0, 1),
  rpm: Float32Array.of(4000, 8000),
  throttle: Float32Array.of(8, 92),
  lambda1: Float32Array.of(0.9, 0.9),
  lambda2: Float32Array.of(1, 1),
}
const column = (channel: string): Float32Array | null => stored[channel] ?? null

it('reads columns otherwise than they were stored, and stores nothing', () => {
  const readAs = { speed: 0.5, time: 2, throttle: { shut: 8, open: 92 }, exchanged: true }
  const read = (channel: string): number[] => [...readChannelAs(readAs, channel, column)!]
  expect([read('time'), read('rpm'), read('throttle')]).toEqual([
    [0, 2],
    [2000, 4000],
    [0, 100],
  ])
  expect([read('lambda1'), read('lambda2')]).toEqual([[1, 1], [...stored.lambda1!]])
  expect(readChannelAs(readAs, 'torque', column)).toBeNull()
  expect(readChannelAs(null, 'rpm', column)).toBe(stored.rpm)
  expect([...stored.rpm!]).toEqual([4000, 8000])
})
it('is told in words', () => {
  expect(readAsWords({ speed: 0.5, throttle: { shut: 8, open: 92 } })).toBe(
    'engine speed times 0.5, throttle 8 to 92 % read as 0 to 100',
  )
  expect(readAsWords({})).toBe('as it was logged')
})
