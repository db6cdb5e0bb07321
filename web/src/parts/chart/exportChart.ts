const COPIED = [
  'fill',
  'stroke',
  'stroke-width',
  'stroke-dasharray',
  'paint-order',
  'opacity',
  'font-size',
  'font-weight',
  'font-family',
  'text-anchor',
] as const
const HEAD = 52
const FOOT = 24
const SCALE = 2

/** What is written on an exported chart: a chart that travels must say by itself what it shows. */
export interface ChartText {
  title: string
  /** units, correction, smoothing, sets */
  lines: string[]
  fileName: string
}

/** A chart as a document of its own: its look written into it, title and conditions on it. */
function chartSvg(chart: SVGSVGElement, { title, lines }: ChartText): string {
  const copy = chart.cloneNode(true) as SVGSVGElement
  const originals = [chart, ...chart.querySelectorAll('*')]
  const copies = [copy, ...copy.querySelectorAll('*')]
  copies.forEach((one, k) => {
    const style = getComputedStyle(originals[k]!)
    for (const name of COPIED) {
      const value = style.getPropertyValue(name)
      if (value) one.setAttribute(name, value)
    }
    for (const { name } of [...one.attributes])
      if (name === 'class' || name.startsWith('data-')) one.removeAttribute(name)
  })
  const width = chart.width.baseVal.value
  const height = chart.height.baseVal.value
  const paper = getComputedStyle(document.documentElement).getPropertyValue('--panel').trim() || '#ffffff'
  const ink = getComputedStyle(document.documentElement).getPropertyValue('--ink').trim() || '#22281f'
  const inner = copy.innerHTML
  const text = (y: number, size: number, content: string, weight = 400): string =>
    `<text x="12" y="${y}" font-family="Atkinson Hyperlegible, sans-serif" font-size="${size}" font-weight="${weight}" fill="${ink}">${escaped(content)}</text>`
  return [
    `<svg xmlns="http://www.w3.org/2000/svg" width="${width}" height="${height + HEAD + FOOT}" viewBox="0 0 ${width} ${height + HEAD + FOOT}">`,
    `<title>${escaped(title)}</title>`,
    `<rect width="100%" height="100%" fill="${paper}"/>`,
    text(22, 17, title, 700),
    ...lines.slice(0, 1).map((one) => text(42, 12, one)),
    `<g transform="translate(0, ${HEAD})">${inner}</g>`,
    ...lines.slice(1, 2).map((one) => text(height + HEAD + 16, 12, one)),
    '</svg>',
  ].join('\n')
}

function escaped(text: string): string {
  return text.replace(/&/g, '&amp;').replace(/</g, '&lt;').replace(/>/g, '&gt;').replace(/"/g, '&quot;')
}

/** Saves a chart as SVG, or as PNG at twice its size. @throws Error when the browser cannot draw it */
export async function exportChart(chart: SVGSVGElement, text: ChartText, format: 'svg' | 'png'): Promise<void> {
  const svg = new Blob([chartSvg(chart, text)], { type: 'image/svg+xml' })
  if (format === 'svg') return save(svg, `${text.fileName}.svg`)
  const address = URL.createObjectURL(svg)
  try {
    const image = new Image()
    image.src = address
    await image.decode()
    const canvas = document.createElement('canvas')
    canvas.width = SCALE * image.naturalWidth
    canvas.height = SCALE * image.naturalHeight
    canvas.getContext('2d')!.drawImage(image, 0, 0, canvas.width, canvas.height)
    const png = await new Promise<Blob | null>((resolve) => canvas.toBlob(resolve, 'image/png'))
    if (!png) throw new Error('The browser could not draw the chart as PNG. Export it as SVG.')
    save(png, `${text.fileName}.png`)
  } finally {
    URL.revokeObjectURL(address)
  }
}

function save(content: Blob, name: string): void {
  const link = document.createElement('a')
  link.href = URL.createObjectURL(content)
  link.download = name.replace(/[^\p{L}\p{N} ._-]/gu, '_')
  link.click()
  setTimeout(() => URL.revokeObjectURL(link.href), 10_000)
}
