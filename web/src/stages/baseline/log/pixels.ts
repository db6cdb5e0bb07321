import { rgb } from 'd3'
import type { Span } from '@yuzumix/core'
import type { TraceColumns } from './traceColumns'

/** A colour as a pixel of an image: opaque, red lowest. */
export function pixelOf(colour: string): number {
  const { r, g, b } = rgb(colour)
  return ((255 << 24) | (b << 16) | (g << 8) | r) >>> 0
}

/** One pixel laid over another one by a share of 1. */
export function mixed(under: number, over: number, share: number): number {
  const of = (shift: number): number => {
    const [a, b] = [(under >>> shift) & 255, (over >>> shift) & 255]
    return Math.round(a + (b - a) * share) << shift
  }
  return ((255 << 24) | of(16) | of(8) | of(0)) >>> 0
}

/**
 * Lays a band over columns of the screen that a span covers, each as far as it is covered.
 *
 * @param row pixels of one row of the screen, one for each column of the view
 * @param colour with how far it covers what is under it
 */
export function layBand(row: Uint32Array, view: Span, { from, to }: Span, colour: string): void {
  const scale = row.length / (view.to - view.from)
  const [left, right] = [(from - view.from) * scale, (to - view.from) * scale]
  if (!(right > 0) || !(left < row.length)) return
  const [over, share] = [pixelOf(colour), rgb(colour).opacity]
  for (let x = Math.max(0, Math.floor(left)); x < Math.min(row.length, right); x++)
    row[x] = mixed(row[x]!, over, share * (Math.min(right, x + 1) - Math.max(left, x)))
}

/**
 * Sets the pixels of a trace, its edges by how much of each pixel it covers.
 *
 * @param pixels of an image, row by row; @param across px of one row
 * @param left px at which the first column stands
 * @param ink as `pixelOf` tells it
 * @param wide px of the line
 */
export function paintTrace(
  pixels: Uint32Array,
  across: number,
  left: number,
  { top, bottom }: TraceColumns,
  ink: number,
  wide: number,
): void {
  const down = pixels.length / across
  for (let x = 0; x < top.length; x++) {
    const from = top[x]! - wide / 2
    const to = bottom[x]! + wide / 2
    if (from !== from) continue
    const last = Math.min(down, Math.ceil(to))
    for (let y = Math.max(0, Math.floor(from)), i = y * across + left + x; y < last; y++, i += across) {
      const share = (to < y + 1 ? to : y + 1) - (from > y ? from : y)
      pixels[i] = share >= 1 ? ink : mixed(pixels[i]!, ink, share)
    }
  }
}
