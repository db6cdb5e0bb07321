/** A run of an attempt, as far as it tells what was looked at. */
export interface LookedRun {
  /** % of plate; null without one */
  stop: number | null
  fromRpm: number
  toRpm: number
  /** made after the last act or write */
  isAfter: boolean
}

/** Something an expert would have looked at, and whether runs show that somebody did. */
export interface Look {
  text: string
  isDone(runs: readonly LookedRun[]): boolean
}

/** A part of what an engine can do: throttle in % of plate, and engine speed. */
interface Part {
  stop: readonly [number, number]
  rpm: readonly [number, number]
}

/** Share of a part's span of speeds that a run must cover to have looked there. */
const COVERED = 0.75

function isIn({ stop, rpm: [from, to] }: Part, run: LookedRun): boolean {
  const covered = Math.min(run.toRpm, to) - Math.max(run.fromRpm, from)
  return run.stop !== null && run.stop >= stop[0] && run.stop <= stop[1] && covered >= COVERED * (to - from)
}

/** Where the loop of most of these machines holds the mixture. */
export const HELD_PART: Part = { stop: [4, 13], rpm: [2600, 4000] }
export const WIDE_OPEN: Part = { stop: [88, 101], rpm: [3500, 7500] }
export const AT_THE_TOP: Part = { stop: [88, 101], rpm: [6300, 8000] }
export const HALF_OPEN: Part = { stop: [35, 62], rpm: [3500, 7500] }
export const HALF_AT_THE_TOP: Part = { stop: [28, 62], rpm: [6300, 8000] }

/** A part was run through, so often. */
export function ranThrough(text: string, part: Part, times = 1): Look {
  return { text, isDone: (runs) => runs.filter((run) => isIn(part, run)).length >= times }
}

/** A part was run through after the last thing that was done, and something before it: nothing is mended until that is measured. */
export function measuredAfter(text: string, part: Part): Look {
  return {
    text,
    isDone: (runs) => runs.some((run) => run.isAfter && isIn(part, run)) && runs.some((run) => !run.isAfter),
  }
}
