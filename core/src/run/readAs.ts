/** How the columns of a run are read, where what was logged is not what was: nothing is changed in what was stored. */
export interface ReadAs {
  /** engine speed times this */
  speed?: number | undefined
  /** seconds times this */
  time?: number | undefined
  /** what the throttle read when shut and when fully open, % */
  throttle?: { shut: number; open: number } | undefined
  /** probe 1 stands for 2, and 2 for 1 */
  exchanged?: boolean | undefined
}

/**
 * A channel as it is to be read.
 *
 * @param column gives a channel as it was stored; null for one that is not there
 * @example
 * readChannelAs({ speed: 0.5 }, 'rpm', () => Float32Array.of(8000))[0] // 4000
 */
export function readChannelAs(
  readAs: ReadAs | null | undefined,
  channel: string,
  column: (channel: string) => Float32Array | null,
): Float32Array | null {
  const { speed = 1, time = 1, throttle, exchanged } = readAs ?? {}
  const from = exchanged && channel in EXCHANGED ? EXCHANGED[channel]! : channel
  const values = column(from)
  if (!values) return null
  if (channel === 'rpm' && speed !== 1) return values.map((one) => one * speed)
  if (channel === 'time' && time !== 1) return values.map((one) => one * time)
  if (channel === 'throttle' && throttle)
    return values.map((one) => (100 * (one - throttle.shut)) / (throttle.open - throttle.shut))
  return values
}

const EXCHANGED: Record<string, string> = { lambda1: 'lambda2', lambda2: 'lambda1' }

/** In words, for the run and the logbook. */
export function readAsWords({ speed, time, throttle, exchanged }: ReadAs): string {
  const said = [
    speed !== undefined && speed !== 1 ? `engine speed times ${speed}` : '',
    time !== undefined && time !== 1 ? `time times ${time}` : '',
    throttle ? `throttle ${throttle.shut} to ${throttle.open} % read as 0 to 100` : '',
    exchanged ? 'probes 1 and 2 exchanged' : '',
  ].filter(Boolean)
  return said.length ? said.join(', ') : 'as it was logged'
}
