import { readFileSync } from 'node:fs'
import { expect, test } from '@playwright/test'
import { complaints, openMixture, startApp, type RunningApp } from './app'
import { logFiles } from './log'

// As most people see it: what glides, glides.
test.use({ contextOptions: { reducedMotion: 'no-preference' } })

let app: RunningApp
test.beforeAll(async () => {
  app = await startApp(true)
})
test.afterAll(() => app.stop())

const CURLEW = 'Curlew 437, short silencer'

test('the demo opens, and a node explains itself', async ({ page }) => {
  const said = complaints(page)
  await openMixture(page, app, CURLEW)
  await page.locator('.stack').focus()
  for (const key of [
    'ArrowDown',
    'ArrowDown',
    'ArrowRight',
    'ArrowRight',
    'ArrowRight',
    'ArrowRight',
    'ArrowRight',
    'ArrowRight',
    'ArrowRight',
    'ArrowRight',
    'ArrowRight',
  ])
    await page.keyboard.press(key)
  const drawer = page.getByRole('complementary', { name: 'Evidence' })
  await expect(drawer.getByRole('heading', { name: /5\s500 rpm · 80 %/ })).toBeVisible()
  await expect(drawer.getByText('Lean: needs fuel.')).toBeVisible()
  await expect(drawer.getByText(/90 % interval/)).toBeVisible()
  await expect(drawer.locator('.sum')).toHaveText(/[\d.]+ \/ [\d.]+ λ = [\d.]+ → \+\d/)
  await expect(drawer.getByRole('row', { name: /Sweep at 80 %, run 2/ })).toBeVisible()
  await expect(drawer.getByRole('heading', { name: 'Set aside near here' })).toBeVisible()
  // The odd run is named with its band.
  await page.getByRole('tab', { name: /Runs/ }).click()
  await expect(drawer.getByText(/Odd run: reads \+\d/)).toBeVisible()
  expect(said).toEqual([])
})

test('target, lag and filters solve anew, and stay', async ({ page }) => {
  await openMixture(page, app, CURLEW)
  const node = page.locator('.node .number').first()
  const before = await node.textContent()
  await page.getByRole('tab', { name: 'Target and filters' }).click()
  await page.getByText('Fixed', { exact: true }).click()
  await page.getByRole('slider', { name: 'Lag in ms' }).focus()
  for (let k = 0; k < 12; k++) await page.keyboard.press('ArrowRight')
  await expect(page.getByText(/lag 3\d\d ms/)).toBeVisible()
  await page.getByText('Nearest-cell average').click()
  await expect(page.getByText(/nothing set aside/)).toBeVisible()
  await page.getByText('Field', { exact: true }).click()
  await page.getByRole('button', { name: 'Add a target zone' }).click()
  await page.getByRole('spinbutton', { name: 'Zone 1 λ' }).fill('1.02')
  await page.keyboard.press('Enter')
  await expect(page.getByText('All saved')).toBeVisible()
  await page.reload()
  await page.getByRole('tab', { name: 'Target and filters' }).click()
  await expect(page.getByRole('spinbutton', { name: 'Zone 1 λ' })).toHaveValue('1.02')
  await page.getByRole('button', { name: 'Drop zone 1' }).click()
  await page.getByText('Estimated', { exact: true }).click()
  await expect(page.getByText(/From 2\d throttle chops/)).toBeVisible()
  await expect(node).toHaveText(before!)
  await expect(page.getByText('All saved')).toBeVisible()
})

