import { spawn } from 'node:child_process'
import { readFileSync } from 'node:fs'
import { join } from 'node:path'
import { root } from './ready.mjs'

/**
 * What the server is started with: one arena of memory for all its threads. With one each, as glibc has it, every thread
 * that once stored a column of a long log keeps that much.
 */
const SERVER_ENV = JSON.parse(readFileSync(new URL('./server-env.json', import.meta.url), 'utf8'))

/** Starts the built server; this process ends with it, and what would end this process ends it. */
export function serve() {
  const server = spawn(process.execPath, [join(root, 'server/dist/main.js')], {
    stdio: 'inherit',
    env: { ...SERVER_ENV, ...process.env },
  })
  for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP']) process.on(signal, () => server.kill(signal))
  server.on('exit', (code) => process.exit(code ?? 1))
}
