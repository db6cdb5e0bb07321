import { rigList, type Job, type JobChange, type NewComplaint, type NewJob, type NewPutBack } from '@yuzumix/core'
import { changeComplaint, pinComplaint } from '../server/src/acts/handling/complaints'
import type { Workshop } from '../server/src/acts/questions/ask'
import { keepReport } from '../server/src/acts/handling/handOver'
import { notePutBack, settlePutBack } from '../server/src/acts/handling/putBack'
import { addRigLine, tickRigLine } from '../server/src/acts/handling/rigLines'
import { keepOnShelf, startFromShelf } from '../server/src/acts/tables/shelf'
import { changeJob, createJob, findJob } from '../server/src/store/jobs'
import { listTables } from '../server/src/store/tables'

const BRIEF: JobChange = {
  changed: [{ part: 'silencer', bore: 'other', length: 'other', removed: false, text: 'short and open, baffle in' }],
  twoStates: [{ part: 'baffle', first: 'in', second: 'out' }],
  fuelSold: { grade: 'the usual at the harbour pump', ethanolPct: 5 },
  service: 'middle',
  rigging: { fuelling: 'injected', drive: 'drum', probe: 'header', pickUp: 'clip-on', riggingMinutes: 38 },
}
const HESITATES: NewComplaint = {
  word: 'hesitates',
  text: 'out of the long bends along the dike',
  fromRpm: 5000,
  toRpm: 6000,
  fromThrottle: 20,
  toThrottle: 40,
  gear: 4,
  temperature: 'hot',
}
const FLAT: NewComplaint = {
  word: 'flat spot',
  text: 'at the top since the silencer was fitted',
  fromRpm: 8500,
  toRpm: 9500,
  fromThrottle: 80,
  toThrottle: 100,
}
const FAN: NewPutBack = { what: 'Fan-on temperature', was: '103 °C', now: '88 °C for the drum', due: 'hand-over' }
const PLUG: NewPutBack = { what: 'Header plug', was: 'in', now: 'probe in its place', due: 'hand-over' }
const NEXT: NewJob = {
  title: 'Curlew 437, the second with a short silencer',
  machine: { name: 'Curlew 437 single', cylinders: 1, displacementCc: 437, strokes: 4 },
  fuel: { id: 'e10' },
  gaugeScale: 14.7,
  use: 'road',
  fitted: 'The same short silencer as the one before, fuel with more ethanol.',
  changed: BRIEF.changed,
  fuelSold: { grade: 'from the filling station inland', ethanolPct: 10 },
}

/** Tells the whole story of one job, but for one line of the ledger that is left open; the next one starts from its shelf. */
export async function handlingStory(workshop: Workshop, id: string): Promise<void> {
  const { store } = workshop
  const job: Job = (await changeJob(store, id, BRIEF))!
  const hesitates = await pinComplaint(store, job, HESITATES)
  await pinComplaint(store, job, FLAT)
  await changeComplaint(store, job, hesitates.id, { found: 'mixture error' })
  await addRigLine(store, job, { text: 'Lift the seat before the tank', minutes: 2 })
  for (const line of rigList(job)) await tickRigLine(store, job, line.id, true)
  await notePutBack(store, job.id, FAN)
  const plug = await notePutBack(store, job.id, PLUG)
  await settlePutBack(store, job.id, plug.id, { back: true })
  const { signal } = new AbortController()
  await keepReport(workshop, job, signal)
  const [table] = await listTables(store, job.id)
  const kept = await keepOnShelf(workshop, job, table!, 'Curlew 437, short silencer, as measured', signal)
  const next = (await findJob(store, (await createJob(store, NEXT)).id))!
  await startFromShelf(workshop, next, kept, [], undefined)
}
