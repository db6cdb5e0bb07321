import type { RunInfo } from './runInfo'
import { highestRpm } from './highestRpm'

const run = (max: number | null, toRpm: number | null): RunInfo =>
  ({
    channels: [{ channel: 'time', max: 99 }, ...(max === null ? [] : [{ channel: 'rpm', max }])],
    facts: toRpm === null ? null : { toRpm },
  }) as unknown as RunInfo

test('the highest speed of runs is no spike of the signal', () => {
  expect(highestRpm([run(8000, 7900), run(9650, 9500)])).toBe(9650)
  expect(highestRpm([run(22_000, 9000), run(8000, 7900)])).toBeCloseTo(10_350, 6)
  expect(highestRpm([run(9650, null), run(null, 9000)])).toBe(9650)
  expect(highestRpm([])).toBe(0)
})
