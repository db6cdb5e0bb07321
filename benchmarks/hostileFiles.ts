import { strToU8, zipSync, type Zippable } from 'fflate'
import { gzipSync } from 'node:zlib'

/** A file that somebody sends and that no honest program made; and the door it is sent to. */
export interface HostileFile {
  name: string
  door: 'runs' | 'archives' | 'tables/read'
  /** its content, made when it is sent */
  content(): Buffer
}

const HEAD = 'time,rpm,throttle,lambda\n'
const rows = (count: number): string => {
  const lines: string[] = []
  for (let i = 0; i < count; i++) lines.push(`${i / 50},${3000 + (i % 5000)},30,0.9${i % 10}`)
  return `${lines.join('\n')}\n`
}
const filled = (text: string, bytes: number): Buffer => Buffer.alloc(bytes, text)
const afterHead = (text: string, bytes: number): Buffer =>
  Buffer.concat([Buffer.from(HEAD + rows(20)), filled(text, bytes)])
const zipOf = (files: Zippable): Buffer => Buffer.from(zipSync(files, { level: 6 }))

/** The parts of a workbook with one sheet. */
const workbookOf = (sheet: string, more: Zippable = {}): Buffer =>
  zipOf({
    '[Content_Types].xml': strToU8('<Types/>'),
    'xl/workbook.xml': strToU8('<workbook><sheets><sheet name="a" sheetId="1" r:id="rId1"/></sheets></workbook>'),
    'xl/_rels/workbook.xml.rels': strToU8(
      '<Relationships><Relationship Id="rId1" Target="worksheets/sheet1.xml"/></Relationships>',
    ),
    'xl/worksheets/sheet1.xml': strToU8(`<worksheet><sheetData>${sheet}</sheetData></worksheet>`),
    ...more,
  })
const cell = (at: string, value: string | number): string => `<c r="${at}"><v>${value}</v></c>`
const text = (at: string, value: string): string => `<c r="${at}" t="inlineStr"><is><t>${value}</t></is></c>`
const sheetHead = `<row r="1">${['time', 'rpm', 'throttle', 'lambda'].map((one, k) => text(`${'ABCD'[k]}1`, one)).join('')}</row>`

const RUN = {
  name: 'a',
  kind: 'sweep',
  set: 0,
  digest: 'd',
  duration: 1,
  samples: 3,
  warnings: [],
  gaugeScale: null,
  leftOut: null,
  channels: [
    { channel: 'time', unit: 's', count: 3, min: 0, max: 1 },
    { channel: 'rpm', unit: 'rpm', count: 3, min: 3000, max: 3002 },
  ],
  file: 'runs/001.csv',
}
/** job.json of an archive. */
const jobOf = (over: object = {}): string =>
  JSON.stringify({
    format: 'yuzumix-job/1',
    job: { title: 'a' },
    sets: [{ name: 'As it came' }],
    runs: [RUN],
    tables: [],
    entries: [],
    ...over,
  })
/** An archive of one run. @param csv of the run; @param over members of job.json, and other files */
const archiveOf = (csv: string | Buffer, over: object = {}, more: Zippable = {}): Buffer =>
  zipOf({ 'job.json': strToU8(jobOf(over)), 'runs/001.csv': typeof csv === 'string' ? strToU8(csv) : csv, ...more })

const nested = (depth: number): string => '['.repeat(depth) + ']'.repeat(depth)
const numbers = (count: number): string => Array.from({ length: count }, (_, i) => i).join(',')
const tableJson = (over: object): string =>
  JSON.stringify({
    format: 'yuzumix-table/1',
    kind: 'fuel trim',
    rpm: [1000, 2000],
    load: [10, 20],
    values: [
      [0, 0],
      [0, 0],
    ],
    ...over,
  })
/** Bytes that pack badly, the same each time. */
function noise(bytes: number): Buffer {
  const out = Buffer.alloc(bytes)
  let state = 12345
  for (let i = 0; i < bytes; i++) {
    state = (Math.imul(state, 1103515245) + 12345) >>> 0
    out[i] = state >>> 16
  }
  return out
}

/**
 * Files that freeze, fill or end a careless server, of a size.
 *
 * @param mb size of the large ones, before what packs them
 */
