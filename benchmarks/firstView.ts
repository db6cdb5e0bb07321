import { readdirSync, readFileSync, statSync } from 'node:fs'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { gzipSync } from 'node:zlib'
import type { Measured } from './measured'

const dist = fileURLToPath(new URL('../../web/dist', import.meta.url))

/** Everything the list of jobs needs, cold: page, entry with its static imports, styles, and the fonts of one text and one figure face. */
export async function firstView(): Promise<Measured[]> {
  const assets = join(dist, 'assets')
  const names = readdirSync(assets)
  const page = readFileSync(join(dist, 'index.html'), 'utf8')
  const seen = new Set<string>()
  const visit = (name: string): void => {
    if (seen.has(name) || !names.includes(name)) return
    seen.add(name)
    if (!name.endsWith('.js')) return
    // Static imports only: what is fetched by import() belongs to a stage.
    for (const match of readFileSync(join(assets, name), 'utf8').matchAll(/(?:from|import)\s*["']\.\/([^"']+)["']/g))
      visit(match[1]!)
  }
  for (const match of page.matchAll(/assets\/([^"']+)/g)) visit(match[1]!)
  for (const name of names) if (/^JobsView-.*\.(js|css)$/.test(name)) visit(name)
  for (const name of names) if (/latin-(400|700)-normal.*\.woff2$/.test(name)) seen.add(name)
  const size =
    [...seen].reduce(
      (sum, name) =>
        sum +
        (name.endsWith('.woff2')
          ? statSync(join(assets, name)).size
          : gzipSync(readFileSync(join(assets, name))).length),
      gzipSync(page).length,
    ) / 1000
  return [
    {
      what: 'first view, cold cache',
      value: `${size.toFixed(0)} kB gzip in ${seen.size + 1} files`,
      budget: '350 kB',
      met: size <= 350,
    },
  ]
}
