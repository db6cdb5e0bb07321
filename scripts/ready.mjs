// Installs and builds what is missing, so that every command works on a fresh clone. Quick when nothing is.
import { spawnSync } from 'node:child_process'
import { existsSync, readFileSync, readdirSync, rmSync, statSync, writeFileSync } from 'node:fs'
import { createHash } from 'node:crypto'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'

export const root = fileURLToPath(new URL('..', import.meta.url))

export function run(command, args, options = {}) {
  const { status } = spawnSync(command, args, { cwd: root, stdio: 'inherit', ...options })
  if (status !== 0) process.exit(status ?? 1)
}

const digest = (text) => createHash('sha256').update(text).digest('hex')
const stampOf = (path) => (existsSync(path) ? readFileSync(path, 'utf8') : '')

/** Newest change under some folders, as one number. */
function newest(paths) {
  let latest = 0
  const visit = (path) => {
    const stat = statSync(path)
    if (!stat.isDirectory()) latest = Math.max(latest, stat.mtimeMs)
    else for (const name of readdirSync(path)) if (name !== 'dist' && name !== 'node_modules') visit(join(path, name))
  }
  for (const path of paths) visit(join(root, path))
  return latest
}

/** Packages as the lock file names them. Not npm ci: it wants packages for every other platform in the lock, too. */
export function install() {
  const stamp = join(root, 'node_modules/.yuzumix-lock')
  const wanted = digest(readFileSync(join(root, 'package-lock.json'), 'utf8') + process.version)
  if (stampOf(stamp) === wanted) return
  console.log('Installing packages (the database driver is compiled once, about two minutes) ...')
  run('npm', ['install', '--no-save', '--no-audit', '--no-fund', '--loglevel=error'], {
    shell: process.platform === 'win32',
  })
  writeFileSync(stamp, wanted)
}

/** Server, worker, demo and interface, when a source is newer than what was built. */
export function build() {
  const stamp = join(root, 'server/dist/.built')
  const sources = [
    'core/src',
    'server/src',
    'web/src',
    'web/index.html',
    'web/vite.config.ts',
    'demo',
    'benchmarks',
    'scripts/build.mjs',
    'package-lock.json',
  ]
  const latest = String(newest(sources))
  if (stampOf(stamp) === latest && existsSync(join(root, 'web/dist/index.html'))) return
  rmSync(stamp, { force: true })
  run(process.execPath, ['scripts/build.mjs'])
  writeFileSync(stamp, latest)
}
