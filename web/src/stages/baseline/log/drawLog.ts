import { scaleLinear } from 'd3'
import { plain } from '@/parts/numbers/format'
import { rowsByColumn, type Levels, type NamedStretch, type Span } from '@yuzumix/core'
import { layBand, paintTrace, pixelOf } from './pixels'
import { traceColumns } from './traceColumns'

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

/** What is to be seen. */
export interface LogScene {
  time: Float32Array
  lanes: readonly Lane[]
  view: Span
  /** what does not count */
  shaded: readonly Span[]
  /** what fed the cell that is looked at */
  fed: readonly Span[]
  brushed: Span | null
  /** where the cursor stands, s; null for nowhere */
  at: number | null
  stretches: readonly NamedStretch[]
  chosen: string | null
}

/** Colours of the theme. */
export interface Inks {
  ink: string
  soft: string
  line: string
  strong: string
  panel: string
  leaf: string
  yuzu: string
  shade: string
  /** of what fed the cell that is looked at */
  fed: string
  brushed: string
  font: string
}

/** A value of a channel in as few figures as tell it. */
export const figureOf = (value: number): string =>
  plain(value, Math.abs(value) >= 100 ? 0 : Math.abs(value) >= 10 ? 1 : 2)

/** Room left of the lanes for their names, and above them for the ruler, px. */
export const [GUTTER, RULER] = [128, 52]
const ABOVE = 6
/** px below which a stretch is a line among many, and from which it has room for its word. */
const [NARROW, WORD] = [3, 52]
/** px of a line of text. */
const LINE = 14
/** px of the bar of a stretch. Openings and closings overlap what follows them: they stand on a line of their own. */
const BAR = 14
const barTop = ({ kind }: NamedStretch): number => (kind === 'roll-on' || kind === 'chop' ? 16 : 0)

/** px of a view from its left end at a time, s. */
const placing = (view: Span, width: number): ((s: number) => number) => {
  const wide = Math.max(1, width - GUTTER)
  return (s) => GUTTER + ((s - view.from) / (view.to - view.from)) * wide
}

/** Stretches that are wide enough to be seen, and where they stand, px. */
function barsOf({ stretches, view }: LogScene, width: number): { one: NamedStretch; left: number; right: number }[] {
  const x = placing(view, width)
  return stretches.flatMap((one) => {
    if (one.to <= view.from || one.from >= view.to) return []
    const [left, right] = [Math.max(GUTTER, x(one.from)), Math.min(width, x(one.to))]
    return x(one.to) - x(one.from) < NARROW ? [] : [{ one, left, right: Math.max(left + 1, right) }]
  })
}

/** The stretch whose bar lies at a place of the ruler, px; null for none. */
export function stretchAt(scene: LogScene, width: number, px: number, py: number): string | null {
  const hit = barsOf(scene, width).find(
    ({ one, left, right }) => px >= left && px <= right && py >= barTop(one) && py <= barTop(one) + BAR,
  )
  return hit?.one.id ?? null
}

/**
 * A sheet that logs are drawn on: channels over one time ruler, each in a lane of its own. Traces are set pixel by pixel, which
 * holds sixty frames a second where no graphics card helps; all else is drawn around them.
 */
export function logSheet(canvas: HTMLCanvasElement): {
  draw(scene: LogScene, size: { width: number; height: number }, ratio: number, inks: Inks): void
} {
  const context = canvas.getContext('2d', { alpha: false, desynchronized: true })!
  let image: ImageData | null = null
  return {
    draw(scene, { width, height }, ratio, inks) {
      const [across, down] = [Math.round(width * ratio), Math.round(height * ratio)]
      if (canvas.width !== across || canvas.height !== down) [canvas.width, canvas.height] = [across, down]
      if (image?.width !== across || image.height !== down) image = new ImageData(across, down)
      const pixels = new Uint32Array(image.data.buffer)
      paintTraces(pixels, across, scene, height, ratio, inks)
      context.putImageData(image, 0, 0)
      context.setTransform(ratio, 0, 0, ratio, 0, 0)
      context.font = `12px ${inks.font}`
      drawNames(context, scene, { width, height }, inks)
      drawRuler(context, scene, width, inks)
      drawCursor(context, scene, { width, height }, inks)
    },
  }
}

const laneOf = (k: number, count: number, height: number): { top: number; bottom: number; end: number } => {
  const tall = (height - RULER) / count
  return { top: RULER + k * tall + ABOVE, bottom: RULER + (k + 1) * tall - ABOVE, end: RULER + (k + 1) * tall }
}

