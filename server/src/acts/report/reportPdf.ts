import { createRequire } from 'node:module'
import {
  curveWords,
  reportCurves,
  reportText,
  USUAL_UNITS,
  type Report,
  type ReportBlock,
  type ReportPower,
  type ReportReader,
  type Units,
} from '@yuzumix/core'

const MARGIN = 42
const GAP = 6
const SIZES = { A4: 'A4', letter: 'LETTER' } as const
export type Paper = keyof typeof SIZES
type Doc = PDFKit.PDFDocument

const require = createRequire(import.meta.url)
const fontFile = (weight: 400 | 700): string =>
  require.resolve(`@fontsource/atkinson-hyperlegible/files/atkinson-hyperlegible-latin-${weight}-normal.woff`)

/** Signs that the face does not hold, as they are said on paper. */
const spoken = (text: string): string =>
  text
    .replace(/λ/g, 'lambda')
    .replace(/−/g, '-')
    // The face has no thin space; one that does not break keeps a figure whole.
    .replace(/\u202f/g, '\u00a0')
    .replace(/(\d) (?=%|°|rpm\b|kW\b|hp\b|PS\b|N·m|lb·ft|kPa\b|km\b)/g, '$1\u00a0')

/** Breaks the page when a piece of that height does not fit any more. */
function room(doc: Doc, height: number): void {
  if (doc.y + height > doc.page.height - MARGIN) doc.addPage()
}

function table(doc: Doc, { head, rows, shares: given }: Extract<ReportBlock, { kind: 'table' }>, width: number): void {
  const columns = Math.max(head.length, ...rows.map((row) => row.length))
  // Two columns are a name and what is said of it.
  const shares = given ?? (columns === 2 ? [0.28, 0.72] : Array.from({ length: columns }, () => 1 / columns))
  const line = (cells: readonly string[], font: string, colour: string): void => {
    doc.font(font).fillColor(colour)
    const heights = cells.map((cell, k) => doc.heightOfString(spoken(cell), { width: shares[k]! * width - GAP }))
    const height = Math.max(...heights, 0) + 3
    room(doc, height)
    const y = doc.y
    let x = MARGIN
    cells.forEach((cell, k) => {
      doc.text(spoken(cell), x, y, { width: shares[k]! * width - GAP })
      x += shares[k]! * width
    })
    doc.x = MARGIN
    doc.y = y + height
  }
  if (head.some(Boolean)) line(head, 'plain', '#5E6657')
  for (const row of rows) line(row, 'plain', '#22281F')
}

function curves(doc: Doc, power: ReportPower, units: Units, width: number): void {
  const drawn = reportCurves(power, units, width - 50, 130)
  if (!drawn) return
  room(doc, drawn.height + 50)
  const top = doc.y
  doc.save().translate(MARGIN + 40, top + 4)
  if (drawn.real) doc.path(drawn.real).fillOpacity(0.25).fill('#F0B323').fillOpacity(1)
  drawn.bands.forEach((band, k) => {
    if (!band) return
    const colour = k === drawn.bands.length - 1 ? '#2F6B4F' : '#5E6657'
    doc.path(band).fillOpacity(0.16).fill(colour).fillOpacity(1)
  })
  doc.lineWidth(0.5).strokeColor('#DEDBD0').fontSize(8).fillColor('#5E6657').font('plain')
  for (const { at, text } of drawn.xTicks) {
    doc.moveTo(at, 0).lineTo(at, drawn.height).stroke()
    doc.text(text, at - 20, drawn.height + 3, { width: 40, align: 'center', lineBreak: false })
  }
  for (const { at, text } of drawn.yTicks) {
    doc.moveTo(0, at).lineTo(drawn.width, at).stroke()
    doc.text(text, -40, at - 4, { width: 34, align: 'right', lineBreak: false })
  }
  drawn.between.forEach((line, k) => {
    if (line)
      doc
        .lineWidth(0.9)
        .strokeColor('#5E6657')
        .dash(1 + 2 * k, { space: 2 })
        .path(line)
        .stroke()
        .undash()
  })
  doc.lineWidth(1).strokeColor('#5E6657').dash(4, { space: 3 }).path(drawn.first).stroke().undash()
  doc.lineWidth(1.5).strokeColor('#2F6B4F').path(drawn.second).stroke()
  doc.restore()
  doc.x = MARGIN
  doc.y = top + drawn.height + 20
  doc
    .fontSize(8)
    .fillColor('#5E6657')
    .text(spoken(`${drawn.unit} by rpm. ${curveWords(power)}`), { width })
  doc.fontSize(9.5)
}

/** Says at the foot of each page which it is, and of what. */
function numberPages(doc: Doc, of: string): void {
  const { count } = doc.bufferedPageRange()
  for (let page = 0; page < count; page++) {
    doc.switchToPage(page)
    // Below the margin a text would begin a page of its own.
    doc.page.margins.bottom = 0
    doc
      .font('plain')
      .fontSize(8)
      .fillColor('#5E6657')
      .text(spoken(`${of} · page ${page + 1} of ${count}`), MARGIN, doc.page.height - MARGIN + 14, { lineBreak: false })
  }
}

/** A report for paper: real text, charts of vectors, fonts inside. */
export async function reportPdf(
  report: Report,
  reader: ReportReader,
  paper: Paper,
  units: Units = USUAL_UNITS,
): Promise<Buffer> {
  // Few ever ask for it: not read in before.
  const { default: PDFDocument } = await import('pdfkit')
  const doc = new PDFDocument({
    size: SIZES[paper],
    margin: MARGIN,
    bufferPages: true,
    info: { Title: report.title, CreationDate: new Date(report.at) },
    lang: 'en',
  })
  const parts: Buffer[] = []
  doc.on('data', (part: Buffer) => parts.push(part))
  const ended = new Promise<void>((resolve) => doc.on('end', resolve))
  doc.registerFont('plain', fontFile(400)).registerFont('strong', fontFile(700))
  const width = doc.page.width - 2 * MARGIN
  for (const [k, one] of reportText(report, reader, units).entries()) {
    doc.fontSize(9.5).fillColor('#22281F').font('plain')
    if (one.kind === 'heading') {
      if (one.onNewPage) doc.addPage()
      else if (k > 0) doc.moveDown(0.4)
      room(doc, 40)
      doc
        .font('strong')
        .fontSize(k === 0 || one.onNewPage ? 17 : 11.5)
        .text(spoken(one.text), { width })
        .moveDown(0.2)
    } else if (one.kind === 'paragraph') doc.text(spoken(one.text), { width })
    else if (one.kind === 'list') {
      for (const item of one.items) {
        const text = `•  ${spoken(item)}`
        room(doc, doc.heightOfString(text, { width: width - 10 }))
        doc.text(text, MARGIN + 6, doc.y, { width: width - 10 })
        doc.x = MARGIN
      }
    } else if (one.kind === 'table') table(doc, one, width)
    else curves(doc, one.power, one.units, width)
  }
  numberPages(doc, `${report.title}, report ${report.n ?? 'not saved'}, ${report.at.slice(0, 10)}`)
  doc.end()
  await ended
  return Buffer.concat(parts)
}
