import { interpolatePuOr, interpolateRgb } from 'd3'

/** Change at which the colour is full, %. */
export const FULL_CHANGE = 14

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

/** Ink that reads on that colour. */
export function inkOn(percent: number, dark: boolean): string {
  const size = Math.abs(percent) / FULL_CHANGE
  return dark ? (size > 0.55 ? '#14170f' : '#edefe6') : percent < 0 && size > 0.85 ? '#ffffff' : '#22281f'
}
