/** More than this an engine without a blower does not breathe, even on tuned pipes, % of its swept volume (common practice). */
export const MOST_FILLING = 125
