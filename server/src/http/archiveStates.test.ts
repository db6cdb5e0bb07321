import { strFromU8, unzipSync } from 'fflate'
import { DEFAULT_JETTING, DEFAULT_MIXTURE, DEFAULT_PLAN, DEFAULT_POWER, type ArchivedJob } from '@yuzumix/core'
import { api, asBytes, CSV, TABLE, testServer, type TestServer } from '../testServer'

let server: TestServer
beforeAll(async () => {
  server = await testServer()
})
afterAll(() => server.stop())

const call = () => server.call()
const post = (path: string, body: object = {}) => call().post(api(path)).send(body)
const patch = (path: string, body: object) => call().patch(api(path)).send(body).expect(200)
const made = async (path: string, body: object): Promise<string> =>
  ((await post(path, body).expect(201)).body as { id: string }).id

async function archiveOf(job: string): Promise<{ zip: Buffer; content: ArchivedJob }> {
  const { body } = await call()
    .get(api(`/jobs/${job}/archive`))
    .buffer(true)
    .parse(asBytes)
    .expect(200)
  return {
    zip: body as Buffer,
    content: JSON.parse(strFromU8(unzipSync(body as Buffer)['job.json']!)) as ArchivedJob,
  }
}
/** What of a job must be as it was: its logbook gets a line of its own, and who reads an archive wants to see the job. */
const told = ({ job, entries, ...rest }: ArchivedJob) => ({
  ...rest,
  job: { ...job, archived: false },
  entries: entries
    .filter((one) => one.act !== 'job read from an archive')
    .map(({ photo, ...one }) => ({ ...one, photo: photo && photo.type })),
})

