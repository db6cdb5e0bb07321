import { asCsv, GRID, knownCase, knownRuns } from '../core/trials/knownTruthLog'

/** Three logs of one stop, as files for a file input; `header` names the columns. */
export function logFiles(header: string, seed = 5): { name: string; mimeType: string; buffer: Buffer }[] {
  const truth = (rpm: number, load: number): number => 0.11 + 0.06 * Math.sin(rpm / 1400) - 0.0004 * load
  const c = knownCase(seed, {
    stops: [40],
    truth,
    misfire: null,
    held: [],
    target: GRID.load.map((load) => GRID.rpm.map(() => (load < 40 ? 0.95 : 0.885))),
  })
  return knownRuns(c).map((run) => ({
    name: `${run.id}.csv`,
    mimeType: 'text/csv',
    buffer: Buffer.from(asCsv(run, header)),
  }))
}

/** Sweeps at 60 % made at settings of the advance one after the other, as files; torque is best at 27°, a percent is lost in 4.4°. */
export function sparkLogFiles(settings: readonly number[], from = 0): ReturnType<typeof logFiles> {
  return settings.map((advance, place) => {
    const k = from + place
    const lines = Array.from({ length: 450 }, (_, i) => {
      const t = i / 50
      const rpm = 2800 + 600 * t
      // Runs repeat to a few parts in a thousand, each off as a whole.
      const torque = 38 * (1 - 5.2e-4 * (advance - 27) ** 2) * (1 + 0.0015 * Math.sin(7 * k) + 0.002 * Math.sin(i))
      const cells = [t.toFixed(2), rpm.toFixed(0), '60.0', '0.880', torque.toFixed(2), advance.toFixed(1), '0.02']
      return cells.join(',')
    })
    const header = 'Time (s),Engine speed (rpm),Throttle (%),Lambda,Torque (N·m),Spark advance (°),Knock'
    return {
      name: `sweep ${k + 1} at ${advance}.csv`,
      mimeType: 'text/csv',
      buffer: Buffer.from(`${header}\n${lines.join('\n')}\n`),
    }
  })
}
