import { spawn } from 'node:child_process'
import { once } from 'node:events'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'
import serverEnv from '../scripts/server-env.json'

/** The built application, as it is started for people. */
export interface BuiltServer {
  address: string
  pid: number
  newJob(): Promise<string>
  stop(): Promise<void>
}

/** Starts the built application on a folder of its own and waits until it is there. */
export async function builtServer(folder: string): Promise<BuiltServer> {
  const main = fileURLToPath(new URL('./main.js', import.meta.url))
  const child = spawn(process.execPath, [main], {
    env: { ...serverEnv, ...process.env, YUZUMIX_DATA: join(folder, 'data'), PORT: '0', HOST: '127.0.0.1' },
    stdio: ['ignore', 'pipe', 'inherit'],
  })
  const [said] = (await once(child.stdout, 'data')) as [Buffer]
  const address = /http:\/\/\S+?(?=\/?\s)/.exec(said.toString())![0]
  return {
    address,
    pid: child.pid!,
    async newJob() {
      const answer = await fetch(`${address}/api/v1/jobs`, {
        method: 'POST',
        headers: { 'content-type': 'application/json' },
        body: '{"title":"bench"}',
      })
      return ((await answer.json()) as { id: string }).id
    },
    async stop() {
      const ended = once(child, 'exit')
      child.kill()
      await ended
    },
  }
}