export function hostileFiles(mb: number): HostileFile[] {
  const bytes = mb * 1024 ** 2
  const log = (name: string, content: () => Buffer): HostileFile => ({ name: `log: ${name}`, door: 'runs', content })
  const archive = (name: string, content: () => Buffer): HostileFile => ({
    name: `archive: ${name}`,
    door: 'archives',
    content,
  })
  // A table file may have 5 MB.
  const table = (name: string, content: () => Buffer): HostileFile => ({
    name: `table: ${name}`,
    door: 'tables/read',
    content,
  })
  const few = Math.min(bytes, 4.5 * 1024 ** 2)
  return [
    log('a cell of many MB', () => afterHead('7', bytes)),
    log('a quoted cell of many MB', () => Buffer.concat([afterHead('"', 1), filled('x', bytes), Buffer.from('"\n')])),
    log('a quote that is never closed', () => afterHead('"a,b\n', bytes)),
    log('quotes that close badly', () => afterHead('"a"x\n', bytes)),
    log('quotes only', () => filled('"', bytes)),
    log('no new line', () => filled('1,', bytes)),
    log('no new line after a head', () => afterHead('1,', bytes)),
    log('commas', () => filled(',,,,,,,,,,,,\n', bytes)),
    log('commas after a head', () => afterHead(',,,,,,,,,,,,\n', bytes)),
    log('commas without a line', () => filled(',', bytes)),
    log('blank lines', () => filled('\n', bytes)),
    log('blank lines before a head', () =>
      Buffer.concat([filled('\n', Math.min(bytes, 3e5)), Buffer.from(HEAD + rows(60))]),
    ),
    log('blank lines after a head', () => afterHead('\n', bytes)),
    log('lines of one sign', () => afterHead('1\n', bytes)),
    log('lines of text', () => afterHead('abc,def,ghi,jkl\n', bytes)),
    log('lines that end in returns alone', () => afterHead('1,3000,30,0.9\r', bytes)),
    log('returns only', () => filled('\r', bytes)),
    log('NUL bytes', () => filled('\0', bytes)),
    log('NUL bytes after a head', () => afterHead('\0', bytes)),
    log('noise', () => noise(bytes)),
    log('noise after a head', () => Buffer.concat([Buffer.from(HEAD), noise(bytes)])),
    log('UTF-16 noise', () => Buffer.concat([Buffer.from([0xff, 0xfe]), noise(bytes)])),
    log('a surrogate alone', () => Buffer.concat([Buffer.from([0xff, 0xfe]), filled('\u00d8', bytes)])),
    log('digits without end', () => afterHead(`${'9'.repeat(5000)},1,1,1\n`, bytes)),
    log('exponents', () => afterHead('1e309,1e39,-1e39,1e-400\n', bytes)),
    log('times that fall', () => {
      const lines = Array.from({ length: Math.min(2e5, bytes / 16) }, (_, i) => `${1e6 - i},3000,30,0.9`)
      return Buffer.from(`${HEAD}${lines.join('\n')}\n`)
    }),
    log('times that begin anew every 20 rows', () => {
      const lines = Array.from({ length: Math.min(4e5, bytes / 16) }, (_, i) => `${i % 20},3000,30,0.9`)
      return Buffer.from(`${HEAD}${lines.join('\n')}\n`)
    }),
    log('10,000 columns', () => {
      const names = Array.from({ length: 9996 }, (_, i) => `c${i}`).join(',')
      const line = `${'1,'.repeat(9995)}1`
      const count = Math.max(5, Math.floor(bytes / 25_000))
      return Buffer.from(
        `${HEAD.trim()},${names}\n${Array.from({ length: count }, (_, i) => `${i / 50},3000,30,0.9,${line}`).join('\n')}\n`,
      )
    }),
    log('a head of 2 MB', () => Buffer.from(`${Array.from({ length: 3e5 }, (_, i) => `rpm${i}`).join(',')}\n1,2,3\n`)),
    log('columns named after what objects have', () =>
      Buffer.from(
        `time,rpm,throttle,lambda,constructor,__proto__,toString,hasOwnProperty\n${rows(60).replaceAll('\n', ',1,2,3,4\n')}`,
      ),
    ),
    log('one name many times', () => Buffer.from(`${'rpm,'.repeat(5000)}time,lambda\n${'1,'.repeat(5002)}\n`)),
    log('empty', () => Buffer.alloc(0)),
    log('a head and nothing', () => Buffer.from(HEAD)),
    log('a gzip that unpacks a thousandfold', () => gzipSync(filled('0', Math.max(bytes, 2e7)))),
    log('a gzip of gzips', () => gzipSync(gzipSync(gzipSync(filled('0', Math.max(bytes, 2e7)))))),
    log('a gzip cut short', () => gzipSync(Buffer.from(HEAD + rows(2000))).subarray(0, 2000)),
    log('a zip that unpacks a thousandfold', () => zipOf({ 'a.csv': filled('0', Math.max(bytes, 2e7)) })),
    log('a zip of 20,000 files', () =>
      zipOf(Object.fromEntries(Array.from({ length: 20_000 }, (_, i) => [`${i}.csv`, strToU8('1')]))),
    ),
    log('a zip of 190 logs that are none', () =>
      zipOf(Object.fromEntries(Array.from({ length: 190 }, (_, i) => [`${i}.csv`, noise(2000)]))),
    ),
    log('a zip cut short', () => zipOf({ 'a.csv': strToU8(HEAD + rows(2000)) }).subarray(0, 3000)),
    log('a zip with nothing in it', () => zipOf({})),
    log('a zip whose list lies', () => {
      const zip = zipOf({ 'a.csv': strToU8(HEAD + rows(2000)) })
      // The size in its list, far less than what comes out.
      const at = zip.lastIndexOf(Buffer.from('PK\u0001\u0002', 'latin1'))
      zip.writeUInt32LE(10, at + 24)
      return zip
    }),
    log('a zip with paths that climb', () => zipOf({ '../../../../a.csv': strToU8(HEAD + rows(60)) })),
    log('a zip that says it is encrypted', () => {
      const zip = zipOf({ 'a.csv': strToU8(HEAD + rows(60)) })
      zip.writeUInt16LE(1, 6)
      zip.writeUInt16LE(1, zip.lastIndexOf(Buffer.from('PK\u0001\u0002', 'latin1')) + 8)
      return zip
    }),
    log('a sheet with a cell far out', () => workbookOf(`${sheetHead}<row r="1048576">${cell('XFD1048576', 1)}</row>`)),
    log('a sheet with far cells in every row', () =>
      workbookOf(
        sheetHead +
          Array.from({ length: 20_000 }, (_, i) => `<row r="${i + 2}">${cell(`XFD${i + 2}`, i)}</row>`).join(''),
      ),
    ),
    log('a sheet of rows beyond all', () => workbookOf(`${sheetHead}<row r="999999999999">${cell('A1', 1)}</row>`)),
    log('a sheet of one value', () => workbookOf(filled(cell('A2', 1), Math.max(bytes, 2e7)).toString())),
    log('texts that are shared without end', () =>
      workbookOf(`${sheetHead}<row r="2"><c r="A2" t="s"><v>0</v></c></row>`, {
        'xl/sharedStrings.xml': strToU8(
          `<sst>${`<si><t>${'x'.repeat(1000)}</t></si>`.repeat(Math.min(1e5, bytes / 1000))}</sst>`,
        ),
      }),
    ),
    log('entities that unfold', () =>
      workbookOf(`${sheetHead}<row r="2"><c r="A2" t="str"><v>&c;</v></c></row>`, {
        'xl/worksheets/sheet1.xml': strToU8(
          `<!DOCTYPE a [<!ENTITY a "${'x'.repeat(1000)}"><!ENTITY b "${'&a;'.repeat(1000)}"><!ENTITY c "${'&b;'.repeat(1000)}">]><worksheet><sheetData><row r="1"><c r="A1" t="str"><v>&c;</v></c></row></sheetData></worksheet>`,
        ),
      }),
    ),
    log('a sheet that is not closed', () => workbookOf(`${sheetHead}<row r="2"><c r="A2"><v>`)),
    log('elements in elements', () => workbookOf('<a>'.repeat(Math.min(2e5, bytes / 3)))),
    log('a workbook without a sheet', () => zipOf({ '[Content_Types].xml': strToU8('<Types/>') })),
    archive('unpacks a thousandfold', () => archiveOf(filled('0', Math.max(bytes, 2e7)))),
    archive('short lines', () => archiveOf(filled('7\n', Math.min(bytes, 5e7)))),
    archive('short lines that pack badly', () => {
      const lines = noise(Math.min(bytes, 3e7))
      for (let i = 0; i < lines.length; i++) lines[i] = i % 2 ? 10 : 48 + (lines[i]! % 10)
      return archiveOf(lines)
    }),
    archive('a line without end', () => archiveOf(noise(bytes).fill(55, 0, 20))),
    archive('a long line after a head', () => archiveOf(`time (s),rpm (rpm)\n${'7'.repeat(Math.min(bytes, 7e6))}`)),
    archive('20,000 files', () =>
      archiveOf(
        'time (s),rpm (rpm)\n',
        {},
        Object.fromEntries(Array.from({ length: 20_000 }, (_, i) => [`x${i}`, strToU8('1')])),
      ),
    ),
    archive('a run that is said to have a billion samples', () =>
      archiveOf('time (s),rpm (rpm)\n1,2\n', { runs: [{ ...RUN, samples: 1e9 }] }),
    ),
    archive('100,000 runs', () => archiveOf('time (s)\n', { runs: Array.from({ length: 1e5 }, () => RUN) })),
    archive('a million entries that are none', () =>
      archiveOf('time (s)\n', { entries: Array.from({ length: 1e6 }, () => 1) }),
    ),
    archive('lists in lists', () => zipOf({ 'job.json': strToU8(`{"format":"yuzumix-job/1","job":${nested(1e5)}}`) })),
    archive('a table of a million breakpoints', () =>
      archiveOf('time (s)\n', {
        tables: [
          {
            name: 't',
            cylinder: null,
            table: {
              kind: 'fuel trim',
              rpm: Array.from({ length: 1e6 }, (_, i) => i),
              load: [1, 2],
              values: [[1], [2]],
            },
            revisions: [],
          },
        ],
      }),
    ),
    archive('job.json of 60 MB', () =>
      archiveOf('time (s)\n', { job: { title: 'a', complaint: noise(Math.min(bytes, 3e7)).toString('hex') } }),
    ),
    archive('job.json that is no JSON', () => zipOf({ 'job.json': strToU8('{') })),
    archive('no job.json', () => zipOf({ 'a.csv': strToU8('1') })),
    archive('job.json twice', () => {
      const zip = zipOf({
        'job.json': strToU8(jobOf()),
        'job.jsoX': strToU8(jobOf()),
        'runs/001.csv': strToU8('time (s),rpm (rpm)\n0,1\n1,2\n2,3\n'),
      })
      for (let at = zip.indexOf('job.jsoX'); at >= 0; at = zip.indexOf('job.jsoX', at)) zip.write('job.json', at)
      return zip
    }),
    archive('a member of objects', () =>
      zipOf({ 'job.json': strToU8(jobOf().replace('"title":"a"', '"title":"a","__proto__":{"x":1}')) }),
    ),
    archive('a run whose file climbs', () => archiveOf('time (s)\n', { runs: [{ ...RUN, file: '../../etc/passwd' }] })),
    archive('cells of text', () => archiveOf('time (s),rpm (rpm)\n0,a\n1,b\n2,c\n')),
    archive('numbers beyond all', () => archiveOf('time (s),rpm (rpm)\n0,1e999\n1,-1e999\n2,3\n')),
    archive('a rig that remembers nonsense', () =>
      archiveOf('time (s),rpm (rpm)\n0,1\n1,2\n2,3\n', {
        rigs: [
          {
            machine: 'curlew-437-stock',
            memory: {
              first: [[[1]]],
              kept: [[[1e9]]],
              sensors: { closedVolts: null, openVolts: null, freeAirPct: null },
              readable: true,
            },
          },
        ],
      }),
    ),
    archive('noise', () => noise(Math.min(bytes, 2e7))),
    archive('a log instead', () => Buffer.from(HEAD + rows(100))),
    table('a million breakpoints', () =>
      Buffer.from(tableJson({ rpm: Array.from({ length: Math.min(7e5, few / 7) }, (_, i) => i) })),
    ),
    table('a million rows', () =>
      Buffer.from(tableJson({ values: Array.from({ length: Math.min(1e6, few / 4) }, () => [0]) })),
    ),
    table('lists in lists', () => Buffer.from(`{"format":"yuzumix-table/1","rpm":${nested(few / 2)}}`)),
    table('rpm that is no list', () => Buffer.from(tableJson({ rpm: { length: 1e9 } }))),
    table('lines without end', () => filled('0\n', few)),
    table('a line without end', () => filled('0,', few)),
    table('a quote without end', () => Buffer.concat([Buffer.from('kind,fuel trim\n"'), filled('x', few)])),
    table('many breakpoints in a line', () =>
      Buffer.from(`kind,fuel trim\nload,${numbers(few / 8)}\n1,${numbers(few / 8)}\n`),
    ),
    table('a sheet with a far cell', () =>
      workbookOf(`<row r="1">${text('A1', 'kind')}</row><row r="1048576">${cell('XFD1048576', 1)}</row>`),
    ),
    table('a sheet of many cells', () =>
      workbookOf(
        Array.from(
          { length: 3e4 },
          (_, i) => `<row r="${i + 1}">${cell(`A${i + 1}`, i)}${cell(`ZZ${i + 1}`, i)}</row>`,
        ).join(''),
      ),
    ),
    table('noise', () => noise(few)),
    table('empty', () => Buffer.alloc(0)),
    table('NUL bytes', () => filled('\0', few)),
    table('JSON that is a word', () => Buffer.from('{"format":"yuzumix-table/1"}')),
    table('JSON null', () => Buffer.from('[null]')),
    table('a member of objects', () =>
      Buffer.from('{"format":"yuzumix-table/1","__proto__":{"kind":"fuel trim"},"constructor":1}'),
    ),
  ]
}
