import { isRefusal, type Refusal } from '../refusal/refusal'
import Papa from 'papaparse'
import { logReader } from './logReader'
import type { ReadResult } from './settleColumns'
import { readLayout } from './head'
import { recogniseHeader, type Mapping } from './recognise'

/** Reads a whole text as the server does, chunk by chunk. */
function read(
  text: string,
  over: { mapping?: Mapping; sampleRateHz?: number; gaugeScale?: number } = {},
): ReadResult & { columns: Record<string, number[]> } {
  const layout = readLayout(text, true)
  const reader = logReader({
    headers: layout.headers,
    mapping: over.mapping ?? layout.mapping,
    decimalComma: layout.decimalComma,
    gaugeScale: over.gaugeScale ?? 14.7,
    units: layout.units,
    sampleRateHz: over.sampleRateHz,
  })
  const rows = Papa.parse<string[]>(text.replace(/^\uFEFF/, ''), { delimiter: layout.delimiter }).data.slice(
    layout.dataLine - 1,
  )
  const parts = [rows.slice(0, 7), rows.slice(7)].map((part, k) => reader.push(part, layout.dataLine + 7 * k))
  const result = reader.finish()
  const columns = Object.fromEntries(
    result.channels.map(({ channel, factor }) => {
      const at = reader.channels.indexOf(channel)
      return [channel, parts.flatMap((part) => [...part[at]!].map((value) => value * factor))]
    }),
  )
  return { ...result, columns }
}

const rows = (make: (i: number) => string, count = 30): string =>
  Array.from({ length: count }, (_, i) => make(i)).join('\n')
const PLAIN = `time,rpm,throttle,lambda\n${rows((i) => `${i / 50},${2000 + i * 10},${20},${0.9 + i / 1000}`)}\n`

const faultOf = (text: string, over = {}): Refusal => {
  try {
    read(text, over)
  } catch (error) {
    if (isRefusal(error, 'no-log')) return error
    throw error
  }
  throw new Error('was read')
}

describe('what comes in well', () => {
  it('a plain log', () => {
    const { samples, columns, warnings, gaugeScale } = read(PLAIN)
    expect(samples).toBe(30)
    expect(columns['rpm']!.slice(0, 2)).toEqual([2000, 2010])
    expect(columns['lambda1']![29]).toBeCloseTo(0.929, 6)
    expect(warnings).toEqual([])
    expect(gaugeScale).toBeNull()
  })
  it.each([
    ['semicolons and decimal commas', PLAIN.replaceAll(',', ';').replaceAll('.', ',')],
    ['tabs', PLAIN.replaceAll(',', '\t')],
    ['CRLF', PLAIN.replaceAll('\n', '\r\n')],
    ['a byte order mark', `\uFEFF${PLAIN}`],
    ['quoted fields', PLAIN.replace(/[^,\n]+/g, '"$&"')],
    ['a units row', PLAIN.replace('\n', '\ns,rpm,%,λ\n')],
    ['a preamble', `Session 4,,\nLogged by hand\n${PLAIN}`],
    ['blank lines', PLAIN.replace(/\n/g, '\n\n')],
  ])('%s', (_name, text) => {
    const { columns, samples } = read(text)
    expect(samples).toBe(30)
    expect(columns['rpm']!.at(-1)).toBe(2290)
    expect(columns['lambda1']![10]).toBeCloseTo(0.91, 6)
    expect(columns['time']![25]).toBeCloseTo(0.5, 6)
  })
  it('units are converted at the door', () => {
    const text = `time (ms),rpm,tps (%),lambda,ect (°F),map (psi)\n${rows((i) => `${i * 20},3000,20,0.9,212,14.5`)}`
    const { columns } = read(text)
    expect(columns['time']![5]).toBeCloseTo(0.1, 6)
    expect(columns['coolant']![0]).toBeCloseTo(100, 4)
    expect(columns['manifold']![0]).toBeCloseTo(99.97, 1)
  })
  it('AFR becomes lambda by the scale of the gauge', () => {
    const text = PLAIN.replace('lambda', 'AFR').replace(
      /,(0\.9\d*)\n/g,
      (_, value) => `,${(Number(value) * 14.7).toFixed(4)}\n`,
    )
    expect(read(text).columns['lambda1']![10]).toBeCloseTo(0.91, 4)
    expect(read(text, { gaugeScale: 14.1 }).columns['lambda1']![10]).toBeCloseTo((0.91 * 14.7) / 14.1, 4)
    expect(read(text).gaugeScale).toBe(14.7)
  })
  it('AFR in a lambda column, lambda in an AFR column and throttle from 0 to 1 are noticed and told', () => {
    const afr = read(`time,rpm,tps,lambda\n${rows((i) => `${i / 50},3000,0.${20 + (i % 3)},13.2`)}`)
    expect(afr.columns['lambda1']![0]).toBeCloseTo(13.2 / 14.7, 5)
    expect(afr.columns['throttle']![0]).toBeCloseTo(20, 4)
    expect(afr.warnings.join(' ')).toMatch(/0 to 1.*says lambda but its values are AFR/)
    const lambda = read(`time,rpm,tps,AFR\n${rows((i) => `${i / 50},3000,20,0.9`)}`)
    expect(lambda.columns['lambda1']![0]).toBeCloseTo(0.9, 6)
    expect(lambda.warnings.join(' ')).toMatch(/says AFR but its values are lambda/)
  })
  it('a missing time column takes a stated rate', () => {
    const text = PLAIN.replace('time', 'fuel level')
    expect(faultOf(text).faults[0]!.field).toBe('sampleRateHz')
    expect(
      read(text, { sampleRateHz: 10 })
        .columns['time']!.slice(0, 3)
        .map((t) => Math.round(t * 10)),
    ).toEqual([0, 1, 2])
  })
})

