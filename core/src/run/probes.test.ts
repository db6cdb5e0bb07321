import type { RunColumns } from './run'
import { byCylinder, crossCheck, standingProbes } from './probes'

const runOf = (first: (i: number) => number, second: (i: number) => number, trim?: number): RunColumns => {
  const column = (of: (i: number) => number): Float32Array => Float32Array.from({ length: 400 }, (_, i) => of(i))
  return {
    id: 'r',
    time: column((i) => i / 50),
    rpm: column(() => 4000),
    lambda: [column(first), column(second)],
    ...(trim !== undefined && { trimShort: column(() => trim) }),
  }
}

describe('probes and cylinders', () => {
  it.each([
    [undefined, null],
    [
      [
        { probe: 1, cylinder: 1 },
        { probe: 2, cylinder: 2 },
      ],
      [1, 2],
    ],
    [
      [
        { probe: 1, cylinder: 2 },
        { probe: 2, cylinder: 1 },
      ],
      [2, 1],
    ],
    [
      [
        { probe: 2, cylinder: 1 },
        { probe: 1, cylinder: 1 },
      ],
      [1],
    ],
  ])('%j stand as %j', (placed, standing) => expect(standingProbes(placed)).toEqual(standing))
  it('a run keeps one column a cylinder, and all where it has fewer than were placed', () => {
    const run = runOf(
      () => 0.9,
      () => 0.95,
    )
    expect(byCylinder(run, [2]).lambda).toEqual([run.lambda[1]])
    expect(byCylinder(run, [1, 3]).lambda).toHaveLength(2)
    expect(byCylinder(run, null)).toBe(run)
  })
})

describe('two probes in one gas', () => {
  const gas = (i: number): number => 0.9 + 0.1 * Math.sin(i / 30)
  it('that agree are told to agree, whatever the mixture does', () => {
    expect(crossCheck([runOf(gas, (i) => gas(i) * 1.004)], 1, 2)).toMatchObject({
      agree: true,
      off: null,
      samples: 400,
    })
  })
  it('that differ are told by how much; a closed loop tells which one is off', () => {
    const open = crossCheck([runOf(gas, (i) => gas(i) / 1.04)], 1, 2)!
    expect(open.differencePct).toBeCloseTo(4, 3)
    expect(open).toMatchObject({ agree: false, off: null })
    const loop = runOf(
      (i) => 1.04 + 0.005 * Math.sin(i),
      (i) => 1 + 0.005 * Math.sin(i),
      2,
    )
    expect(crossCheck([loop], 1, 2)).toMatchObject({ agree: false, off: 1 })
  })
  it('with too few readings tell nothing', () => {
    expect(crossCheck([runOf(gas, () => NaN)], 1, 2)).toBeNull()
  })
})
