import { spawn, type ChildProcess } from 'node:child_process'
import { cpSync, mkdtempSync, rmSync } from 'node:fs'
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
export async function startApp(demo: boolean): Promise<RunningApp> {
  const folder = mkdtempSync(join(tmpdir(), 'yuzumix-e2e-'))
  if (demo) cpSync(process.env['YUZUMIX_E2E_DEMO']!, folder, { recursive: true })
  let { child, address } = await start(folder, '0')
  return {
    address,
    folder,
    async killAndRestart() {
      const ended = new Promise((resolve) => child.once('exit', resolve))
      child.kill('SIGKILL')
      await ended
      // On the same port, where the open page looks for it.
      ;({ child, address } = await start(folder, new URL(address).port))
    },
    stop() {
      child.kill('SIGKILL')
      rmSync(folder, { recursive: true, force: true })
    },
  }
}

/** Times that rigs live faster than the clock on the wall. */
const RIG_CLOCK = '10'

/** Starts the server, and waits for the address that it prints. */
function start(folder: string, port: string): Promise<{ child: ChildProcess; address: string }> {
  const env = { ...process.env, YUZUMIX_DATA: folder, PORT: port, HOST: '127.0.0.1', YUZUMIX_RIG_CLOCK: RIG_CLOCK }
  const child = spawn(process.execPath, [join(root, 'server/dist/main.js')], {
    env,
    stdio: ['ignore', 'pipe', 'inherit'],
  })
  return new Promise((resolve, reject) => {
    let said = ''
    child.stdout!.on('data', (text: Buffer) => {
      said += text.toString()
      const address = /http:\/\/\S+?(?=\/?\s)/.exec(said)?.[0]
      if (address) resolve({ child, address })
    })
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

/** The job that is open, and where its resources are. */
export const jobOf = (page: Page): string => /jobs\/([^/?#]+)/.exec(page.url())![1]!
export const apiOf = (page: Page): string => `${new URL(page.url()).origin}/api/v1/jobs/${jobOf(page)}`
/** How many runs the open job has. */
export async function runsOf(page: Page): Promise<number> {
  return ((await (await page.request.get(`${apiOf(page)}/runs`)).json()) as unknown[]).length
}

/** Ticks what nothing is run before, as a workshop does before it connects. */
export async function closeRigList(page: Page): Promise<void> {
  const lines = (await (await page.request.get(`${apiOf(page)}/rig`)).json()) as { id: string; gate: boolean }[]
  for (const { id, gate } of lines)
    if (gate) await page.request.patch(`${apiOf(page)}/rig/${id}`, { data: { done: true } })
}

/** Says why in the dialog that asks for a reason. */
export async function giveReason(page: Page, reason: string): Promise<void> {
  const dialog = page.getByRole('dialog')
  await dialog.getByPlaceholder('Why must it be, this once?').fill(reason)
  await dialog.getByRole('button', { name: 'Do it all the same' }).click()
}

/** Opens a job from the list at its mixture stage and waits for the field. */
export async function openMixture(page: Page, app: RunningApp, title: string): Promise<void> {
  await page.goto(app.address)
  await page.getByRole('link', { name: title, exact: true }).click()
  await expect(page.getByText(/solid/).first()).toBeVisible()
}

/** Makes a job as a person does, and goes on to where logs are dropped. */
export async function newJob(page: Page, app: Pick<RunningApp, 'address'>, title: string): Promise<void> {
  await page.goto(app.address)
  await page.getByRole('button', { name: 'New job' }).first().click()
  await page.getByRole('textbox', { name: 'Title' }).fill(title)
  await page.getByRole('button', { name: 'Make the job' }).click()
  // It begins where it is taken in.
  await expect(page).toHaveURL(/\/brief$/)
  await expect(page.getByText('All saved')).toBeVisible()
  await page.keyboard.press('Alt+4')
  await expect(page.getByRole('heading', { name: 'Drop logs here' })).toBeVisible()
}
