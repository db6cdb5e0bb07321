import { gzipSync } from 'node:zlib'
import { strToU8, zipSync } from 'fflate'
import writeExcel from 'write-excel-file/node'
import type { RunInfo, RunsAdded } from '@yuzumix/core'
import { asBytes, api, testServer, type TestServer } from '../testServer'

let server: TestServer
beforeAll(async () => {
  server = await testServer()
})
afterAll(() => server.stop())

/** A log of an engine by a formula of its own: rows of what stands beside time, at a rate. */
const beside = (k: number, hz: number): string => {
  const s = k / hz
  return `${(4000 + 2500 * Math.sin(s / 2)).toFixed(0)},${(40 + 30 * Math.sin(s / 3)).toFixed(1)},${(0.9 + 0.02 * Math.sin(s)).toFixed(3)}`
}
const log = (header: string, time: (k: number) => string, { rows = 400, hz = 20, head = '' } = {}): string =>
  `${head}${header},rpm,throttle,lambda\n${Array.from({ length: rows }, (_, k) => `${time(k)},${beside(k, hz)}`).join('\n')}\n`
const two = (n: number): string => String(n).padStart(2, '0')
/** A clock time from seconds of a day. */
const clock = (s: number, digits = 2): string => {
  const day = ((s % 86_400) + 86_400) % 86_400
  return `${two(Math.floor(day / 3600))}:${two(Math.floor(day / 60) % 60)}:${(day % 60).toFixed(digits).padStart(digits ? digits + 3 : 2, '0')}`
}
const half = (s: number): string => {
  const hour = Math.floor(s / 3600) % 24
  return `${((hour + 11) % 12) + 1}:${clock(s).slice(3)} ${hour < 12 ? 'AM' : 'PM'}`
}
const NOON = 11 * 3600 + 59 * 60 + 55
const NIGHT = 23 * 3600 + 59 * 60 + 55
const EPOCH = 1_796_000_000

async function timesOf(job: string, run: string): Promise<Float32Array> {
  const { body } = await server
    .call()
    .get(api(`/jobs/${job}/runs/${run}/channels/time`))
    .buffer()
    .parse(asBytes)
    .expect(200)
  const bytes = body as Buffer
  return new Float32Array(bytes.buffer.slice(bytes.byteOffset, bytes.byteOffset + bytes.byteLength))
}

