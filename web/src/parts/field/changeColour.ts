import { interpolatePuOr, interpolateRgb, rgb } from 'd3'

/** Change at which the colour is full, %. */
const FULL_CHANGE = 14

/**
 * Colour of a change in percent: orange needs fuel, purple has too much, paper grey is on target (ColorBrewer PuOr).
 *
 * @param paper colour of no change, of the theme
 */
export function changeColour(percent: number, paper = '#eeece3'): string {
  const size = Math.min(1, Math.abs(percent) / FULL_CHANGE)
  // D3 runs this scale from purple to orange. The middle of it is replaced by the paper's own grey; the ends keep off black so figures stay readable.
  const end = interpolatePuOr(percent > 0 ? 0.8 : 0.22)
  return interpolateRgb(paper, end)(size ** 0.8)
}

/**
 * Ink that reads on a colour: black or white, whichever contrasts more; at least 4.5 to 1 on any colour.
 *
 * @see WCAG 2.2, relative luminance and contrast ratio
 */
export function inkOn(colour: string): string {
  const { r, g, b } = rgb(colour)
  const linear = (channel: number): number =>
    channel <= 0.04045 ? channel / 12.92 : ((channel + 0.055) / 1.055) ** 2.4
  const luminance = 0.2126 * linear(r / 255) + 0.7152 * linear(g / 255) + 0.0722 * linear(b / 255)
  return luminance > 0.179 ? '#000000' : '#ffffff'
}
