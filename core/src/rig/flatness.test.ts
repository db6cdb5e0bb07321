import type { CylinderField, Field } from '../field/field'
import { FLAT_AIM, measuredFlatness, provePrediction } from './flatness'

const TARGET = 0.9

/** A field of one row whose nodes are off by so many percent, with intervals of that half width. */
function fieldOf(
  cylinders: {
    off: (number | null)[]
    half?: number
    held?: number[]
    byTrim?: boolean
    thin?: number[]
    bridged?: number[]
    undo?: number[]
  }[],
): Field {
  return {
    grid: { loadAxis: 'throttle', rpm: cylinders[0]!.off.map((_, k) => 2000 + 500 * k), load: [40] },
    misfires: [],
    cylinders: cylinders.map(
      ({ off, half = 0.5, held = [], byTrim = false, thin = [], bridged = [], undo = [] }, c) =>
        ({
          cylinder: c + 1,
          target: [off.map(() => TARGET)],
          lambda: [off.map((pct) => (pct === null ? null : TARGET * (1 + pct / 100)))],
          changePct: [off],
          lowPct: [off.map((pct) => (pct === null ? null : pct - half))],
          highPct: [off.map((pct) => (pct === null ? null : pct + half))],
          evidence: [
            off.map((pct, k) =>
              pct === null ? 'none' : thin.includes(k) ? 'thin' : bridged.includes(k) ? 'bridged' : 'solid',
            ),
          ],
          samples: [off.map((pct, k) => (pct === null || bridged.includes(k) ? 0 : 50))],
          held: [off.map((_, k) => held.includes(k))],
          byTrim: [off.map((_, k) => byTrim && held.includes(k))],
          undoPct: [off.map((_, k) => undo[k] ?? null)],
          silentPct: [off.map(() => null)],
        }) as unknown as CylinderField,
    ),
  } as unknown as Field
}

