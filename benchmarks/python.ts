import { spawnSync } from 'node:child_process'
import { fileURLToPath } from 'node:url'
import { join } from 'node:path'

const root = fileURLToPath(new URL('../..', import.meta.url))

/** Runs one of the bench's Python scripts with Debian's own interpreter and returns the JSON it prints. */
export function python<T>(script: string, args: string[]): T {
  const { stdout, stderr, status } = spawnSync('/usr/bin/python3', [join(root, 'benchmarks', script), ...args], {
    encoding: 'utf8',
    maxBuffer: 1 << 26,
  })
  if (status !== 0)
    throw new Error(`benchmarks/${script} failed; it needs Debian's python3-scipy and python3-pandas.\n${stderr}`)
  return JSON.parse(stdout) as T
}
