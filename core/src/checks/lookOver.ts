import type { RunColumns } from '../run/run'
import type { Doubt, Ground } from './doubt'
import { driftDoubts } from './drift'
import { binnedSweeps } from './binnedSweep'
import { machineDoubts } from './machine'
import { mixtureDoubts, torqueDoubts } from './levels'
import { copiedDoubts, exchangedDoubts } from './probes'
import { clockDoubts, coolantDoubts, noiseDoubts } from './sensors'
import { speedDoubts } from './speed'
import { throttleDoubts } from './throttle'

/** Share of the runs up to which files on another scale are a few. */
const FEW = 0.15

/**
 * Looks over what came in before it is believed: readings of one set, held against each other, against the machine as far as
 * somebody said what it is, and against what any engine can do.
 *
 * @param runs of one set, in the order in which they were made
 * @returns findings with their figures and a way on; none for sound readings
 * @example
 * lookOver(runs, ground).map((doubt) => doubt.text)
 */
export function lookOver(runs: readonly RunColumns[], ground: Ground): Doubt[] {
  const sweeps = binnedSweeps(runs)
  const speed = speedDoubts(runs, sweeps, ground)
  const inDoubt = new Set(speed.flatMap((one) => one.runs))
  // What a wrong speed makes of a run is no second finding.
  const rest = sweeps.filter((one) => !inDoubt.has(one.id))
  const known = runs.filter((run) => !inDoubt.has(run.id))
  const mixture = mixtureDoubts(known, rest, ground)
  const onOtherScale = new Set(mixture.flatMap((one) => one.runs))
  // A file or two on another scale are no drift; where many follow each other it is one, and not each file's own fault.
  const isFew = onOtherScale.size <= FEW * known.length
  const drift = driftDoubts(isFew ? rest.filter((one) => !onOtherScale.has(one.id)) : rest, ground)
  return [
    ...machineDoubts(ground),
    ...speed,
    ...throttleDoubts(runs, sweeps, ground),
    ...copiedDoubts(runs, ground),
    ...exchangedDoubts(rest, ground),
    ...clockDoubts(rest, ground),
    ...(isFew || drift.length === 0 ? mixture : []),
    ...drift,
    ...torqueDoubts(known, rest, ground),
    ...coolantDoubts(runs, ground),
    ...(speed.length ? [] : noiseDoubts(ground)),
  ]
}
