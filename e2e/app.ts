import { spawn, type ChildProcess } from 'node:child_process'
import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { expect, type Page } from '@playwright/test'

const root = fileURLToPath(new URL('..', import.meta.url))

export interface RunningApp {
  address: string
  folder: string
  /** ends the server as a power cut would, and starts it on the same folder */
  killAndRestart(): Promise<void>
  stop(): void
}

/** Starts the built application on a folder of its own, with the demo jobs or empty. */
export async function startApp(demo: boolean, port: number): Promise<RunningApp> {
  const folder = mkdtempSync(join(tmpdir(), 'yuzumix-e2e-'))
  const env = { ...process.env, YUZUMIX_DATA: folder, PORT: String(port), HOST: '127.0.0.1' }
  if (demo) await finished(spawn(process.execPath, [join(root, 'server/dist/demo.js')], { env, stdio: 'ignore' }))
  let child = await listening(
    spawn(process.execPath, [join(root, 'server/dist/main.js')], { env, stdio: ['ignore', 'pipe', 'inherit'] }),
  )
  return {
    address: `http://127.0.0.1:${port}`,
    folder,
    async killAndRestart() {
      const ended = new Promise((resolve) => child.once('exit', resolve))
      child.kill('SIGKILL')
      await ended
      child = await listening(
        spawn(process.execPath, [join(root, 'server/dist/main.js')], { env, stdio: ['ignore', 'pipe', 'inherit'] }),
      )
    },
    stop() {
      child.kill('SIGKILL')
      rmSync(folder, { recursive: true, force: true })
    },
  }
}

function finished(child: ChildProcess): Promise<void> {
  return new Promise((resolve, reject) =>
    child.once('exit', (code) => (code === 0 ? resolve() : reject(new Error(`ended with ${code}`)))),
  )
}

function listening(child: ChildProcess): Promise<ChildProcess> {
  return new Promise((resolve, reject) => {
    child.stdout!.on('data', (text: Buffer) => text.toString().includes('http://') && resolve(child))
    child.once('exit', (code) => reject(new Error(`the server ended with ${code}`)))
  })
}

/** Collects what the page complains of; the caller asserts that it is nothing. */
export function complaints(page: Page): string[] {
  const list: string[] = []
  page.on('console', (message) => message.type() === 'error' && list.push(message.text()))
  page.on('pageerror', (error) => list.push(error.message))
  return list
}

/** Opens a job from the list at its mixture stage and waits for the field. */
export async function openMixture(page: Page, app: RunningApp, title: string): Promise<void> {
  await page.goto(app.address)
  await page.getByRole('link', { name: title, exact: true }).click()
  await expect(page.getByText(/solid/).first()).toBeVisible()
}
