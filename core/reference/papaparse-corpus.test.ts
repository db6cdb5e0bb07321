/**
 * The corpus of the CSV library papaparse (its own tests, which its package carries): every text in it, whatever its quotes, its
 * separators and its line ends, is either laid out with the library's own headers or refused in words.
 */
import { readFileSync } from 'node:fs'
import { dirname, join } from 'node:path'
import { runInNewContext } from 'node:vm'
import Papa from 'papaparse'
import { readLayout } from '../src/log/head'
import { isRefusal } from '../src/refusal/refusal'

const folder = join(dirname(require.resolve('papaparse')), 'tests')
/** Texts of the corpus: what stands behind "input:" as a plain string. */
const texts = [
  ...readFileSync(join(folder, 'test-cases.js'), 'utf8').matchAll(
    /^\s*input: ("(?:[^"\\]|\\.)*"|'(?:[^'\\]|\\.)*'),?$/gm,
  ),
].map(([, literal]) => runInNewContext(literal!) as string)

it('holds a corpus worth the name', () => {
  expect(texts.length).toBeGreaterThan(80)
})

it('each of its texts is laid out or refused in words, never worse', () => {
  for (const text of texts)
    try {
      const { headers } = readLayout(text, true)
      expect(headers.length).toBeGreaterThan(0)
    } catch (error) {
      if (!isRefusal(error, 'no-log')) throw new Error(`${JSON.stringify(text.slice(0, 80))}: ${String(error)}`)
    }
})

it('a log in the corpus’s ways of quoting has the headers and the cells that the library reads', () => {
  for (const [by, end] of [
    [',', '\n'],
    [';', '\r\n'],
    ['\t', '\r'],
    ['|', '\n'],
  ] as const) {
    const rows = [
      ['time', '"engine ""speed"" rpm"', 'lambda', '"note, of the day"'],
      ['0', '3000', '0.9', '"a;b|c,d"'],
      ['0.1', '3010', '0.91', '"two ""quotes"""'],
      ['0.2', '3020', '0.92', ''],
    ]
    const text = `\uFEFF${rows.map((row) => row.join(by)).join(end)}${end}`
    const told = Papa.parse<string[]>(text.slice(1), { delimiter: by, skipEmptyLines: true }).data
    const layout = readLayout(text, true)
    expect(layout.delimiter).toBe(by)
    expect(layout.headers).toEqual(told[0])
    expect(layout.rows[0]).toEqual(told[1])
  }
})