/** Bands of what does not count, of what fed a cell and of what is marked, and the traces over them. */
function paintTraces(
  pixels: Uint32Array,
  across: number,
  { time, lanes, view, shaded, fed, brushed }: LogScene,
  height: number,
  ratio: number,
  inks: Inks,
): void {
  const left = Math.round(GUTTER * ratio)
  const columns = Math.max(1, across - left)
  const row = new Uint32Array(across).fill(pixelOf(inks.panel))
  const seen = row.subarray(left)
  for (const span of shaded) layBand(seen, view, span, inks.shade)
  for (const span of fed) layBand(seen, view, span, inks.fed)
  if (brushed) layBand(seen, view, brushed, inks.brushed)
  const ruler = Math.round(RULER * ratio)
  pixels.fill(pixelOf(inks.panel), 0, ruler * across)
  for (let at = ruler * across; at < pixels.length; at += across) pixels.set(row, at)
  const rows = rowsByColumn(time, view.from, view.to, columns)
  const ink = pixelOf(inks.leaf)
  lanes.forEach(({ levels, least, most }, k) => {
    const { top, bottom } = laneOf(k, lanes.length, height)
    const scale = ((bottom - top) * ratio) / (most - least || 1)
    const yOf = (value: number): number => bottom * ratio - (value - least) * scale
    paintTrace(pixels, across, left, traceColumns(time, levels, view, rows, yOf), ink, ratio)
  })
}

function drawCursor(
  context: CanvasRenderingContext2D,
  { view, at }: LogScene,
  { width, height }: { width: number; height: number },
  inks: Inks,
): void {
  if (at === null || at < view.from || at > view.to) return
  context.fillStyle = inks.ink
  context.fillRect(Math.round(placing(view, width)(at)) - 0.5, RULER, 1, height - RULER)
}

/** Names, units and ends of the lanes, as far as they have room. */
function drawNames(
  context: CanvasRenderingContext2D,
  { lanes }: LogScene,
  { width, height }: { width: number; height: number },
  inks: Inks,
): void {
  lanes.forEach(({ title, unit, least, most, figure }, k) => {
    const { top, bottom, end } = laneOf(k, lanes.length, height)
    context.fillStyle = inks.line
    context.fillRect(0, Math.round(end) - 1, width, 1)
    const [hasUnit, hasEnds] = [bottom - top >= 3 * LINE, bottom - top >= 2 * LINE]
    context.fillStyle = inks.ink
    context.fillText(title, 8, top + 12, hasEnds ? GUTTER - 52 : GUTTER - 12)
    context.fillStyle = inks.soft
    if (hasUnit) context.fillText(unit, 8, top + 12 + LINE, GUTTER - 12)
    if (!hasEnds) return
    context.textAlign = 'right'
    context.fillText(figure(most), GUTTER - 6, top + 12, GUTTER / 2)
    context.fillText(figure(least), GUTTER - 6, bottom, GUTTER / 2)
    context.textAlign = 'left'
  })
}

/** Stretches with their kinds, and the seconds. */
function drawRuler(context: CanvasRenderingContext2D, scene: LogScene, width: number, inks: Inks): void {
  const { view, chosen } = scene
  const fills: Record<string, string> = { sweep: inks.leaf, 'roll-on': inks.leaf, hold: inks.soft }
  for (const { one, left, right } of barsOf(scene, width)) {
    const top = barTop(one)
    context.fillStyle = fills[one.kind] ?? inks.strong
    context.fillRect(left, top, right - left, BAR)
    if (one.id === chosen) {
      context.strokeStyle = inks.yuzu
      context.lineWidth = 3
      context.strokeRect(left + 1.5, top + 1.5, Math.max(1, right - left - 3), BAR - 3)
    }
    if (right - left > WORD) {
      context.fillStyle = inks.panel
      context.fillText(one.kind, left + 4, top + 11, right - left - 8)
    }
  }
  context.fillStyle = inks.soft
  context.fillText('stretches', 8, 12)
  const x = placing(view, width)
  for (const tick of scaleLinear([view.from, view.to], [0, 1]).ticks(8)) {
    context.fillStyle = inks.line
    context.fillRect(Math.round(x(tick)), 34, 1, 18)
    context.fillStyle = inks.soft
    context.fillText(`${tick} s`, x(tick) + 3, 47)
  }
  context.fillStyle = inks.line
  context.fillRect(0, RULER - 1, width, 1)
}
