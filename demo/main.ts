import { mkdtemp, rm, writeFile } from 'node:fs/promises'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { emptyTrim, runSweep } from '@yuzumix/core'
import { dataFolder } from '../server/src/dataFolder'
import { addHandReadings } from '../server/src/intake/addHandReadings'
import { pinComplaint } from '../server/src/acts/handling/complaints'
import { addLog } from '../server/src/intake/addLog'
import { openPool } from '../server/src/pool/pool'
import { remembered } from '../server/src/pool/remembered'
import { openStore } from '../server/src/store/database'
import { createJob, deleteJob, listJobs } from '../server/src/store/jobs'
import { changeRun } from '../server/src/store/runs'
import { createSet } from '../server/src/store/sets'
import { addTable } from '../server/src/store/tables'
import { CARBURETTOR_JOB, carburettorStory } from './carburettor'
import { asHandReadings, asLog } from './log'
import { handlingStory } from './handling'
import { DEMO_JOBS } from './scenario'
import { responseStory } from './response'
import { sparkStories } from './spark'
import { stripStory } from './strip'

/** Fills the demo's store by running the simulated rig and importing its logs as a user would. Does nothing when it is filled. */
async function fillDemo(): Promise<void> {
  const store = await openStore(dataFolder())
  const pool = openPool()
  const folder = await mkdtemp(join(tmpdir(), 'yuzumix-demo-'))
  let unfinished: string | undefined
  try {
    if ((await listJobs(store)).length > 0) return
    console.log('Running the demo machines on the simulated rig ...')
    await stripStory({ store, pool, answers: remembered(1), doubts: remembered(1) }, folder)
    const carburetted = await createJob(store, CARBURETTOR_JOB)
    unfinished = carburetted.id
    for (const { set, readings } of carburettorStory()) {
      const { id } = await createSet(store, carburetted.id, set)
      await addHandReadings(store, carburetted, { name: 'By hand at the gauge', set: id, readings })
    }
    const told = responseStory()
    const snatchy = await createJob(store, told.job)
    unfinished = snatchy.id
    const asItCame = await createSet(store, snatchy.id, told.set)
    for (const { name, kind, columns } of told.runs) {
      const path = join(folder, 'log.csv')
      await writeFile(path, asLog(columns, 'plain'))
      const log = { path, name, kind, set: asItCame.id }
      await addLog({ store, pool }, snatchy, log, () => undefined, new AbortController().signal)
    }
    for (const complaint of told.complaints) await pinComplaint(store, snatchy, complaint)
    const { acceleration, plates = [] } = told.rig.calibration
    for (const [name, table] of [
      ['Fuel, mg per cycle', told.rig.calibration.base] as const,
      ...(acceleration ? [['Acceleration fuel, % by plate speed', acceleration.amount] as const] : []),
      ...plates.map((one, k) => [`Plate by grip, mode ${k + 1}`, one] as const),
    ])
      await addTable(store, snatchy.id, { name, cylinder: null, table }, 'As read from the controller')
    for (const { job: newJob, sets, rig, hasTables } of sparkStories()) {
      const job = await createJob(store, newJob)
      unfinished = job.id
      for (const { set, runs } of sets) {
        const { id } = await createSet(store, job.id, set)
        for (const { name, kind, columns, setting } of runs) {
          const path = join(folder, 'log.csv')
          await writeFile(path, asLog(columns, 'plain'))
          const log = { path, name, kind, set: id }
          const [run] = await addLog({ store, pool }, job, log, () => undefined, new AbortController().signal)
          if (setting) await changeRun(store, job.id, run!.id, { setting })
        }
      }
      const { base, spark } = rig.calibration
      if (!hasTables) continue
      for (const [name, table] of [
        ['Fuel, mg per cycle', base],
        ['Spark advance', spark],
      ] as const)
        await addTable(store, job.id, { name, cylinder: null, table }, 'As read from the controller')
    }
    for (const [k, { job: newJob, sets, format, table, reason, isTold }] of DEMO_JOBS.entries()) {
      const job = await createJob(store, newJob)
      unfinished = job.id
      for (const [s, { set, rig, sweeps, hand }] of sets.entries()) {
        const { id } = await createSet(store, job.id, set)
        for (const [n, { name, ...script }] of sweeps.entries()) {
          const path = join(folder, 'log.csv')
          await writeFile(path, asLog(runSweep(rig, script, 1000 * (k + 1) + 100 * s + n), format))
          await addLog({ store, pool }, job, { path, name, set: id }, () => undefined, new AbortController().signal)
        }
        if (hand)
          await addHandReadings(store, job, { name: 'By hand at the gauge', readings: asHandReadings(rig, hand) })
      }
      const { rig } = sets.at(-1)!
      if (table === 'fuel base')
        await addTable(
          store,
          job.id,
          { name: 'Fuel, mg per cycle', cylinder: null, table: rig.calibration.base },
          reason,
        )
      else if (table === 'fuel trim') {
        for (const cylinder of rig.engine.spread.map((_, c) => c + 1)) {
          await addTable(
            store,
            job.id,
            { name: `Trim, cylinder ${cylinder}`, cylinder, table: emptyTrim(rig.calibration.base) },
            reason,
          )
        }
      }
      if (isTold) await handlingStory({ store, pool, answers: remembered(1), doubts: remembered(1) }, job.id)
      unfinished = undefined
    }
  } finally {
    // A demo that was cut off half way is made anew next time.
    if (unfinished) await deleteJob(store, unfinished)
    await rm(folder, { recursive: true, force: true })
    await pool.close()
    await store.close()
  }
}

await fillDemo()