describe('shapes of time', () => {
  const at = (k: number): number => k / 20
  const SHAPES: [string, string, (k: number) => string, { head?: string; error?: number }?][] = [
    ['seconds', 'Time (s)', (k) => at(k).toFixed(2)],
    ['seconds without a unit', 'Time', (k) => at(k).toFixed(2)],
    ['seconds since the start of something', 'Time (s)', (k) => (81_234 + at(k)).toFixed(2)],
    ['milliseconds', 'Time (ms)', (k) => (1000 * at(k)).toFixed(0)],
    ['milliseconds without a unit', 'Time', (k) => (1000 * at(k)).toFixed(0)],
    ['microseconds', 'Time (us)', (k) => (1e6 * at(k)).toFixed(0)],
    ['microseconds with µ', 'Time [µs]', (k) => (1e6 * at(k)).toFixed(0)],
    ['microseconds with the Greek letter', 'Time [μs]', (k) => (1e6 * at(k)).toFixed(0)],
    ['microseconds without a unit', 'Timestamp', (k) => (1e6 * at(k)).toFixed(0)],
    ['minutes', 'Time (min)', (k) => (at(k) / 60).toFixed(7)],
    ['days of a spreadsheet', 'Timestamp', (k) => (45_991.5 + at(k) / 86_400).toFixed(9), { error: 0.001 }],
    ['ms since 1970', 'Timestamp', (k) => (1000 * (EPOCH + at(k))).toFixed(0)],
    ['s since 1970', 'Unix time'.replace('Unix ', ''), (k) => (EPOCH + at(k)).toFixed(2)],
    ['a clock', 'Time', (k) => clock(36_000 + at(k))],
    ['a clock with a date', 'Date Time', (k) => `2026-11-30 ${clock(36_000 + at(k))}`],
    ['ISO with a zone', 'Timestamp', (k) => `2026-11-30T${clock(36_000 + at(k))}+01:00`],
    ['a German clock', 'Uhrzeit', (k) => `30.11.2026 ${clock(36_000 + at(k))}`],
    ['a clock with AM and PM over noon', 'Time', (k) => half(NOON + at(k))],
    ['a clock over midnight', 'Time', (k) => clock(NIGHT + at(k))],
    ['AM and PM over midnight', 'Time', (k) => half(NIGHT + at(k))],
    ['a clock with thousandths after a colon', 'Time', (k) => clock(36_000 + at(k), 3).replace('.', ':')],
    ['a clock in whole seconds', 'Time', (k) => clock(36_000 + Math.floor(at(k)), 0)],
    ['minutes and seconds', 'Time', (k) => clock(at(k)).slice(3)],
    ['a rate in the head', 'Sample', (k) => String(k), { head: 'Logger of our own\nSample rate: 20 Hz\n' }],
    ['a step in the head', 'Sample', (k) => String(k), { head: 'Interval [ms];50\n'.replace(';', ',') }],
  ]
  it.each(SHAPES)('%s', async (_, header, time, { head = '', error = 0.004 } = {}) => {
    const job = await server.newJob()
    const { body } = await server.upload(job, log(header, time, { head })).expect(201)
    const run = body as RunInfo
    expect(run.samples).toBe(400)
    const times = await timesOf(job, run.id)
    const most = Math.max(...Array.from(times, (value, k) => Math.abs(value - at(k))))
    expect(most).toBeLessThan(error)
  })
  it('a unit that was told by the values is named', async () => {
    const job = await server.newJob()
    const { body } = await server
      .upload(
        job,
        log('Time', (k) => String(50 * k)),
      )
      .expect(201)
    expect((body as RunInfo).warnings.join()).toMatch(/taken for milliseconds: it says no unit/)
  })
  it('a gap of minutes is named', async () => {
    const job = await server.newJob()
    const { body } = await server
      .upload(
        job,
        log('Time (s)', (k) => (at(k) + (k > 200 ? 240 : 0)).toFixed(2)),
      )
      .expect(201)
    expect((body as RunInfo).warnings.join()).toMatch(/Nothing was logged for 4\.0 minutes after 10 s/)
  })
})