describe('how flat a field is', () => {
  it('is not flat while something is to be taken back', () => {
    const flat = { off: [0.3, -0.2, null], held: [2] }
    expect(measuredFlatness(fieldOf([flat])).isFlat).toBe(true)
    expect(measuredFlatness(fieldOf([{ ...flat, undo: [0, 0, -3] }])).isFlat).toBe(false)
    expect(measuredFlatness(fieldOf([{ ...flat, undo: [0, 0, -0.1] }])).isFlat).toBe(true)
  })
  it('is the RMS and the worst over nodes of solid evidence outside held zones', () => {
    const flat = measuredFlatness(fieldOf([{ off: [3, -4, 9, null, -20], held: [2], thin: [4] }]))
    expect(flat).toMatchObject({ nodes: 2, held: 1, isFlat: false })
    expect(flat.rms).toBeCloseTo(Math.sqrt(12.5), 12)
    expect(flat.worst).toEqual({ cylinder: 1, row: 0, column: 1, pct: -4 })
    expect(flat.open.map((one) => one.column)).toEqual([1, 0])
  })
  it('a thin node counts when its whole interval is lean, and not when it may be on target or is rich', () => {
    const thin = [1, 2, 3]
    const flat = measuredFlatness(fieldOf([{ off: [0.4, 11, 3, -8], half: 4, thin }]))
    expect(flat).toMatchObject({ nodes: 2, worst: { column: 1, pct: 11 }, isFlat: false })
    expect(flat.open.map((one) => one.column)).toEqual([1])
  })
  it('a held node that the trims tell of counts as any other', () => {
    expect(measuredFlatness(fieldOf([{ off: [3, 0.2], held: [0], byTrim: true }]))).toMatchObject({ nodes: 2, held: 0 })
  })
  it.each([
    ['within the aim', [0.9, -0.8, 1.2], 0.2, true],
    ['one node far off beyond doubt', [0.1, 0.1, 4], 0.2, false],
    ['off by less than its interval', [2.6, -2.7, 2.4], 3, true],
    ['off by little beyond doubt at each node', [1.4, 1.5, -1.4], 0.2, false],
  ])('%s', (_what, off, half, isFlat) => {
    expect(measuredFlatness(fieldOf([{ off, half }])).isFlat).toBe(isFlat)
  })
  it('the worst of all cylinders is told with its cylinder', () => {
    const flat = measuredFlatness(fieldOf([{ off: [0.2, 0.3] }, { off: [0.1, -3] }]))
    expect(flat.worst).toMatchObject({ cylinder: 2, pct: -3 })
    expect(Math.abs(flat.worst!.pct)).toBeGreaterThan(FLAT_AIM.worst)
  })
  it('bridged nodes count, and a row that no run has seen is named', () => {
    const flat = measuredFlatness(fieldOf([{ off: [0.2, 6, 0.1], bridged: [1] }]))
    expect(flat).toMatchObject({ nodes: 3, bridged: 1, isFlat: false, worst: { column: 1, pct: 6 }, unseen: [] })
    expect(measuredFlatness(fieldOf([{ off: [0.2, 0.3], bridged: [0, 1] }])).unseen).toEqual([
      { row: 0, isBridged: true },
    ])
    expect(measuredFlatness(fieldOf([{ off: [null, null] }])).unseen).toEqual([{ row: 0, isBridged: false }])
  })
  it('is judged between the cells, too: the RMS of a square is that over its area', () => {
    const one = fieldOf([{ off: [0, 0] }])
    const [cylinder] = one.cylinders as unknown as { changePct: number[][] }[]
    const twice = <T>(rows: T[][]): T[][] => [rows[0]!, rows[0]!.slice()]
    const square = {
      ...one,
      grid: { loadAxis: 'throttle', rpm: [2000, 4000], load: [20, 40] },
      cylinders: [
        Object.fromEntries(
          Object.entries(cylinder!).map(([key, value]) => [key, Array.isArray(value) ? twice(value) : value]),
        ),
      ],
    } as unknown as Field
    square.cylinders[0]!.changePct[1] = [3, 3]
    square.cylinders[0]!.lowPct[1] = [2.5, 2.5]
    square.cylinders[0]!.highPct[1] = [3.5, 3.5]
    const { range, rms } = measuredFlatness(square)
    // 3 % at one end and none at the other: sqrt(3) over a line, a little less on nine points.
    expect(rms).toBeCloseTo(Math.sqrt(3), 1)
    expect(range.expected).toBeGreaterThan(rms)
    expect(range.unknownPct).toBe(0)
    square.cylinders[0]!.evidence[1]![1] = 'none'
    expect(measuredFlatness(square).range).toMatchObject({ points: 0, unknownPct: 100 })
  })
  it('nothing known is not flat', () => {
    expect(measuredFlatness(fieldOf([{ off: [null, null] }]))).toMatchObject({ nodes: 0, worst: null, isFlat: false })
  })
})

describe('the proof of a prediction', () => {
  const found = fieldOf([{ off: [1, 0, -2, null], half: 1.5, thin: [3] }])
  it('is measured over predicted, with the share within the new interval', () => {
    const proof = provePrediction(new Map([[1, [[TARGET, TARGET, TARGET, TARGET]]]]), found)!
    expect(proof.nodes).toBe(3)
    expect(proof.rms).toBeCloseTo(Math.sqrt(5 / 3), 9)
    expect(proof.worst).toMatchObject({ cylinder: 1, column: 2 })
    expect(proof.worst.pct).toBeCloseTo(-2, 9)
    expect(proof.within).toBeCloseTo(2 / 3, 12)
  })
  it('leaves out what one of the two does not know', () => {
    expect(provePrediction(new Map([[1, [[null, TARGET, null, TARGET]]]]), found)).toMatchObject({ nodes: 1 })
  })
  it('of nothing is none', () => {
    expect(provePrediction(new Map(), found)).toBeNull()
    expect(provePrediction(new Map([[2, [[TARGET]]]]), found)).toBeNull()
  })
})
