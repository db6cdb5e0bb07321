import { cpus, tmpdir } from 'node:os'
import { mkdtemp, rm } from 'node:fs/promises'
import { join } from 'node:path'
import { adaptiveAgainstFixed } from './adaptive'
import { archiveAgainstImport } from './archive'
import { firstView } from './firstView'
import { searchTheBox } from './jetting'
import { killAtRandom } from './kills'
import { hostileAtFullSize } from './hostile'
import { importLog } from './importLog'
import type { Measured } from './measured'
import { liveRigSpeed } from './liveRig'
import { overlayOfRuns } from './overlay'
import { resolveWhileDragging } from './resolve'
import { soakTheService } from './service'
import { slowSockets } from './slowSockets'
import { soakTheBench } from './soak'
import { solveAgainstScipy } from './solve'
import { viewLongLog } from './viewer'
import { coarseAgainstScipy } from './ways'

/** What is measured: all, or what has this in its name. */
const wanted = process.argv[2] ?? ''
const folder = await mkdtemp(join(tmpdir(), 'yuzumix-bench-'))
try {
  const rows: Measured[] = []
  for (const measure of [
    solveAgainstScipy,
    resolveWhileDragging,
    overlayOfRuns,
    liveRigSpeed,
    searchTheBox,
    coarseAgainstScipy,
    adaptiveAgainstFixed,
    soakTheBench,
    soakTheService,
    killAtRandom,
    importLog,
    archiveAgainstImport,
    hostileAtFullSize,
    slowSockets,
    viewLongLog,
    firstView,
  ].filter((one) => one.name.toLowerCase().includes(wanted.toLowerCase()))) {
    console.log(`measuring: ${measure.name} ...`)
    rows.push(...(await measure(folder)))
  }
  console.log(`\nNode ${process.version}, ${cpus().length} x ${cpus()[0]?.model ?? 'unknown processor'}\n`)
  for (const { what, value, budget, met } of rows)
    console.log(`${met ? 'met ' : 'MISS'}  ${what.padEnd(58)} ${value.padEnd(44)} budget ${budget}`)
} finally {
  await rm(folder, { recursive: true, force: true })
}