describe('what comes in badly is read where it can be, and told', () => {
  it('ragged rows, text, empty cells and a cut last line', () => {
    const lines = PLAIN.trimEnd().split('\n')
    lines[3] = '0.04,2020,20,0.902,7,8'
    lines[5] = '0.08,oops,20,NaN'
    lines[30] = '0.58,22'
    const { columns, warnings } = read(lines.join('\n'))
    expect(columns['rpm']![4]).toBeNaN()
    expect(columns['lambda1']![4]).toBeNaN()
    expect(warnings.join(' ')).toMatch(/"rpm": 1 cells hold text, first "oops" on line 6/)
    expect(warnings.join(' ')).toMatch(/more cells than the header, first on line 4/)
    expect(warnings.join(' ')).toMatch(/last line \(31\) is cut off/)
  })
  it('a few steps back in time', () => {
    const lines = PLAIN.trimEnd().split('\n')
    lines[20] = lines[20]!.replace(/^[^,]+/, '0.01')
    expect(read(lines.join('\n')).warnings.join(' ')).toMatch(/Time runs backwards on 1 rows, first on line 21/)
  })
})

describe('what cannot be read says what, where and what to do', () => {
  it.each([
    ['nothing', '', /empty/],
    ['only blanks', ' \n\n', /empty/],
    ['a header only', 'time,rpm,throttle,lambda\n', /header on line 1 but no rows/],
    ['no rpm', PLAIN.replace('rpm', 'oil level'), /no rpm column.*Its columns are: time, oil level/],
    ['no lambda', PLAIN.replace('lambda', 'oil level'), /no lambda or AFR column/],
    [
      'neither',
      PLAIN.replace('lambda', 'oil level').replace('rpm', 'fuel level'),
      /no rpm column and lambda or AFR column/,
    ],
    ['only a narrowband', PLAIN.replace('lambda', 'O2 voltage'), /narrowband sensor: it tells rich from lean/],
    ['text where rpm should be', PLAIN.replace(/,\d{4},/g, ',fast,'), /holds text \(first "fast" on line 2\)/],
    [
      'time that runs backwards',
      `time,rpm,throttle,lambda\n${rows((i) => `${100 - i},3000,20,0.9`)}`,
      /Time runs backwards on 29 of 30 rows, first on line 3/,
    ],
    ['an rpm that cannot be', PLAIN.replace(/,(2\d{3}),/g, ',9$1000,'), /cannot be Engine speed/],
  ])('%s', (_name, text, message) => expect(faultOf(text).message).toMatch(message))
  it('mappings that do not fit', () => {
    const mapping = {
      time: { channel: 'time', unit: 's' },
      rpm: { channel: 'rpm', unit: 'rpm' },
      lambda: { channel: 'lambda1', unit: 'λ' },
    }
    expect(faultOf(PLAIN, { mapping: { ...mapping, nope: null } }).message).toMatch(/no column "nope"/)
    expect(faultOf(PLAIN, { mapping: { ...mapping, throttle: { channel: 'boost', unit: '' } } }).message).toMatch(
      /no channel "boost"/,
    )
    expect(faultOf(PLAIN, { mapping: { ...mapping, throttle: { channel: 'throttle', unit: 'kg' } } }).message).toMatch(
      /no unit "kg"/,
    )
    expect(faultOf(PLAIN, { mapping: { ...mapping, throttle: { channel: 'rpm', unit: 'rpm' } } }).message).toMatch(
      /mapped twice/,
    )
  })
})

