// Lints scripts with their types, the scripts of components with theirs, and components with their templates.
import { parse } from '@vue/compiler-sfc'
import { spawnSync } from 'node:child_process'
import { join } from 'node:path'
import { withComponents } from './components.mjs'
import { root } from './ready.mjs'

const node = (...args) => spawnSync(process.execPath, args, { cwd: root, stdio: 'inherit' }).status === 0
const typed = (...args) =>
  node('node_modules/oxlint/bin/oxlint', '--type-aware', '--report-unused-disable-directives', ...args)

/** The scripts of a component where they stand, all else blanked; broken ones are told by the lint of their own file. */
function scriptOf(source) {
  const { script, scriptSetup } = parse(source, { sourceMap: false, ignoreEmpty: false }).descriptor
  const blocks = [script, scriptSetup].filter(Boolean).map(({ loc }) => [loc.start.offset, loc.end.offset])
  const isIn = (at) => blocks.some(([from, to]) => at >= from && at < to)
  return source.replace(/[^\n]/g, (character, at) => (isIn(at) ? character : ' '))
}

const held = [
  typed('-c', 'oxlint.config.mjs'),
  withComponents(scriptOf, (folder) => typed('-c', 'oxlint.components.mjs', join(folder, 'src'))),
  node(
    'node_modules/eslint/bin/eslint.js',
    '--cache',
    `--cache-location=${join(root, 'node_modules/.cache/eslint/')}`,
    '.',
  ),
]
process.exitCode = held.every(Boolean) ? 0 : 1
