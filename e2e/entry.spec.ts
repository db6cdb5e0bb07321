import { expect, test, type APIRequestContext } from '@playwright/test'
import { spawn, type ChildProcess } from 'node:child_process'
import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { complaints, startApp } from './app'

/** Another address of this machine, as a phone in the same network would see one. */
const BESIDE = '127.0.0.2'
const PASSPHRASE = 'dunlin over the mudflat'
const root = join(import.meta.dirname, '..')
const main = join(root, 'server/dist/main.js')

let folder: string
let child: ChildProcess | undefined
test.beforeAll(() => void (folder = mkdtempSync(join(tmpdir(), 'yuzumix-entry-'))))
test.afterAll(() => {
  child?.kill('SIGKILL')
  rmSync(folder, { recursive: true, force: true })
})

/** Starts it on all addresses. @returns its port, or what it said when it did not start */
function startOpen(): Promise<{ port?: string; said: string }> {
  child = spawn(process.execPath, [main], {
    env: { ...process.env, YUZUMIX_DATA: folder, PORT: '0', HOST: '0.0.0.0' },
    stdio: ['ignore', 'pipe', 'pipe'],
  })
  let said = ''
  return new Promise((resolve) => {
    const hear = (text: Buffer): void => {
      said += text.toString()
      const port = /http:\/\/0\.0\.0\.0:(\d+)/.exec(said)?.[1]
      if (port) resolve({ port, said })
    }
    child!.stdout!.on('data', hear)
    child!.stderr!.on('data', hear)
    child!.once('exit', () => resolve({ said }))
  })
}
const put = (request: APIRequestContext, url: string, data: object) => request.put(url, { data })

test('beyond this machine it wants a passphrase and its names; it is asked for, wrong ones are slowed, a phone joins by code, and one only watches', async ({
  page,
  browser,
}) => {
  const closed = await startOpen()
  expect(closed.port).toBeUndefined()
  expect(closed.said).toMatch(/npm run passphrase.*npm run names/)

  // On this machine alone, as it is told.
  const own = await startApp(false)
  await page.goto(`${own.address}/sharing`)
  await expect(page.getByText('This machine alone can reach Yuzumix now.')).toBeVisible()
  await expect(page.getByRole('button', { name: 'Show a code to work' })).toBeDisabled()
  own.stop()

  // Set on its own folder, by the first page.
  const quiet = spawn(process.execPath, [main], {
    env: { ...process.env, YUZUMIX_DATA: folder, PORT: '0', HOST: '127.0.0.1' },
    stdio: ['ignore', 'pipe', 'ignore'],
  })
  const address = await new Promise<string>((resolve) =>
    quiet.stdout!.on('data', (text: Buffer) => resolve(/http:\/\/\S+?(?=\/?\s)/.exec(text.toString())![0])),
  )
  await page.goto(`${address}/sharing`)
  await page.getByRole('textbox', { name: /New passphrase/ }).fill(PASSPHRASE)
  await page.getByRole('button', { name: 'Set it' }).click()
  await expect(page.getByText('One is set.')).toBeVisible()
  await page.getByRole('textbox', { name: /Names and addresses/ }).fill(BESIDE)
  await page.getByRole('button', { name: 'Keep the names' }).click()
  await expect(page.getByRole('button', { name: 'Keep the names' })).toBeDisabled()
  const ended = new Promise((resolve) => quiet.once('exit', resolve))
  quiet.kill()
  await ended

  const { port } = await startOpen()
  const outside = `http://${BESIDE}:${port}`
  const inside = `http://127.0.0.1:${port}`
  // A name that nobody said is answered by nothing.
  expect((await page.request.get(`http://127.0.0.3:${port}/api/v1/jobs`)).status()).toBe(403)
  // On the machine itself nobody is asked.
  expect((await page.request.get(`${inside}/api/v1/jobs`)).status()).toBe(200)
  expect(
    (await page.request.get(`${inside}/api/v1/jobs`, { headers: { 'x-forwarded-for': '10.0.0.9' } })).status(),
  ).toBe(401)
  expect((await page.request.post(`${inside}/api/v1/jobs`, { data: { title: 'Behind the door' } })).status()).toBe(201)

  // A phone by the code that the machine shows.
  await page.goto(`${inside}/sharing`)
  await page.getByRole('button', { name: 'Show a code to only watch' }).click()
  await expect(page.getByRole('img', { name: /read by a camera/ })).toBeVisible()
  const watch = (await page.locator('.address').textContent())!
  expect(watch).toMatch(new RegExp(`^${outside}/join#[a-z2-9]{10}$`))
  const phone = await browser.newContext({ viewport: { width: 390, height: 844 } })
  const watching = await phone.newPage()
  await watching.goto(watch)
  await expect(watching.getByText('Behind the door')).toBeVisible()
  await expect(watching.getByText('Watching only')).toBeVisible()
  const cookies = await phone.cookies()
  expect(cookies).toMatchObject([{ name: 'yuzumix-entry', httpOnly: true, sameSite: 'Strict' }])
  const refused = await watching.request.post(`${outside}/api/v1/jobs`, { data: { title: 'No' } })
  expect([refused.status(), (await refused.json()).type]).toEqual([403, '/problems/only-watching'])
  expect(
    (await put(watching.request, `${outside}/api/v1/access/passphrase`, { passphrase: 'taken over now' })).status(),
  ).toBe(403)
  // The code is used up.
  expect(
    (await page.request.post(`${inside}/api/v1/access/join`, { data: { code: watch.split('#')[1] } })).status(),
  ).toBe(401)

  // It leaves, and another is let in in its place.
  await page.goto(`${inside}/sharing`)
  await page.getByRole('button', { name: 'Show a code to only watch' }).click()
  await watching.getByRole('button', { name: 'Leave' }).click()
  await expect(watching).toHaveURL(/\/enter$/)
  await expect(watching.getByText('Watching only')).toHaveCount(0)
  await watching.goto((await page.locator('.address').textContent())!)
  await expect(watching.getByText('Watching only')).toBeVisible()

  // Another device: asked, wrong ones refused, then slowed.
  const other = await browser.newContext()
  const desk = await other.newPage()
  const said = complaints(desk)
  await desk.goto(`${outside}/shelf`)
  await expect(desk).toHaveURL(/\/enter\?to=/)
  const field = desk.getByLabel('Passphrase of this workshop')
  await field.fill('guessed at random')
  await desk.getByRole('button', { name: 'Come in' }).click()
  await expect(desk.getByRole('alert')).toHaveText(/not the passphrase/)
  let tries = 0
  for (let status = 401; status === 401 && tries < 10; tries++)
    status = (
      await desk.request.post(`${outside}/api/v1/access/enter`, { data: { passphrase: `guess number ${tries}` } })
    ).status()
  expect(tries).toBeLessThan(6)
  const slowed = await desk.request.post(`${outside}/api/v1/access/enter`, { data: { passphrase: PASSPHRASE } })
  expect([slowed.status(), (await slowed.json()).type]).toEqual([429, '/problems/too-many-tries'])
  expect(slowed.headers()['retry-after']).toBeDefined()
  // What is refused is told by the browser as well.
  said.length = 0

  // All are let in no more by one act.
  await page.reload()
  await page.getByRole('button', { name: 'Let none of them in any more' }).click()
  await expect(page.getByText('No other device is let in.')).toBeVisible()
  expect((await watching.request.get(`${outside}/api/v1/jobs`)).status()).toBe(401)
  expect(said).toEqual([])
  await other.close()
  await phone.close()
})