/** States that a job can be in, each made the way a user makes it. */
const STATES: Record<string, (job: string) => Promise<unknown>> = {
  new: () => Promise.resolve(),
  'worked: a run, a table, a revision': async (job) => {
    const run = ((await server.upload(job, CSV).expect(201)).body as { id: string }).id
    const table = await made(`/jobs/${job}/tables`, { name: 'Trim', table: TABLE })
    const values = TABLE.values.map((row) => row.map(() => 1))
    await post(`/jobs/${job}/tables/${table}/revisions`, {
      values,
      parent: 1,
      reason: 'All one',
      override: 'known from the stand',
      runs: [run],
    }).expect(201)
  },
  'a run said otherwise, left out in part, moved, set at an advance, read otherwise': async (job) => {
    const run = ((await server.upload(job, CSV).expect(201)).body as { id: string }).id
    const set = await made(`/jobs/${job}/sets`, { name: 'Baffle out', gear: 4, rig: 'Yard' })
    await patch(`/jobs/${job}/runs/${run}`, {
      set,
      name: 'Second pull',
      kind: 'sweep',
      setting: { advance: 27.5, knock: true },
      leftOut: { fromRpm: 3000, toRpm: 3010, reason: 'belt' },
    })
    await post(`/jobs/${job}/read-as`, { runs: [run], readAs: { speed: 0.5, throttle: { shut: 4, open: 95 } } }).expect(
      200,
    )
  },
  'a run left out as a whole': async (job) => {
    const run = ((await server.upload(job, CSV).expect(201)).body as { id: string }).id
    await patch(`/jobs/${job}/runs/${run}`, { leftOut: { fromRpm: null, toRpm: null, reason: 'cold' } })
  },
  'read by hand': (job) =>
    made(`/jobs/${job}/hand-readings`, {
      readings: [3000, 4000, 5000].map((rpm) => ({ rpm, load: 40, readings: ['13.2-13.4'] })),
    }),
  'handled: complaints, rig, ledger, notes': async (job) => {
    await made(`/jobs/${job}/complaints`, {
      word: 'hesitates',
      fromRpm: 3000,
      toRpm: 4000,
      gear: 3,
      temperature: 'hot',
    })
    await made(`/jobs/${job}/rig`, { text: 'Look under the seat', minutes: 3 })
    await made(`/jobs/${job}/put-back`, { what: 'Fan', was: '103', now: '88', due: 'hand-over' })
    await call()
      .post(api(`/jobs/${job}/entries`))
      .field('note', JSON.stringify({ text: 'smells of fuel', rpm: 4000 }))
  },
  'with a brief': (job) =>
    patch(`/jobs/${job}`, {
      use: 'road',
      fitted: 'Short silencer',
      complaint: 'flat',
      changed: [{ part: 'silencer', bore: 'other', length: 'same', removed: false }],
      twoStates: [{ part: 'baffle', first: 'in', second: 'out' }],
      fuelSold: { grade: 'the usual', ethanolPct: null },
      service: 'middle',
      tuner: 'Saltmarsh workshop',
      limits: { revCeiling: 9000, revReason: 'valve springs', weakPump: true },
    }),
  licensed: (job) => patch(`/jobs/${job}`, { limits: { revCeiling: null, licensed: true } }),
  'with a plan, power and mixture of its own': (job) =>
    patch(`/jobs/${job}`, {
      plan: { ...DEFAULT_PLAN, minutesAtHand: 40 },
      power: { ...DEFAULT_POWER, smoothing: 200 },
      mixture: { ...DEFAULT_MIXTURE, lagMs: 180 },
    }),
  carburetted: async (job) => {
    await patch(`/jobs/${job}`, { jetting: DEFAULT_JETTING })
    const needle = { name: 'U', points: [] }
    const box = { ...DEFAULT_JETTING.box, main: [115], pilot: [40], needles: [needle] }
    await patch(`/jobs/${job}`, { jetting: { ...DEFAULT_JETTING, box, tipIn: { wanted: 0.9, lean: 1, rich: 0.8 } } })
    await made(`/jobs/${job}/sets`, {
      name: 'Fitting 1',
      weather: { temperatureC: 8, pressureKpa: 99, humidityPct: 70 },
      fitting: { fitted: [{ main: 115, pilot: 40, needle: 'U', clip: 3 }], reason: 'as found', predicted: null },
    })
  },
  'a reference of entered figures': (job) =>
    made(`/jobs/${job}/sets`, {
      name: 'Stock',
      figures: {
        quantity: 'torque',
        correction: 'none',
        rpm: [3000, 4000],
        mean: [30, 31],
        spread: [1, 1],
        machines: 4,
      },
    }),
  archived: (job) => patch(`/jobs/${job}`, { archived: true }),
  'handed over': (job) => post(`/jobs/${job}/done`).expect(200),
  'handed over and opened again': async (job) => {
    await post(`/jobs/${job}/done`).expect(200)
    await post(`/jobs/${job}/reopen`).expect(200)
  },
}

const MACHINE = { name: 'Curlew 437', cylinders: 1, displacementCc: 437, strokes: 4 }
const names = Object.keys(STATES)

describe('every state a job can be in goes into an archive and comes back', () => {
  it.each(names)('%s', async (name) => {
    const job = await server.newJob({ title: name, machine: MACHINE })
    await STATES[name]!(job)
    const { zip, content } = await archiveOf(job)
    const copy = await call().post(api('/archives')).attach('file', zip, 'job.zip')
    expect([copy.status, (copy.body as { detail?: string }).detail]).toEqual([201, undefined])
    const again = await archiveOf((copy.body as { id: string }).id)
    expect(told(again.content)).toEqual(told(content))
  })
  it.each(names.filter((name) => name !== 'new' && !name.startsWith('handed')))(
    'and handed over, opened again, with %s',
    async (name) => {
      const job = await server.newJob({ title: name, machine: MACHINE })
      await STATES[name]!(job)
      if (name.startsWith('handled')) return
      await patch(`/jobs/${job}`, { archived: false })
      await post(`/jobs/${job}/done`).expect(200)
      await post(`/jobs/${job}/reopen`).expect(200)
      const { zip, content } = await archiveOf(job)
      const copy = await call().post(api('/archives')).attach('file', zip, 'job.zip').expect(201)
      const again = await archiveOf((copy.body as { id: string }).id)
      expect(told(again.content)).toEqual(told(content))
    },
  )
})
