import type { Report, ReportPower } from '../contract/report'
import { curveWords, reportCurves } from './reportCurves'
import { reportText, type ReportBlock, type ReportReader } from './reportText'
import { USUAL_UNITS, type Units } from '../words/units'

const escape = (text: string): string =>
  text.replace(/[&<>"]/g, (one) => ({ '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;' })[one]!)

/** Dashes of the states between, in their order. */
const DASHES = ['1 3', '8 3 1 3', '3 3', '10 4']

function curves(power: ReportPower, units: Units): string {
  const drawn = reportCurves(power, units, 560, 160)
  if (!drawn) return ''
  const { width, height, unit } = drawn
  return `<svg viewBox="-44 -8 ${width + 60} ${height + 28}" role="img" aria-label="${power.quantity} in ${unit} by rpm, state by state">
<path d="${drawn.real}" fill="#F0B323" fill-opacity="0.25"/>
${drawn.bands.map((band, k) => `<path d="${band}" fill="${k === drawn.bands.length - 1 ? '#2F6B4F' : '#5E6657'}" fill-opacity="0.16"/>`).join('')}
${drawn.between.map((line, k) => `<path d="${line}" fill="none" stroke="#5E6657" stroke-width="1.2" stroke-dasharray="${DASHES[k]}"/>`).join('')}
${drawn.xTicks.map(({ at, text }) => `<path d="M${at} 0V${height}" stroke="#DEDBD0"/><text x="${at}" y="${height + 16}" text-anchor="middle">${text}</text>`).join('')}
${drawn.yTicks.map(({ at, text }) => `<path d="M0 ${at}H${width}" stroke="#DEDBD0"/><text x="-6" y="${at + 4}" text-anchor="end">${text}</text>`).join('')}
<path d="${drawn.first}" fill="none" stroke="#5E6657" stroke-width="1.5" stroke-dasharray="5 3"/>
<path d="${drawn.second}" fill="none" stroke="#2F6B4F" stroke-width="2"/>
</svg>
<p class="caption">rpm; ${escape(unit)} upward. ${escape(curveWords(power))}</p>`
}

function block(one: ReportBlock, k: number): string {
  switch (one.kind) {
    case 'heading': {
      const level = k === 0 ? 1 : one.onNewPage ? 2 : 3
      return `<h${level}${one.onNewPage ? ' class="annex"' : ''}>${escape(one.text)}</h${level}>`
    }
    case 'paragraph':
      return `<p>${escape(one.text)}</p>`
    case 'list':
      return `<ul>${one.items.map((item) => `<li>${escape(item)}</li>`).join('')}</ul>`
    case 'table': {
      const row = (cells: readonly string[], tag: string): string =>
        `<tr>${cells.map((cell) => `<${tag}>${escape(cell)}</${tag}>`).join('')}</tr>`
      const widths = one.shares ?? []
      const columns = widths.map((share) => `<col style="width:${(100 * share).toFixed(0)}%">`).join('')
      const head = one.head.some(Boolean) ? `<thead>${row(one.head, 'th')}</thead>` : ''
      return `<table>${columns}${head}<tbody>${one.rows.map((cells) => row(cells, 'td')).join('')}</tbody></table>`
    }
    case 'curves':
      return curves(one.power, one.units)
  }
}

const STYLE = `body{font:15px/1.45 'Atkinson Hyperlegible',Verdana,sans-serif;color:#22281F;background:#fff;max-width:720px;margin:24px auto;padding:0 16px}
h1{font-size:24px;margin:0 0 8px}h2{font-size:20px}h3{font-size:16px;margin:18px 0 6px}table{border-collapse:collapse;width:100%}
td,th{text-align:left;padding:3px 8px 3px 0;border-bottom:1px solid #DEDBD0;vertical-align:top;font-variant-numeric:tabular-nums;overflow-wrap:break-word}
th{color:#5E6657;font-weight:400}ul{margin:4px 0;padding-left:20px}svg{width:100%}.caption{margin:2px 0 8px;color:#5E6657;font-size:0.85em}svg text{font-size:11.5px;fill:#5E6657}footer{color:#5E6657;margin-top:24px}
@page{margin:14mm}@media print{body{font-size:10.5pt;margin:0;padding:0}h3{margin:8px 0 2px}.annex{break-before:page}}`

/** A report as one page that needs nothing else: it can be mailed, kept and printed on A4 or Letter. */
export function reportHtml(report: Report, reader: ReportReader, units: Units = USUAL_UNITS): string {
  const made = `${report.n === null ? 'Not saved yet' : `Report ${report.n}`}, ${report.at.slice(0, 10)}, ${reader === 'workshop' ? "workshop's version" : "customer's version"}`
  return `<!doctype html>
<html lang="en"><head><meta charset="utf-8"><meta name="viewport" content="width=device-width"><title>${escape(report.title)}</title><style>${STYLE}</style></head>
<body>${reportText(report, reader, units).map(block).join('\n')}<footer>${escape(made)}</footer></body></html>
`
}
