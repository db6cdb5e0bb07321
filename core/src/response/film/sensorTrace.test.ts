import { sensorTrace } from './sensorTrace'

test('traces side by side are shown as each by itself', () => {
  const [one, other] = [
    [1, 1, 1.2, 1.1, 0.9],
    [0, 0.5, 0.5, -1, 2],
  ]
  const both = sensorTrace(
    one!.flatMap((value, k) => [value, other![k]!]),
    0.08,
    0.02,
    2,
  )
  for (const [at, trace] of [one!, other!].entries())
    expect([...both].filter((_, k) => k % 2 === at)).toEqual([...sensorTrace(trace, 0.08, 0.02)])
})
