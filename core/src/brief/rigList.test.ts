import { openLines } from '../report/openLines'
import { openPutBacks, USUAL_PUT_BACKS } from '../report/putBack'
import { ratioWords, rigList, rigMinutes } from './rigList'

const idsOf = (job: Parameters<typeof rigList>[0]): string[] => rigList(job).map((one) => one.id)

describe('the rig list', () => {
  it('of a drum asks for extraction, a second person and straps before all else', () => {
    expect(idsOf({}).slice(0, 3)).toEqual(['extraction', 'second-person', 'straps'])
    const gates = rigList({}).filter((one) => one.gate)
    expect(gates.map((one) => one.id)).toEqual(expect.arrayContaining(['battery', 'throttle', 'free-air', 'ratio']))
    expect(rigList({}).find((one) => one.id === 'extraction')!.caution).toMatch(/Carbon monoxide/)
  })
  it('of a road test has a rider instead, and no drum', () => {
    const ids = idsOf({ rigging: { drive: 'road' } })
    expect(ids[0]).toBe('rider')
    for (const one of ['straps', 'extraction', 'ratio', 'fan']) expect(ids).not.toContain(one)
  })
  it.each([
    [{ rigging: { fuelling: 'carburetted' as const } }, 'fuel-tap', 'oxygen-plug'],
    [{ rigging: { fuelling: 'injected' as const } }, 'oxygen-plug', 'fuel-tap'],
    [{ machine: { forcedInduction: true } }, 'boost', 'fuel-tap'],
  ])('of %j has %s and not %s', (job, there, not) => {
    expect(idsOf(job)).toContain(there)
    expect(idsOf(job)).not.toContain(not)
  })
  it('warns of fuel under pressure only where the tank is lifted, and of a soft tyre only where one is noted', () => {
    const cautions = (job: Parameters<typeof rigList>[0]): string =>
      rigList(job)
        .map((one) => one.caution)
        .join(' ')
    expect(cautions({ rigging: { pickUp: 'wires under the tank' } })).toMatch(/Fuel under pressure/)
    expect(cautions({})).not.toMatch(/Fuel under pressure/)
    expect(cautions({ limits: { softTyre: true } })).toMatch(/Soft tyre/)
  })
  it('asks for what no log can tell from lean: leaks ahead of the probe, and secondary air', () => {
    for (const drive of ['drum', 'road'] as const)
      expect(idsOf({ rigging: { drive } })).toEqual(expect.arrayContaining(['joints', 'secondary-air']))
  })
  it('has no line twice, and takes 20 to 90 minutes, as rigging does', () => {
    for (const drive of ['drum', 'road'] as const)
      for (const fuelling of ['injected', 'carburetted'] as const) {
        const lines = rigList({ rigging: { drive, fuelling } })
        expect(new Set(lines.map((one) => one.id)).size).toBe(lines.length)
        const { all, left } = rigMinutes(lines.map((one, k) => ({ ...one, done: k === 0 })))
        expect(all).toBeGreaterThanOrEqual(20)
        expect(all).toBeLessThanOrEqual(90)
        expect(all - left).toBe(lines[0]!.minutes)
      }
  })
})

it.each([
  [[], ''],
  [[2.31], ''],
  [[2.31, 2.315, 2.32], 'steady'],
  [[2.31, 2.36], 'slip'],
])('the ratio of runs %j: %p', (ratios, word) => expect(ratioWords(ratios)).toContain(word))

describe('what stands between a job and being done', () => {
  const line = { ...USUAL_PUT_BACKS[0]!, back: false, leftSo: false }
  const pin = { word: 'hot' as const, riderSays: null, leftOpen: false }
  it('is each line not back, and each complaint without an answer', () => {
    expect(openLines([pin], [line]).map((one) => one.field)).toEqual(['put-back', 'complaints'])
    expect(openLines([{ ...pin, riderSays: 'same' }], [{ ...line, back: true }])).toEqual([])
    expect(openLines([{ ...pin, found: 'hole', done: 'filled' }], [])).toEqual([])
    expect(openLines([{ ...pin, found: 'hole' }], [])).toHaveLength(1)
    expect(openLines([{ ...pin, leftOpen: true }], [{ ...line, leftSo: true }])).toEqual([])
  })
  it('counts what is open', () => {
    expect(openPutBacks([line, { ...line, back: true }, { ...line, leftSo: true }])).toHaveLength(1)
  })
})
