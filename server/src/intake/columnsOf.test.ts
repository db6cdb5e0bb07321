import { logReader, readLayout } from '@yuzumix/core'
import { columnsOf } from './columnsOf'

/** Columns, warnings and last lines of a text that comes in pieces of so many bytes. */
async function read(text: string, size: number) {
  const layout = readLayout(text, true)
  const reader = logReader({ ...layout, gaugeScale: 14.7 })
  const bytes = Buffer.from(text)
  async function* pieces() {
    for (let at = 0; at < bytes.length; at += size) yield bytes.subarray(at, at + size)
  }
  const columns = reader.channels.map((): number[] => [])
  for await (const part of columnsOf(pieces(), 'utf-8', reader, layout))
    part.forEach((column, k) => columns[k]!.push(...column))
  return { columns, ...reader.finish() }
}

const numbers = Array.from({ length: 60 }, (_, i) => [i / 10, 2000 + i, 0.9 + i / 1000])
const body = (end = '\n', from = 0): string =>
  numbers
    .slice(from)
    .map((row) => row.join(','))
    .join(end) + end
const expected = [0, 1, 2].map((k) => numbers.map((row) => Math.fround(row[k]!)))
const SIZES = [1, 7, 64, 100_000]

describe('a log in pieces', () => {
  it.each([
    ['plain', `time,rpm,lambda\n${body()}`],
    ['with CRLF', `time,rpm,lambda\r\n${body('\r\n')}`],
    ['without a last line end', `time,rpm,lambda\n${body().trimEnd()}`],
    ['with a byte order mark', `\uFEFFtime,rpm,lambda\n${body()}`],
    ['with a quoted head', `"time","rpm","lambda"\n${body()}`],
    ['with line ends in a quoted head', `"time\n(s)","rpm","lambda"\n${body()}`],
    ['with lines above the head', `made by a rig\n"on, Monday"\ntime,rpm,lambda\ns,rpm,-\n${body()}`],
    ['with quoted numbers from the middle on', `time,rpm,lambda\n${body()}`.replace('3,2030', '"3","2030"')],
    ['with all numbers quoted', `time,rpm,lambda\n${body().replace(/[\d.]+/g, '"$&"')}`],
  ])('%s reads the same, however it is cut', async (_name, text) => {
    for (const size of SIZES) expect((await read(text, size)).columns).toEqual(expected)
  })

  it('lines may end in CR alone, which the parser learns from the first piece', async () => {
    for (const size of SIZES.slice(2))
      expect((await read(`time,rpm,lambda\r${body('\r')}`, size)).columns).toEqual(expected)
  })

  it('a quoted cell with line ends keeps the rows and their lines together', async () => {
    const text = `time,rpm,lambda,note\n${numbers.map((row, i) => [...row, i === 20 ? '"a\nb"' : ''].join(',')).join('\n')}\n7,x,0.9,\n`
    for (const size of SIZES) {
      const { columns, warnings } = await read(text, size)
      expect(columns[1]!.slice(0, 60)).toEqual(expected[1])
      expect(warnings.join()).toContain('first "x" on line 62')
    }
  })

  it('a fault of the source is told on both ways', async () => {
    for (const quote of ['', '"']) {
      async function* failing() {
        yield Buffer.from(`time,rpm,lambda\n1,2000,${quote}0.9${quote}\n`)
        throw new Error('disk gone')
      }
      const layout = readLayout(`time,rpm,lambda\n${body()}`, true)
      const reading = columnsOf(failing(), 'utf-8', logReader({ ...layout, gaugeScale: 14.7 }), layout)
      await expect(
        (async () => {
          for await (const part of reading) void part
        })(),
      ).rejects.toThrow('disk gone')
    }
  })
})