describe('what comes in', () => {
  it('every column that is not known is kept with its name and unit; what was guessed is marked', async () => {
    const job = await server.newJob()
    const text = `time,rpm,throttle,A7,Lean angle (deg),Note,TPS (V)\n${Array.from({ length: 200 }, (_, k) => `${k / 20},${beside(k, 20)},${(30 * Math.sin(k / 9)).toFixed(1)},dry,${(k % 40) / 10}`).join('\n')}\n`
    const { body } = await server.upload(job, text).expect(201)
    const { channels, warnings } = body as RunInfo
    expect(channels.map((one) => [one.channel, one.header ?? '', one.unit])).toEqual([
      ['time', '', 's'],
      ['rpm', '', 'rpm'],
      ['throttle', '', '%'],
      ['lambda1', 'A7', 'λ'],
      ['other1', 'Lean angle (deg)', 'deg'],
      ['other3', 'TPS (V)', 'V'],
    ])
    expect(channels[3]!.guessed).toBe(true)
    expect(warnings.join(' ')).toMatch(/"A7" does not say what it is.*a guess/)
    expect(warnings.join(' ')).toMatch(/"Note" (has no numbers|holds text) and is left out/)
    expect(warnings.join(' ')).toMatch(/"TPS \(V\)" looks like throttle in "V"/)
    const { body: again } = await server
      .call()
      .get(api(`/jobs/${job}/runs`))
      .expect(200)
    expect((again as RunInfo[])[0]!.channels).toEqual(channels)
  })

  it('two recordings in one file become two runs, each from its start, as one act', async () => {
    const job = await server.newJob()
    const first = log('Time (s)', (k) => (k / 20).toFixed(2), { rows: 300 })
    const second = log('Time (s)', (k) => (k / 20 + 1000).toFixed(2), { rows: 200, hz: 25 })
      .split('\n')
      .slice(1)
      .join('\n')
    // The second begins anew; it was logged later, at other speeds.
    const restarted = second.replaceAll(
      /^1(\d{3}\.\d\d),/gm,
      (_, rest: string) => `${(Number(rest) % 1000).toFixed(2)},`,
    )
    const { body } = await server.upload(job, first + restarted).expect(201)
    const { runs, refused } = body as RunsAdded
    expect(refused).toEqual([])
    expect(runs.map((run) => [run.name, run.samples])).toEqual([
      ['log.csv (1)', 300],
      ['log.csv (2)', 200],
    ])
    expect((await timesOf(job, runs[1]!.id))[0]).toBe(0)
    expect(runs[1]!.duration).toBeCloseTo(199 / 20, 2)
    await server.upload(job, first + restarted).expect(409)
  })

  it('gzip is read as what is in it; a zip of ten logs gives ten runs, and tells of each that does not come in', async () => {
    const job = await server.newJob()
    const plain = log('Time (s)', (k) => (k / 20).toFixed(2))
    const { body: one } = await server.upload(job, gzipSync(Buffer.from(plain))).expect(201)
    expect((one as RunInfo).samples).toBe(400)
    const files = Object.fromEntries(
      Array.from({ length: 10 }, (_, k) => [
        `day/pass ${k + 1}.csv`,
        strToU8(log('Time (s)', (i) => (i / 20).toFixed(2), { rows: 300 + k })),
      ]),
    )
    const zip = zipSync({
      ...files,
      'day/notes.txt': strToU8('it rained'),
      '__MACOSX/x': strToU8('x'),
      '.hidden': strToU8('x'),
    })
    const { body } = await server.upload(job, Buffer.from(zip)).expect(201)
    const { runs, refused } = body as RunsAdded
    expect(runs.map((run) => run.name)).toEqual(Array.from({ length: 10 }, (_, k) => `pass ${k + 1}.csv`))
    expect(refused.map((two) => two.file)).toEqual(['notes.txt'])
    const none = zipSync({ 'a.txt': strToU8('no log'), 'b.txt': strToU8('nor this') })
    const { body: fault } = await server.upload(job, Buffer.from(none)).expect(422)
    expect((fault as { errors: unknown[] }).errors).toHaveLength(2)
    await server.upload(job, Buffer.from(zip.slice(0, 4000))).expect(422)
    await server.upload(job, Buffer.concat([Buffer.from([0x1f, 0x8b, 8, 0]), Buffer.from('rubbish')])).expect(422)
  })

  it('a log of one row, and columns of any name, are read', async () => {
    const job = await server.newJob()
    const { body: one } = await server.upload(job, 'time,rpm,throttle,lambda\n0,3000,20,0.9\n').expect(201)
    expect((one as RunInfo).samples).toBe(1)
    const odd = log('Time (s)', (k) => (k / 20).toFixed(2))
      .split('\n')
      .map((row, k) => (row ? `${row},${k ? `${k},${2 * k}` : 'constructor,__proto__'}` : ''))
      .join('\n')
    const { body } = await server.upload(job, odd).expect(201)
    expect((body as RunInfo).channels.flatMap((two) => two.header ?? [])).toEqual(['constructor', '__proto__'])
  })

  it('a workbook is read by its first sheet', async () => {
    const head = ['Time (s)', 'Engine RPM', 'TPS', 'AFR'].map((value) => ({ value }))
    const rows = Array.from({ length: 150 }, (_, k) => [k / 20, 3000 + 20 * k, 40, 13 + (k % 5) / 10])
    const book = writeExcel([head, ...rows.map((row) => row.map((value) => ({ value })))], { sheet: 'log' })
    const job = await server.newJob()
    const { body } = await server.upload(job, await book.toBuffer()).expect(201)
    expect((body as RunInfo).samples).toBe(150)
    expect((body as RunInfo).channels.map((one) => one.channel)).toEqual(['time', 'rpm', 'throttle', 'lambda1'])
  })
})
