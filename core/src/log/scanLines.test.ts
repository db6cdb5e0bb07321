import fc from 'fast-check'
import Papa from 'papaparse'
import { logReader, type LogReader } from './logReader'
import type { ReadResult } from './settleColumns'

const HEADERS = ['time', 'rpm', 'note', 'lambda']

const reader = (decimalComma = false): LogReader =>
  logReader({
    headers: HEADERS,
    mapping: {
      time: { channel: 'time', unit: 's' },
      rpm: { channel: 'rpm', unit: 'rpm' },
      lambda: { channel: 'lambda1', unit: 'lambda' },
    },
    decimalComma,
    gaugeScale: 14.7,
  })

const outcome = (read: (reader: LogReader) => Float32Array[], decimalComma: boolean) => {
  const one = reader(decimalComma)
  const columns = read(one).map((column) => [...column])
  let result: ReadResult | string
  try {
    result = one.finish()
  } catch (error) {
    result = (error as Error).message
  }
  return { columns, result }
}

const scanned = (text: string, delimiter: string, encoding = 'utf-8') =>
  outcome((one) => {
    const bytes = encoding === 'utf-8' ? new TextEncoder().encode(text) : Uint8Array.from(text, (c) => c.charCodeAt(0))
    return one.pushLines(bytes, delimiter, 2, (part) => new TextDecoder(encoding).decode(part))
  }, delimiter === ';')

/** What the general CSV parser and Number make of the same text. */
const parsed = (text: string, delimiter: string) =>
  outcome(
    (one) => one.push(Papa.parse<string[]>(text, { delimiter, newline: '\n' }).data.map(trimReturn), 2),
    delimiter === ';',
  )
const trimReturn = (row: string[]): string[] => [...row.slice(0, -1), row.at(-1)!.replace(/\r$/, '')]

const cell = fc.oneof(
  { weight: 6, arbitrary: fc.double({ min: -20000, max: 20000, noNaN: true }).map((x) => x.toFixed(3)) },
  { weight: 3, arbitrary: fc.integer({ min: -9000, max: 9000 }).map(String) },
  fc.constantFrom('', ' ', '-', '.', '-.5', '5.', '+7', '1e3', ' 12.5 ', '1.2.3', '--1', 'NaN', 'abc', '00:01:02.5'),
  fc.constantFrom('\u00a0', 'é', '12345678901234567890', '0.12345678901234567', '0x10', '−4.5', '1.234,5'),
)

describe('lines read byte by byte', () => {
  it.each([',', ';'])('read as a CSV parser and Number would read them (delimiter "%s")', (delimiter) => {
    const sign = (text: string): string => (delimiter === ';' ? text.replace('.', ',') : text.replace(/,/g, ''))
    const line = fc.array(cell.map(sign), { minLength: 0, maxLength: 6 }).map((cells) => cells.join(delimiter))
    fc.assert(
      fc.property(
        fc.array(line, { maxLength: 40 }),
        fc.constantFrom('\n', '\r\n'),
        fc.boolean(),
        (lines, end, last) => {
          const text = lines.join(end) + (last ? end : '')
          expect(scanned(text, delimiter)).toEqual(parsed(text, delimiter))
        },
      ),
      { numRuns: 400 },
    )
  })

  it('decimals are rounded as Number rounds them', () => {
    const digits = fc.tuple(fc.integer({ min: 0, max: 9_999_999 }), fc.integer({ min: 0, max: 9_999_999 }))
    fc.assert(
      fc.property(digits, ([whole, part]) => {
        const text = `${whole}.${part}`
        const { columns } = scanned(`0,1000,x,${text}`, ',')
        expect(columns[2]![0]).toBe(Math.fround(Number(text)))
      }),
    )
  })

  it('blank lines are passed over and keep their number; odd rows are told by their line', () => {
    const rows = Array.from({ length: 30 }, (_, i) => `${i},2000,,0.9`)
    const text = ['', ',,,', ...rows.slice(0, 10), '10,2000', '\u00a0', ...rows.slice(11), '99,2000,,0.9,7'].join('\n')
    const { result } = scanned(text, ',')
    expect(result).toMatchObject({
      samples: 31,
      warnings: [
        'Left out: "note".',
        '1 rows have too few cells, first on line 14; what is missing counts as empty.',
        '1 rows have more cells than the header, first on line 35; the extra cells are left out.',
      ],
    })
  })

  it('text is told in the encoding of the file', () => {
    const text = Array.from({ length: 25 }, (_, i) => `${i},${i === 3 ? 'läuft' : 2000},,0.9`).join('\n')
    expect(scanned(text, ',', 'windows-1252').result).toMatchObject({
      warnings: ['Left out: "note".', 'Column "rpm": 1 cells hold text, first "läuft" on line 5; they count as empty.'],
    })
  })
})
