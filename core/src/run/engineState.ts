/** rpm from which an engine runs: a starter turns slower, and no engine idles slower (common practice). */
const RUNS_FROM = 500
/** rpm up to which it stands: slower than any that fires, beyond what a pick-up reads of one at rest. */
const STANDS_TO = 200
/** % of plate up to which it is shut, by and large: an idle stop and a sensor taught by hand lie within. */
const SHUT_TO = 3

/** Whether an engine runs by itself at a speed, rpm; not where none was read. */
export const isRunning = (rpm: number): boolean => rpm >= RUNS_FROM

/** Whether it stands, so that it may be written to; not while it turns over, nor where no speed was read. */
export const isStanding = (rpm: number): boolean => rpm <= STANDS_TO

/** Whether a plate is shut at an opening, %. Where the lowest opening of a log is known, `closedLimit` is the finer word. */
export const isShut = (opening: number): boolean => opening <= SHUT_TO

/** Whether it is open, and was read. */
export const isOpen = (opening: number): boolean => opening > SHUT_TO
