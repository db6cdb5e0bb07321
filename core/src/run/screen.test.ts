import { DEFAULT_FILTERS, type RunColumns } from './run'
import { pinnedMarks } from './pinnedMarks'
import { screenRun } from './screen'
import { settlingMarks } from './settling'
import { runningMean } from '../numbers/runningMean'
import { normal, random } from '../../trials/knownTruthLog'

describe('screening', () => {
  const n = 200
  const column = (f: (i: number) => number): Float32Array => Float32Array.from({ length: n }, (_, i) => f(i))
  const base = (): RunColumns => ({
    id: 'x',
    time: column((i) => i / 50),
    rpm: column(() => 4000),
    throttle: column(() => 30),
    lambda: [column((i) => 0.9 + 0.001 * (i % 3))],
  })
  const screen = (run: RunColumns, filters = {}) =>
    screenRun(run, { loadAxis: 'throttle', lag: 0, filters: { ...DEFAULT_FILTERS, ...filters } })!
  it('keeps a steady run whole', () => expect(screen(base())).toMatchObject({ count: n, setAside: {} }))
  it('says of a run under other filters what it would say of one never screened', () => {
    const run = { ...base(), throttle: column((i) => (i < 100 ? 20 : 60)) }
    const short = screen(run, { settle: 0.2 })
    const long = screen(run, { settle: 0.8 })
    expect(long).toEqual(screen({ ...run }, { settle: 0.8 }))
    expect(long.count).toBeLessThan(short.count)
    // Other columns are another run, though it goes by the same name.
    expect(screen({ ...run, throttle: column(() => 30) }, { settle: 0.8 }).setAside).toEqual({})
  })
  it('counts every reading once, used or set aside', () => {
    const run = {
      ...base(),
      rpm: column((i) => (i < 20 ? 0 : i > 180 ? NaN : 4000)),
      time: column((i) => (i === 90 ? 0.1 : i / 50)),
    }
    const { count, setAside } = screen(run)
    expect(count + Object.values(setAside).reduce((sum, one) => sum + one, 0)).toBe(n)
    expect(setAside).toEqual({ 'engine not running': 20, 'no reading': 19, 'time runs backwards': 1 })
  })
  it('sets aside the throttle step with guard and settling time', () => {
    const { setAside } = screen({ ...base(), throttle: column((i) => (i < 100 ? 20 : 60)) }, { settle: 0.5 })
    expect(setAside['throttle moving']).toBeGreaterThan(25)
    expect(setAside['throttle moving']).toBeLessThan(60)
    const marks = settlingMarks(
      base().time,
      runningMean(
        base().time,
        column((i) => 20 + 1.5 * Math.sin(2.1 * i)),
      ),
      DEFAULT_FILTERS,
    )
    expect(marks.every((mark) => mark === 0)).toBe(true)
  })
  it('sees a small opening move, unless its sensor is too noisy to tell', () => {
    const stepped = (noise: number): RunColumns => {
      const next = random(5)
      const run = base()
      return {
        ...run,
        throttle: Float32Array.from(run.time, (t) => (t < run.time[n - 1]! / 2 ? 2.2 : 5) + noise * normal(next)),
      }
    }
    expect(screen(stepped(0.05)).setAside['throttle moving']).toBeGreaterThan(0)
    expect(screen(stepped(1)).setAside['throttle moving'] ?? 0).toBe(0)
  })
  it('knows end stops, cold engines, rev ceilings and what lies outside the table', () => {
    expect(pinnedMarks(column((i) => (i > 100 ? 1.5 : 0.9 + 0.001 * (i % 5)))).reduce((sum, one) => sum + one, 0)).toBe(
      99,
    )
    expect(screen({ ...base(), coolant: column((i) => i) }).setAside['engine cold']).toBe(60)
    expect(screen(base(), { revCeiling: 3500 }).setAside['above the rev ceiling']).toBe(n)
    expect(
      screenRun(base(), {
        loadAxis: 'throttle',
        lag: 0,
        filters: DEFAULT_FILTERS,
        range: { rpm: [5000, 6000], load: [0, 100] },
      })!.setAside['outside the table'],
    ).toBe(n)
    expect(screenRun(base(), { loadAxis: 'manifold', lag: 0, filters: DEFAULT_FILTERS })).toBeNull()
  })
  it('shifts the state, not the reading', () => {
    const run = { ...base(), rpm: column((i) => 3000 + 20 * i) }
    const shifted = screenRun(run, { loadAxis: 'throttle', lag: 0.2, filters: DEFAULT_FILTERS })!
    expect(shifted.rpm[50]! - (3000 + 20 * (shifted.time[50]! * 50 - 10))).toBeCloseTo(0, 1)
  })
})
