import { newRun } from './newRun'

const column = (channel: string, unit: string, values: number[]) => ({
  channel,
  unit,
  values: Float32Array.from(values),
})

describe('a run from columns', () => {
  const columns = [
    column('time', 's', [2, 2.5, 3]),
    column('rpm', 'rpm', [3000, 3100, 3050]),
    column('lambda1', 'λ', [NaN, 0.9, 1.1]),
    column('lambda2', 'λ', [NaN, NaN, NaN]),
  ]

  it('tells length, extremes and facts from them, and leaves out what was never read', async () => {
    const run = newRun(columns, { name: 'A', kind: 'hold' })
    expect(run).toMatchObject({ name: 'A', kind: 'hold', samples: 3, duration: 1, warnings: [], gaugeScale: null })
    expect(run.channels.map(({ channel, count }) => [channel, count])).toEqual([
      ['time', 3],
      ['rpm', 3],
      ['lambda1', 2],
    ])
    expect(run.channels[2]!.min).toBeCloseTo(0.9)
    expect(run.channels[2]!.max).toBeCloseTo(1.1)
    expect(run.facts!.toRpm).toBeLessThanOrEqual(3100)
    expect(await run.channels[1]!.load()).toBe(columns[1]!.values)
  })

  it('keeps what was said of it, and tells two runs of other speeds apart', () => {
    const said = newRun(columns, { name: 'A', kind: 'road', warnings: ['cut'], duration: 9, gaugeScale: 14.7 })
    expect(said).toMatchObject({ warnings: ['cut'], duration: 9, gaugeScale: 14.7 })
    const other = columns.map((one) => (one.channel === 'rpm' ? column('rpm', 'rpm', [1, 2, 3]) : one))
    expect(newRun(other, { name: 'A', kind: 'road' }).digest).not.toBe(said.digest)
  })
})
