import { plain } from '@/parts/numbers/format'
import { firstFrom, leastMost, type Levels, type Span } from '@yuzumix/core'

export type { Span } from '@yuzumix/core'

/** A lane of the log: one channel over time. */
export interface Lane {
  channel: string
  title: string
  unit: string
  levels: Levels
  least: number
  most: number
  /** a value as it is read, without its unit */
  figure(value: number): string
}

/** Colours of the theme. */
export interface Inks {
  ink: string
  soft: string
  line: string
  trace: string
  shade: string
  /** of what fed the cell that is looked at */
  fed: string
  chosen: string
}

/** A value of a channel in as few figures as tell it. */
export const figureOf = (value: number): string =>
  plain(value, Math.abs(value) >= 100 ? 0 : Math.abs(value) >= 10 ? 1 : 2)

/** Room left of the lanes for their names, px. */
export const GUTTER = 128
const ABOVE = 6
/** px below which a shade is not to be seen. */
const LEAST = 0.3

/** First row of each point of the screen, and one more: rows of a point lie between two of them. */
function rowsByPoint(time: Float32Array, { from, to }: Span, points: number): Int32Array {
  const rows = new Int32Array(points + 1)
  for (let x = 0; x <= points; x++) rows[x] = firstFrom(time, from + ((to - from) * x) / points)
  return rows
}

/**
 * Draws channels over one time ruler, each in a lane of its own, from the least and the most of each point of the screen.
 *
 * @param at where the cursor stands, s; null for nowhere
 * @param step px of one point: two while it moves, so that every frame is in time
 */
export function drawLog(
  canvas: CanvasRenderingContext2D,
  size: { width: number; height: number },
  time: Float32Array,
  lanes: readonly Lane[],
  view: Span,
  shaded: readonly Span[],
  fed: readonly Span[],
  chosen: Span | null,
  at: number | null,
  inks: Inks,
  step = 1,
): void {
  const { width, height } = size
  canvas.clearRect(0, 0, width, height)
  if (lanes.length === 0) return
  const wide = Math.max(1, Math.floor(width - GUTTER))
  const x = (s: number): number => GUTTER + ((s - view.from) / (view.to - view.from)) * wide
  const band = (span: Span, colour: string): void => {
    const [left, right] = [Math.max(GUTTER, x(span.from)), Math.min(width, x(span.to))]
    if (right - left < LEAST) return
    canvas.fillStyle = colour
    canvas.fillRect(left, 0, Math.max(1, right - left), height)
  }
  for (const span of shaded) if (span.to > view.from && span.from < view.to) band(span, inks.shade)
  for (const span of fed) if (span.to > view.from && span.from < view.to) band(span, inks.fed)
  if (chosen) band(chosen, inks.chosen)
  const points = Math.max(1, Math.ceil(wide / step))
  const rows = rowsByPoint(time, view, points)
  const lane = height / lanes.length
  lanes.forEach(({ title, unit, levels, least, most, figure }, k) => {
    const [top, bottom] = [k * lane + ABOVE, (k + 1) * lane - ABOVE]
    const y = (value: number): number => bottom - ((value - least) / (most - least || 1)) * (bottom - top)
    canvas.strokeStyle = inks.line
    canvas.beginPath()
    canvas.moveTo(0, (k + 1) * lane - 0.5)
    canvas.lineTo(width, (k + 1) * lane - 0.5)
    canvas.stroke()
    canvas.strokeStyle = inks.trace
    canvas.beginPath()
    let isOn = false
    for (let point = 0; point < points; point++) {
      const [from, to] = [rows[point]!, rows[point + 1]!]
      const found = to > from ? leastMost(levels, from, to) : null
      if (!found) {
        // Between two rows that lie further apart than a point the line goes on; over a gap it does not.
        const next = rows[point + 1]!
        if (isOn && next < time.length && next > 0 && time[next]! - time[next - 1]! > 2) isOn = false
        continue
      }
      const left = GUTTER + (point * wide) / points + 0.5
      if (isOn) canvas.lineTo(left, y(found[0]))
      else canvas.moveTo(left, y(found[0]))
      if (found[1] > found[0]) canvas.lineTo(left, y(found[1]))
      isOn = true
    }
    canvas.stroke()
    canvas.fillStyle = inks.ink
    canvas.fillText(title, 8, top + 12, GUTTER - 52)
    canvas.fillStyle = inks.soft
    canvas.fillText(unit, 8, top + 28, GUTTER - 12)
    canvas.textAlign = 'right'
    canvas.fillText(figure(most), GUTTER - 6, top + 12, GUTTER / 2)
    canvas.fillText(figure(least), GUTTER - 6, bottom, GUTTER / 2)
    canvas.textAlign = 'left'
  })
  if (at !== null && at >= view.from && at <= view.to) {
    canvas.strokeStyle = inks.ink
    canvas.beginPath()
    canvas.moveTo(x(at), 0)
    canvas.lineTo(x(at), height)
    canvas.stroke()
  }
}
