import { spawn } from 'node:child_process'
import { once } from 'node:events'
import { fileURLToPath } from 'node:url'
import { expect, test } from '@playwright/test'
import { complaints, newJob, startApp, type RunningApp } from './app'

let app: RunningApp
test.beforeAll(async () => {
  app = await startApp(false)
})
test.afterAll(() => app.stop())

test('a job is deleted and brought back; a backup is listed, tells what it holds, and is restored', async ({
  page,
}) => {
  const said = complaints(page)
  await newJob(page, app, 'Curlew 437, not to be lost')
  await page.goto(app.address)
  // Deleted by a slip, and back at once.
  await page.getByRole('button', { name: 'Delete Curlew 437, not to be lost' }).click()
  await expect(page.getByRole('link', { name: 'Curlew 437, not to be lost', exact: true })).toHaveCount(0)
  await page.getByRole('button', { name: 'Undo' }).click()
  await expect(page.getByRole('link', { name: 'Curlew 437, not to be lost', exact: true })).toBeVisible()

  await page.getByRole('link', { name: 'Safekeeping' }).click()
  await page.getByRole('button', { name: 'Back up now' }).click()
  const backups = page.getByRole('list', { name: 'Backups' })
  await expect(backups.getByText('asked for')).toBeVisible()

  // Deleted for good, as if by mistake.
  await page.getByRole('link', { name: 'To the jobs' }).click()
  await page.getByRole('button', { name: 'Delete Curlew 437, not to be lost' }).click()
  await expect(page.getByRole('link', { name: 'Curlew 437, not to be lost', exact: true })).toHaveCount(0)
  await page.getByRole('link', { name: 'Safekeeping' }).click()
  const bin = page.getByRole('list', { name: 'Deleted jobs' })
  await expect(bin.getByText('Curlew 437, not to be lost')).toBeVisible()
  await page.getByRole('button', { name: 'Delete for good' }).click()
  await page.getByRole('dialog').getByRole('button', { name: 'Delete it for good' }).click()
  await expect(bin).toHaveCount(0)

  // One job out of the backup, then all of it.
  await backups.getByRole('button', { name: 'What it holds' }).first().click()
  await page.getByRole('button', { name: 'Bring this one back' }).click()
  await expect(page).toHaveURL(/\/jobs\/.*\/mixture/)
  await page.goto(`${app.address}/safekeeping`)
  await backups.getByRole('button', { name: 'Restore all of it' }).first().click()
  await page.getByRole('dialog').getByRole('button', { name: 'Restore all of it' }).click()
  await expect(backups.getByText('before a restore')).toBeVisible()
  await page.getByRole('link', { name: 'To the jobs' }).click()
  await expect(page.getByRole('link', { name: 'Curlew 437, not to be lost', exact: true })).toHaveCount(1)
  expect(said).toEqual([])
})

test('a second server on the same folder is told of the first, which goes on', async ({ page }) => {
  await page.goto(app.address)
  const main = fileURLToPath(new URL('../server/dist/main.js', import.meta.url))
  const env = { ...process.env, YUZUMIX_DATA: app.folder, PORT: '0', HOST: '127.0.0.1' }
  const second = spawn(process.execPath, [main], { env, stdio: ['ignore', 'ignore', 'pipe'] })
  let told = ''
  second.stderr.on('data', (text: Buffer) => (told += text.toString()))
  const [code] = (await once(second, 'exit')) as [number]
  expect(code).toBe(1)
  expect(told).toContain(`at ${app.address}`)
  expect(told).toMatch(/^Another Yuzumix has the folder .* open \(process \d+/)
  await newJob(page, app, 'Made after the second one tried')
})

test('killed and started again on the same folder, it is there with all it had', async ({ page }) => {
  await newJob(page, app, 'Curlew 437, before the power went')
  await app.killAndRestart()
  await page.goto(app.address)
  await expect(page.getByRole('link', { name: 'Curlew 437, before the power went', exact: true })).toBeVisible()
})

test('signs of direction in what somebody typed turn nothing around them', async ({ page }) => {
  // RIGHT-TO-LEFT OVERRIDE, never taken back.
  await newJob(page, app, 'Heron \u202e883 turned')
  await page.goto(app.address)
  const link = page.getByRole('link', { name: /turned/ })
  const across = (box: { x: number; width: number } | null): [number, number] => [box!.x, box!.x + box!.width]
  const row = page.getByRole('listitem').filter({ has: link })
  const [, end] = across(await link.boundingBox())
  const [from] = across(await row.getByRole('button').first().boundingBox())
  expect(from).toBeGreaterThanOrEqual(end)
  for (const text of [link, row.locator('time, span').first()])
    expect(await text.evaluate((one) => getComputedStyle(one).unicodeBidi)).toBe('isolate')
  // Text behind it in one sentence stays where it was.
  const stays = await page.evaluate(() => {
    const line = document.createElement('p')
    line.innerHTML = '<span>\u202eone</span><i>two</i>'
    document.body.append(line)
    const [one, two] = [...line.children].map((each) => each.getBoundingClientRect())
    line.remove()
    return two!.left >= one!.right
  })
  expect(stays).toBe(true)
})