describe('runs of power', () => {
  const log = (header: string, cells: (i: number) => string): string =>
    `time,rpm,${header}\n${rows((i) => `${i / 50},${2000 + i * 10},${cells(i)}`)}\n`
  it('a log with torque and no lambda is a run that says nothing of the mixture', () => {
    const { channels, warnings } = read(log('torque (lb-ft)', () => '20'))
    expect(channels.map((one) => one.channel)).toEqual(['time', 'rpm', 'torque'])
    expect(channels[2]!.max).toBeCloseTo(27.116, 2)
    expect(warnings).toEqual([expect.stringMatching(/nothing about the mixture/)])
  })
  it('throttle in volts is kept under its own name, and said: 2.9 V of a sensor is no 2.9 %', () => {
    const { channels, warnings } = read(log('lambda,TPS (V)', (i) => `0.9,${0.5 + i / 10}`))
    expect(channels.map((one) => one.channel)).toEqual(['time', 'rpm', 'lambda1', 'other1'])
    expect(channels[3]).toMatchObject({ header: 'TPS (V)', unit: 'V' })
    expect(warnings).toEqual([expect.stringMatching(/"TPS \(V\)" looks like throttle in "V".*Known are %/)])
  })
  it.each(['torque (stone·yd)', 'power [elephants]'])(
    '%s: a unit nobody knows is kept under its own name, and said',
    (header) => {
      const { channels, warnings } = read(log(`lambda,${header}`, () => '0.9,20'))
      expect(channels.map((one) => one.channel)).toEqual(['time', 'rpm', 'lambda1', 'other1'])
      expect(warnings).toEqual([expect.stringMatching(/a unit that is not known here: it is kept .*map the column/)])
    },
  )
  it('the unit may also stand in a row of its own under the header', () => {
    const text = `time,rpm,lambda,torque\ns,rpm,λ,furlongs\n${rows((i) => `${i / 50},${2000 + i},0.9,20`)}\n`
    expect(read(text).warnings).toEqual([expect.stringMatching(/"furlongs"/)])
  })
})

describe('a narrowband sensor', () => {
  it('is recognised and never used as a number', () => {
    expect(recogniseHeader('O2 sensor (V)')?.channel).toBe('narrowband1')
    expect(faultOf(`time,rpm,O2 (V)\n${rows((i) => `${i / 50},3000,0.45`)}`).message).toMatch(
      /narrowband.*not how much/,
    )
  })
  it('is refused where a column calls it lambda: its values give it away', () => {
    const swing = `time,rpm,throttle,lambda\n${rows((i) => `${i / 50},3000,20,${i % 8 < 4 ? 0.82 : 0.12}`)}`
    expect(faultOf(swing).message).toMatch(/voltage of a narrowband sensor/)
    expect(faultOf(swing).faults[0]).toMatchObject({ field: 'lambda', column: 4 })
  })
})

describe('a log in milliseconds without saying so', () => {
  const text = (step: number): string =>
    `time,rpm,throttle,lambda\n${Array.from({ length: 900 }, (_, k) => `${k * step},${3000 + 6 * k},60,0.9`).join('\n')}\n`
  it('is taken as such, and says so', () => {
    const result = read(text(10))
    expect(result.channels.find((one) => one.channel === 'time')!.max).toBeCloseTo(8.99, 6)
    expect(result.warnings).toContainEqual(expect.stringMatching(/"time" was taken for milliseconds/))
  })
  it('seconds stay seconds', () => {
    const result = read(text(0.01))
    expect(result.channels.find((one) => one.channel === 'time')!.max).toBeCloseTo(8.99, 6)
    expect(result.warnings).toEqual([])
  })
})
