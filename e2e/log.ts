import { asCsv, GRID, knownCase, knownRuns } from '../core/reference/knownTruthLog'

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
