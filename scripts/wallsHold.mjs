// Proves that every wall holds: what it forbids is written into a house of the same rooms, and the linter must tell each.
import { spawnSync } from 'node:child_process'
import { cpSync, mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { dirname, join } from 'node:path'
import { root } from './ready.mjs'
import { WALLS } from './walls.mjs'

/** Something that a pattern stands for. */
const exampleOf = (pattern) =>
  pattern
    .replace(/\{([^,}]*)[^}]*\}/g, '$1')
    .replace(/\*\*\//g, '../../')
    .replace(/\/\*\*/g, '/some/thing')
    .replace(/\*/g, 'some')
/** A file that a glob stands for. */
const fileOf = (glob, k) => exampleOf(glob.replace('**/', '')).replace('some.', `wall-${k}.`)

const house = mkdtempSync(join(tmpdir(), 'yuzumix-walls-'))
try {
  for (const path of ['oxlint.config.mjs', 'scripts/walls.mjs']) {
    mkdirSync(dirname(join(house, path)), { recursive: true })
    cpSync(join(root, path), join(house, path))
  }
  const written = WALLS.flatMap(({ files, forbidden }, k) => {
    const imports = forbidden.flatMap(([patterns]) => patterns.map(exampleOf))
    return files.map((glob) => {
      const file = fileOf(glob, k)
      mkdirSync(dirname(join(house, file)), { recursive: true })
      writeFileSync(join(house, file), imports.map((path) => `import '${path}'\n`).join(''))
      return { file, imports }
    })
  })
  const { stdout } = spawnSync(
    process.execPath,
    [join(root, 'node_modules/oxlint/bin/oxlint'), '-c', 'oxlint.config.mjs', '--format', 'json', '.'],
    { cwd: house, encoding: 'utf8' },
  )
  const told = JSON.parse(stdout).diagnostics.filter(({ code }) => code.includes('no-restricted-imports'))
  const lines = new Set(told.map(({ filename, labels }) => `${filename}:${labels[0].span.line}`))
  const missed = written.flatMap(({ file, imports }) =>
    imports.flatMap((path, k) =>
      // A pattern that the rule does not know matches itself, and nothing that one would write.
      lines.has(`${file}:${k + 1}`) && /^[\w@./:-]+$/.test(path) ? [] : [`${file} may import ${path}`],
    ),
  )
  if (missed.length) {
    console.error(`These walls do not hold:\n${missed.join('\n')}`)
    process.exitCode = 1
  }
} finally {
  rmSync(house, { recursive: true, force: true })
}
