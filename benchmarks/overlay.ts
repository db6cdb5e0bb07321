import { DEFAULT_CURVE, overlay, rulerOver, type RunColumns } from '@yuzumix/core'
import { knownPull, recordPull } from '../core/trials/knownPull'
import type { Measured } from './measured'

const RUNS = 60
const SAMPLES = 20_000
/** Runs of one stop that are laid over each other at a time. */
const AT_A_STOP = 6

/** What the interface's worker does once the columns are there: curves, spread, odd runs and warm-ups of all runs of a set. */
export async function overlayOfRuns(): Promise<Measured[]> {
  const seconds = 12
  const runs: RunColumns[] = Array.from({ length: RUNS }, (_, k) =>
    recordPull(knownPull({ seed: k + 1, seconds, hz: Math.ceil(SAMPLES / (seconds + 1.2)) })),
  )
  const times = Array.from({ length: 7 }, () => {
    const start = performance.now()
    const ruler = rulerOver(runs)!
    for (let at = 0; at < RUNS; at += AT_A_STOP) overlay(runs.slice(at, at + AT_A_STOP), ruler, DEFAULT_CURVE, 1)
    return performance.now() - start
  }).sort((a, b) => a - b)
  return [
    {
      what: `overlay of ${RUNS} runs of ${runs[0]!.time.length.toLocaleString('en')} samples`,
      value: `${times[3]!.toFixed(0)} ms`,
      budget: '500 ms',
      met: times[3]! <= 500,
    },
  ]
}
