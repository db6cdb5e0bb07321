// Writes what is generated from the contract: docs/openapi.yaml and the JSON Schemas of archive and table.
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { pathToFileURL } from 'node:url'
import { build } from 'esbuild'
import { stringify } from 'yaml'
import { root } from './ready.mjs'

const { version } = JSON.parse(readFileSync(join(root, 'package.json'), 'utf8'))
const folder = mkdtempSync(join(root, 'node_modules/.contract-'))
try {
  const outfile = join(folder, 'contract.mjs')
  await build({
    stdin: {
      contents: `export { openapi } from './openapi'; export { archiveDocument, tableDocument } from './documents'`,
      resolveDir: join(root, 'core/src/contract'),
      loader: 'ts',
    },
    bundle: true,
    platform: 'node',
    format: 'esm',
    packages: 'external',
    outfile,
    logLevel: 'warning',
  })
  const { openapi, archiveDocument, tableDocument } = await import(pathToFileURL(outfile))
  const write = (name, text) => writeFileSync(join(root, 'docs', name), text)
  // Written out in full: pointers of YAML would save space and puzzle readers.
  write('openapi.yaml', stringify(openapi(version), { aliasDuplicateObjects: false, lineWidth: 120 }))
  write('job.schema.json', `${JSON.stringify(archiveDocument(), null, 2)}\n`)
  write('table.schema.json', `${JSON.stringify(tableDocument(), null, 2)}\n`)
} finally {
  rmSync(folder, { recursive: true, force: true })
}
