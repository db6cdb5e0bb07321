import { liveLines } from './liveLines'

const reader = (mapped = () => undefined as never) => liveLines({ mapped, gaugeScale: 14.7 })

describe('lines as they come', () => {
  it.each([
    ['commas', ',', '13.23'],
    ['semicolons and decimal commas', ';', '13,23'],
    ['tabs', '\t', '13.23'],
    ['bars', '|', '13.23'],
    ['blanks', ' ', '13.23'],
  ])('are told apart by %s', (_name, by, afr) => {
    const lines = reader()
    expect(lines.read(['rpm', 'ThrPos', 'AFR'].join(by), 0)).toEqual([])
    const [one] = lines.read(['3000', '20', afr].join(by), 0.1)
    expect(one!.values).toEqual({ rpm: 3000, throttle: 20, lambda1: expect.closeTo(0.9, 3) as number })
  })

  it('bring units of their own into ours, and what cannot be is no reading', () => {
    const lines = reader()
    lines.read('RPM,Coolant (degF),Speed (mph),MAP (psia)', 0)
    expect(lines.read('4000,212,60,14.5', 0)[0]!.values).toEqual({
      rpm: 4000,
      coolant: expect.closeTo(100, 1) as number,
      speed: expect.closeTo(96.6, 1) as number,
      manifold: expect.closeTo(100, 0) as number,
    })
    expect(lines.read('4000,9999,60,14.5', 0.1)[0]!.values['coolant']).toBeNaN()
  })

  it('a header that comes again changes nothing; another one is taken anew', () => {
    const lines = reader()
    lines.read('rpm,lambda', 0)
    lines.read('3000,0.9', 0.1)
    lines.read('rpm,lambda', 0.2)
    expect(lines.read('3100,0.91', 0.3)).toHaveLength(1)
    lines.read('lambda,rpm', 0.4)
    expect(lines.read('0.92,3200', 0.5)[0]!.values).toEqual({ lambda1: 0.92, rpm: 3200 })
  })

  it('their own clock counts, whatever its unit, and one that begins anew goes on', () => {
    for (const unit of [1, 1000, 1e6]) {
      const lines = reader()
      lines.read('time,rpm,lambda', 0)
      const told = Array.from({ length: 30 }, (_, k) =>
        // They come in bunches; their clock is even.
        lines.read(`${((7 + k * 0.1) * unit).toFixed(4)},3000,0.9`, Math.ceil(k / 5) * 0.5),
      ).flat()
      expect(told).toHaveLength(30)
      expect(told[29]!.time - told[0]!.time).toBeCloseTo(2.9, 2)
      const [again] = lines.read('0,3000,0.9', 60)
      expect(again!.time).toBeCloseTo(60, 1)
    }
  })

  it('says how far its sender lags', () => {
    const lines = reader()
    lines.read('time (s),rpm,lambda', 0)
    lines.read('0,3000,0.9', 0)
    lines.read('1,3000,0.9', 3.5)
    expect(lines.behind()).toBeCloseTo(2.5, 3)
  })

  it('what somebody said of a header goes first; rubbish is counted and tells nothing', () => {
    const lines = liveLines({
      mapped: () => ({ a: { channel: 'rpm', unit: 'rpm' }, b: { channel: 'lambda1', unit: 'AFR' }, c: null }),
      gaugeScale: 14.7,
    })
    expect(lines.read('3000,1,2', 0)).toEqual([])
    lines.read('a,b,c', 0)
    expect(lines.read('3000,14.7,5', 0)[0]!.values).toEqual({ rpm: 3000, lambda1: 1 })
    expect(lines.read('12\u0000\u0007', 0)).toEqual([])
    expect(lines.strange()).toBeGreaterThanOrEqual(1)
  })
})
