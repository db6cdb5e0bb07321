import { spawn } from 'node:child_process'
import { once } from 'node:events'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'
import serverEnv from '../scripts/server-env.json'

/** The built application, as it is started for people. */
export interface BuiltServer {
  address: string
  pid: number
  /** ms from its start until it listened */
  startMs: number
  newJob(): Promise<string>
  stop(): Promise<void>
  /** ends it at once, with nothing said to it */
  kill(): Promise<void>
}

/**
 * Starts the built application on a folder of its own and waits until it is there.
 *
 * @param begun is given what kills it, as soon as it runs
 */
export async function builtServer(
  folder: string,
  begun: (kill: () => void) => void = () => undefined,
): Promise<BuiltServer> {
  const at = performance.now()
  const main = fileURLToPath(new URL('./main.js', import.meta.url))
  const child = spawn(process.execPath, [main], {
    env: { ...serverEnv, ...process.env, YUZUMIX_DATA: join(folder, 'data'), PORT: '0', HOST: '127.0.0.1' },
    stdio: ['ignore', 'pipe', 'inherit'],
  })
  begun(() => child.kill('SIGKILL'))
  let said = ''
  const address = await new Promise<string>((resolve, reject) => {
    child.stdout.on('data', (text: Buffer) => {
      said += text.toString()
      const found = /http:\/\/\S+?(?=\/?\s)/.exec(said)
      if (found) resolve(found[0])
    })
    child.once('exit', () => reject(new Error(`It did not start: ${said}`)))
  })
  const startMs = performance.now() - at
  const end = async (signal: NodeJS.Signals): Promise<void> => {
    if (child.exitCode !== null || child.signalCode !== null) return
    const ended = once(child, 'exit')
    child.kill(signal)
    await ended
  }
  return {
    address,
    pid: child.pid!,
    startMs,
    async newJob() {
      const answer = await fetch(`${address}/api/v1/jobs`, {
        method: 'POST',
        headers: { 'content-type': 'application/json' },
        body: '{"title":"bench"}',
      })
      return ((await answer.json()) as { id: string }).id
    },
    stop: () => end('SIGTERM'),
    kill: () => end('SIGKILL'),
  }
}
