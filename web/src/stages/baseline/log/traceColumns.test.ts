import { levelsOf, rowsByColumn, type Span } from '@yuzumix/core'
import { layBand, mixed, paintTrace, pixelOf } from './pixels'
import { traceColumns } from './traceColumns'

function columnsOf(time: number[], values: number[], view: Span, count: number) {
  const at = Float32Array.from(time)
  const rows = rowsByColumn(at, view.from, view.to, count)
  // px from above are the values themselves, so that they are read at a glance.
  return traceColumns(at, levelsOf(Float32Array.from(values)), view, rows, (value) => value)
}

describe('a trace by columns of the screen', () => {
  it('holds the least and the most of what lies in each, however many rows', () => {
    const time = Array.from({ length: 10_000 }, (_, k) => k / 1000)
    const values = time.map((t, k) => 50 + 10 * Math.sin(700 * t) + (k === 4321 ? 77 : 0))
    const { top, bottom } = columnsOf(time, values, { from: 0, to: 10 }, 100)
    for (let x = 0; x < 100; x++) {
      // A column may begin up to fifteen rows early.
      const own = values.slice(100 * x + 1, 100 * (x + 1) - 15)
      expect(top[x]!).toBeLessThanOrEqual(Math.min(...own) + 1e-4)
      expect(bottom[x]!).toBeGreaterThanOrEqual(Math.max(...own) - 1e-4)
    }
    // The one spike is not lost among the thousands.
    expect(bottom[43]).toBeGreaterThan(120)
  })

  it('draws straight lines between rows that lie columns apart, and from what lies before the view', () => {
    const { top, bottom } = columnsOf([0, 1, 2], [0, 100, 0], { from: 0.5, to: 1.5 }, 100)
    // 0.75 s stands at 75: the column there reaches half a column to both sides.
    expect((top[25]! + bottom[25]!) / 2).toBeCloseTo(75.5, 0)
    expect((top[75]! + bottom[75]!) / 2).toBeCloseTo(74.5, 0)
    expect([...top].every((one) => one === one)).toBe(true)
  })

  it('draws none over a gap, and none where nothing was read', () => {
    const { top } = columnsOf([0, 1, 9, 10], [5, 5, 5, 5], { from: 0, to: 10 }, 10)
    expect([...top].map(Number.isNaN)).toEqual([false, false, true, true, true, true, true, true, true, false])
    expect([...columnsOf([0, 1, 2], [NaN, NaN, NaN], { from: 0, to: 2 }, 4).top].every(Number.isNaN)).toBe(true)
  })

  it('leaves no hole between neighbours that jump', () => {
    const time = Array.from({ length: 20 }, (_, k) => k / 2)
    const { top, bottom } = columnsOf(
      time,
      time.map((_, k) => (k < 10 ? 0 : 80)),
      { from: 0, to: 10 },
      20,
    )
    for (let x = 1; x < 20; x++) expect(top[x]!).toBeLessThanOrEqual(bottom[x - 1]! + 1e-6)
  })
})

describe('pixels', () => {
  it('are opaque, red lowest, and mixed by share', () => {
    expect(pixelOf('#102030')).toBe(0xff302010)
    expect(mixed(pixelOf('#000000'), pixelOf('#ffffff'), 0.5)).toBe(pixelOf('#808080'))
    expect(mixed(pixelOf('#123456'), pixelOf('#ffffff'), 0)).toBe(pixelOf('#123456'))
  })

  it('of a band cover each column as far as the span does', () => {
    const row = new Uint32Array(4).fill(pixelOf('#000000'))
    layBand(row, { from: 0, to: 4 }, { from: 0.5, to: 2 }, '#ffffff')
    expect([...row]).toEqual(['#808080', '#ffffff', '#000000', '#000000'].map(pixelOf))
    layBand(row, { from: 0, to: 4 }, { from: 9, to: 12 }, '#ffffff')
    expect(row[3]).toBe(pixelOf('#000000'))
  })

  it('of a trace are set where it is, its ends by their share, and nothing beyond the sheet', () => {
    const [across, ink, paper] = [3, pixelOf('#ff0000'), pixelOf('#000000')]
    const pixels = new Uint32Array(across * 4).fill(paper)
    const trace = { top: Float32Array.of(1, NaN), bottom: Float32Array.of(1, NaN) }
    paintTrace(pixels, across, 1, trace, ink, 1)
    const half = mixed(paper, ink, 0.5)
    expect([pixels[1], pixels[4], pixels[7], pixels[2], pixels[5]]).toEqual([half, half, paper, paper, paper])
    paintTrace(pixels, across, 1, { top: Float32Array.of(-50), bottom: Float32Array.of(50) }, ink, 1)
    expect([0, 1, 2, 3].map((y) => pixels[3 * y + 1])).toEqual([ink, ink, ink, ink])
  })
})
