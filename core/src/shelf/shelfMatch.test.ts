import { DEFAULT_JETTING } from '../contract/jetting'
import type { Shelf } from '../contract/shelf'
import type { Table } from '../table/table'
import { checkRunsOf, likesOf, shelfDifference, shelfMatches } from './shelfMatch'
import { shelfPrior } from './shelfPrior'

const TABLE: Table = {
  kind: 'fuel base',
  composition: 'multiply',
  loadAxis: 'throttle',
  rpm: [2000, 5000, 8000],
  load: [20, 100],
  values: [
    [10, 12, 11],
    [20, 24, 22],
  ],
} as Table
const MACHINE = { name: 'Curlew 437', cylinders: 1, displacementCc: 437, strokes: 4 }
const kept = (id: string, more: Partial<Shelf> = {}): Shelf => ({
  id,
  name: id,
  at: '2026-01-01T00:00:00Z',
  job: 'a job',
  machine: MACHINE,
  fuel: { id: 'e5' },
  changed: undefined,
  fuelSold: undefined,
  target: 'usual',
  proven: { runs: 0, rmsPct: null, worstPct: null },
  table: TABLE,
  ...more,
})
const job = { machine: MACHINE, fuel: { id: 'e5' } }

describe('what on the shelf is near', () => {
  it('the same machine, parts and fuel score 1 and differ in nothing', () => {
    expect(shelfMatches(job, [kept('a')])).toMatchObject([{ score: 1, differences: [], likes: 1 }])
  })
  it('each difference lowers the score and is said', () => {
    const silencer = [{ part: 'silencer' as const, bore: 'same' as const, length: 'other' as const, removed: false }]
    const [other] = shelfMatches(job, [kept('b', { changed: silencer })])
    expect(other).toMatchObject({ differences: ['there silencer: other length, here not so'] })
    expect(other!.score).toBeLessThan(1)
    const [small] = shelfMatches(job, [kept('c', { machine: { ...MACHINE, displacementCc: 400 } })])
    expect(small!.differences).toEqual(['400 cc instead of 437 cc'])
  })
  it('ethanol is told by how much fuel it takes, and which way', () => {
    const [more] = shelfMatches({ machine: MACHINE, fuelSold: { ethanolPct: 10 } }, [
      kept('d', { fuelSold: { ethanolPct: 5 } }),
    ])
    expect(more!.differences).toEqual([
      expect.stringMatching(/^fuel with 5 % more ethanol: about [12]\.\d % of fuel, richer is needed here$/),
    ])
  })
  it('other carburettors are told by kind, bore and number', () => {
    const jetting = { ...DEFAULT_JETTING, body: { ...DEFAULT_JETTING.body, bore: 26 } }
    const wider = { settings: { ...jetting, body: { ...jetting.body, bore: 28 } }, fitted: null }
    expect(shelfMatches({ ...job, jetting }, [kept('n', { table: null, jets: wider })])).toMatchObject([
      { differences: ['bore 28 mm instead of 26 mm'], likes: 1, checkRuns: [{ fromRpm: 2000, toRpm: 6000 }, {}, {}] },
    ])
    expect(shelfMatches(job, [kept('n', { jets: wider })])[0]!.differences).toEqual(['carburettors on that side only'])
  })
  it('a blown machine, or one of other cylinders, is not near', () => {
    expect(
      shelfMatches(job, [
        kept('e', { machine: { ...MACHINE, forcedInduction: true } }),
        kept('f', { machine: { ...MACHINE, strokes: 2 } }),
      ]),
    ).toEqual([])
  })
  it('several as near lend their mean, of one kind of table only', () => {
    const matches = shelfMatches(job, [
      kept('g'),
      kept('h'),
      kept('i', { table: { ...TABLE, kind: 'spark base' } as Table }),
    ])
    expect(matches.map((one) => one.likes)).toEqual([2, 2, 1])
    expect(likesOf(matches[0]!, matches).map((one) => one.shelf.id)).toEqual(['g', 'h'])
  })
  it('check runs stay below the rev ceiling', () => {
    expect(checkRunsOf(TABLE, 7000)).toEqual([100, 40, 15].map((stop) => ({ stop, fromRpm: 2000, toRpm: 7000 })))
  })
})

describe('the mean of several', () => {
  it('is geometric for fuel, plain for trims', () => {
    const twice = { ...TABLE, values: TABLE.values.map((row) => row.map((one) => 4 * one)) }
    expect(shelfPrior([TABLE, twice]).values[0]![0]).toBeCloseTo(20, 9)
    const trim = { ...TABLE, kind: 'fuel trim' } as Table
    expect(shelfPrior([trim, { ...trim, values: twice.values }]).values[0]![0]).toBeCloseTo(25, 9)
  })
  it('refuses none, and tables of different kinds', () => {
    expect(() => shelfPrior([])).toThrow(RangeError)
    expect(() => shelfPrior([TABLE, { ...TABLE, kind: 'spark base' } as Table])).toThrow(RangeError)
  })
})

describe('has somebody been in here?', () => {
  const CAME = { name: 'Whimbrel 240', asItCame: true }
  it('is told by a table as it came, and not by a calibration', () => {
    const changed = { ...TABLE, values: TABLE.values.map((row) => row.map((one) => 1.04 * one)) }
    const made = { name: 'Whimbrel, open lid', asItCame: false }
    expect(shelfDifference(TABLE, TABLE, CAME).said).toMatch(/^Nobody seems to have been in here/)
    expect(shelfDifference(changed, TABLE, CAME).said).toMatch(/^Somebody has been in here, or in "Whimbrel 240"/)
    expect(shelfDifference(changed, TABLE, made).said).toMatch(/that does not tell\.$/)
    expect(shelfDifference(TABLE, TABLE, made).said).toMatch(/a calibration somebody made: it is in here already/)
  })
  it('says where, how much and which way', () => {
    const mine = {
      ...TABLE,
      values: [
        [10, 12, 11],
        [20, 24 * 1.05, 22 * 1.03],
      ],
    }
    expect(shelfDifference(mine, TABLE, CAME)).toMatchObject({
      same: false,
      cells: 2,
      of: 6,
      largest: expect.closeTo(5, 6),
    })
    expect(shelfDifference(mine, TABLE, CAME).said).toMatch(
      /from 5\u202f000 to 8\u202f000 rpm, by \+4\.0 % as a rule \(richer\)/,
    )
  })
  it('passes over what controllers round', () => {
    expect(
      shelfDifference({ ...TABLE, values: TABLE.values.map((row) => row.map((one) => one * 1.001)) }, TABLE, CAME).same,
    ).toBe(true)
  })
})