test('a job is made, logs are mapped and imported, the mapping is remembered, the same file is asked about', async ({
  page,
}) => {
  const said = complaints(page)
  await page.goto(app.address)
  await page.getByRole('button', { name: 'New job' }).click()
  await page.getByRole('button', { name: 'Make the job' }).click()
  await expect(page.getByText('is missing')).toBeVisible()
  // What cannot be is refused in words, and left as it was typed.
  const cylinders = page.getByRole('spinbutton', { name: 'Cylinders' })
  await cylinders.fill('-3')
  await page.getByRole('textbox', { name: 'Title' }).fill('x')
  await page.getByRole('button', { name: 'Make the job' }).click()
  await expect(page.getByText('must be 1 or more')).toBeVisible()
  await expect(cylinders).toHaveValue('-3')
  await cylinders.fill('1')
  await page.getByRole('textbox', { name: 'Title' }).fill('Dunlin 125, first look')
  await page.getByRole('button', { name: 'Make the job' }).click()
  // It begins where it is taken in.
  await expect(page).toHaveURL(/\/brief$/)
  await expect(page.getByText('All saved')).toBeVisible()
  await page.keyboard.press('Alt+4')
  await expect(page.getByRole('heading', { name: 'Drop logs here' })).toBeVisible()

  const files = logFiles('t,revs,opening,fuel gauge')
  await page.getByLabel('Logs to add').setInputFiles(files.slice(0, 2))
  const dialog = page.getByRole('dialog')
  await expect(dialog.getByText('Still needed: Lambda 1')).toBeVisible()
  await expect(dialog.getByRole('button', { name: 'Add 2 runs' })).toBeDisabled()
  for (const [header, channel] of [
    ['opening', 'Throttle'],
    ['fuel gauge', 'Lambda 1'],
  ] as const) {
    await dialog.getByRole('combobox', { name: `Channel of ${header}` }).click({ force: true })
    const option = page.getByRole('option', { name: channel, exact: true }).filter({ visible: true })
    await option.click()
    // The next list opens only once this one has gone.
    await expect(option).toHaveCount(0)
  }
  await dialog.getByRole('button', { name: 'Add 2 runs' }).click()
  await expect(page.getByText(/solid|thin/).first()).toBeVisible()

  await page.getByRole('tab', { name: /Runs/ }).click()
  await page.getByLabel('Logs to add').setInputFiles([files[2]!, files[0]!])
  await expect(dialog.getByText('Mapped as you chose last time.')).toBeVisible()
  await dialog.getByRole('button', { name: 'Add 2 runs' }).click()
  await expect(dialog.getByText('already here')).toBeVisible()
  await dialog.getByRole('button', { name: '1 added. Close' }).click()
  await expect(page.getByRole('tab', { name: 'Runs (3 of 3)' })).toBeVisible()

  await page
    .getByLabel('Logs to add')
    .setInputFiles({ name: 'photo.csv', mimeType: 'text/csv', buffer: Buffer.from([137, 80, 78, 71, 0, 0, 1, 2, 3]) })
  await expect(dialog.getByText(/not a text file/)).toBeVisible()
  await dialog.getByRole('button', { name: 'Cancel' }).click()

  // A run taken out can be put back.
  await page.keyboard.press('Alt+3')
  const run = page.locator('.list .run', { hasText: 'stop 40 repeat 1' })
  await run.click()
  await page.getByRole('button', { name: /^Take out stop 40 repeat 1/ }).click()
  await expect(page.getByText(/is taken out/)).toBeVisible()
  await expect(run).toHaveCount(0)
  await page.getByRole('button', { name: 'Undo' }).click()
  await expect(run).toHaveCount(1)
  // Long after the word of it is gone, too.
  await page.getByRole('button', { name: /^Take out stop 40 repeat 1/ }).click()
  await expect(run).toHaveCount(0)
  await page.reload()
  await page.getByRole('button', { name: '1 taken out' }).click()
  await page.getByRole('button', { name: /^Put back stop 40 repeat 1/ }).click()
  await expect(run).toHaveCount(1)
  await expect(page.getByRole('button', { name: /taken out/ })).toHaveCount(0)

  // A fuel table on its own breakpoints.
  await page.keyboard.press('Alt+5')
  await page.getByRole('button', { name: 'New fuel table' }).click()
  await page.getByRole('button', { name: 'Add the table' }).click()
  await expect(page.getByRole('button', { name: /Take all \d+ changes/ })).toBeEnabled()
  // Of the file that was sent twice, once.
  expect(said).toEqual([expect.stringContaining('409')])
})

test('a job goes into the archive and out, and travels as one file', async ({ page }) => {
  await page.goto(app.address)
  const card = page.getByRole('listitem').filter({ hasText: 'Godwit 712' })
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    card.getByRole('button', { name: /Export/ }).click(),
  ])
  await card.getByRole('button', { name: 'Archive' }).click()
  await expect(page.getByRole('heading', { name: 'Archive' })).toBeVisible()
  await page
    .getByLabel('Job archive')
    .setInputFiles({ name: 'godwit.zip', mimeType: 'application/zip', buffer: readFileSync(await download.path()) })
  await expect(page.getByText(/solid/).first()).toBeVisible()
  await expect(page.getByText('19 runs')).toBeVisible()
})
