/** How far one pass may go. Percent; leaner limits are given as positive sizes. */
export interface ChangeLimits {
  richest: number
  leanest: number
  /** Tighter leaner limit from this load up */
  leanestHighLoad: number
  highLoad: number
  /** Changes smaller than this are not worth a cell, %, unless a neighbour is changed by more */
  least: number
  /** Half width of the interval, %, beyond which a cell is left alone */
  widest: number
  /** Largest step between neighbours, %, at the border of what is known; 0 for no taper */
  edge: number
  /** Suggest for cells that lie between readings, too */
  bridge: boolean
  /** One change for all rows from high load up, at each speed */
  equal: boolean
  /** Go on flat into cells beyond all readings */
  fill: boolean
}

/** Common practice: much richer at once if need be, leaner in small steps, the smallest under load. */
export const DEFAULT_LIMITS: ChangeLimits = {
  richest: 15,
  leanest: 4,
  leanestHighLoad: 2.5,
  highLoad: 70,
  least: 0.2,
  widest: 4,
  edge: 4,
  bridge: true,
  equal: false,
  fill: false,
}

/** A change as far as it goes once no pass holds it back. */
export const WHOLE_CHANGE: ChangeLimits = { ...DEFAULT_LIMITS, richest: 100, leanest: 50, leanestHighLoad: 50 }

/** Furthest leaner in one pass at a load, %, as a positive size. */
export function leanestAt(load: number, limits: ChangeLimits): number {
  return load >= limits.highLoad ? limits.leanestHighLoad : limits.leanest
}
