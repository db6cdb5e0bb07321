import { readFileSync } from 'node:fs'
import { expect, test, type Page } from '@playwright/test'
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
const cell = (page: Page, row: number, column: number) => page.locator(`[data-at="${row}:${column}"]`)
const value = async (page: Page, row: number, column: number): Promise<string> =>
  (await cell(page, row, column).locator('.value').textContent()) ?? ''

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

test('typing over a base cell: +22, *1.1 and =22 say what they will do, and do it', async ({ page }) => {
  const said = complaints(page)
  await openMixture(page, app, CURLEW)
  await page.keyboard.press('Alt+5')
  await expect(page.getByRole('button', { name: /Take all \d+ changes/ })).toBeEnabled()
  const words = page.locator('.words')
  const at = cell(page, 6, 2)
  const under = at.locator('.under')
  await at.click()
  const first = Number(await value(page, 6, 2))
  for (const [text, told, factor] of [
    ['+22', /^Enter: \+22 % of fuel/, 1.22],
    ['*1.1', /^Enter: times 1\.1/, 1.1],
  ] as const) {
    await page.keyboard.type(text)
    await expect(words).toHaveText(told)
    const promised = Number((await under.textContent())!.replace('→', ''))
    expect(Math.abs(promised - first * factor)).toBeLessThan(0.011 * factor)
    await page.keyboard.press('Enter')
    expect(Number(await value(page, 6, 2))).toBe(promised)
    await expect(words).toHaveText(/^Done: /)
    await page.keyboard.press('Control+z')
  }
  await page.keyboard.type('=22')
  await expect(words).toHaveText(/^Enter: sets 22/)
  await page.keyboard.press('Enter')
  expect(await value(page, 6, 2)).toBe('22.00')
  await page.keyboard.press('Control+z')

  // A selection: all of it. What makes no sense says so and changes nothing.
  await page.keyboard.press('Shift+ArrowRight')
  await page.keyboard.type('-2')
  await expect(words).toHaveText(/−2 % of fuel in 2 cells/)
  await page.keyboard.press('Enter')
  await expect(page.getByText('2 cells not saved')).toBeVisible()
  await page.keyboard.press('Control+z')
  for (const text of ['+', '--3', '1e9', '*']) {
    await page.keyboard.type(text)
    await expect(words).toHaveText(/Enter changes nothing/)
    await page.keyboard.press('Escape')
  }
  await expect(page.getByText('Revision 1', { exact: true })).toBeVisible()
  expect(said).toEqual([])
})

test('a cell 40 % leaner is refused until somebody says why; that stands in the logbook', async ({ page }) => {
  await openMixture(page, app, CURLEW)
  const id = /jobs\/([^/]+)/.exec(page.url())![1]!
  // A copy of the job, so that the other tests find theirs as it was.
  const archive = await (await page.request.get(`${app.address}/api/v1/jobs/${id}/archive`)).body()
  const sent = await page.request.post(`${app.address}/api/v1/archives`, {
    multipart: { file: { name: 'job.zip', mimeType: 'application/zip', buffer: archive } },
  })
  const { id: copy } = (await sent.json()) as { id: string }
  await page.request.patch(`${app.address}/api/v1/jobs/${copy}`, { data: { title: 'Curlew 437, a copy' } })
  await page.goto(`${app.address}/jobs/${copy}/change`)
  await expect(page.getByRole('button', { name: /Take all \d+ changes/ })).toBeEnabled()
  const dialog = page.getByRole('dialog')
  const save = (n: number) => dialog.getByRole('button', { name: `Save revision ${n}` })

  // Take all, save, take all again: nothing is left to take.
  await page.getByRole('button', { name: /Take all \d+ changes/ }).click()
  await cell(page, 0, 0).click()
  await page.keyboard.press('Control+s')
  await dialog.getByRole('textbox', { name: 'Reason' }).fill('All of it')
  await expect(save(2)).toBeEnabled()
  await save(2).click()
  await expect(page.getByText('Revision 2', { exact: true })).toBeVisible()
  await expect(page.getByRole('button', { name: 'Nothing left to take' })).toBeDisabled()
  await expect(page.getByText(/Measured on revision 1; \d+ changes are in revision 2: measure again/)).toBeVisible()

  await cell(page, 9, 10).click()
  await page.keyboard.type('*0.6')
  await page.keyboard.press('Enter')
  await page.keyboard.press('Control+s')
  await dialog.getByRole('textbox', { name: 'Reason' }).fill('Tried')
  await expect(dialog.getByText(/1 cell moves far from revision 1: 6\s000 rpm, load 80: −3\d\.\d %/)).toBeVisible()
  await expect(save(3)).toBeDisabled()
  await dialog.getByRole('textbox', { name: 'Why the large step is taken' }).fill('The last owner mistyped it')
  await save(3).click()
  await expect(page.getByText('Revision 3', { exact: true })).toBeVisible()
  await page.keyboard.press('Alt+1')
  await page.getByRole('tab', { name: 'Logbook' }).click()
  await expect(page.getByText(/revision 3: The last owner mistyped it/)).toBeVisible()
})

test('a change is taken, edited by keys, saved, exported and read back equal; a kill keeps it', async ({ page }) => {
  const said = complaints(page)
  await openMixture(page, app, CURLEW)
  await page.keyboard.press('Alt+5')
  await page.getByRole('button', { name: /Take all \d+ changes/ }).click()
  await expect(page.getByText(/\d+ cells not saved/)).toBeVisible()

  await cell(page, 11, 0).click()
  await page.keyboard.press('Shift+ArrowRight')
  await page.keyboard.type('31.5')
  await page.keyboard.press('Enter')
  expect(await value(page, 11, 1)).toBe('31.50')
  await page.keyboard.press('Control+z')
  expect(await value(page, 11, 1)).not.toBe('31.50')
  await page.keyboard.press('Control+y')
  expect(await value(page, 11, 0)).toBe('31.50')
  await cell(page, 11, 0).click()
  for (let k = 0; k < 3; k++) await page.keyboard.press('Shift+ArrowRight')
  await page.keyboard.press('l')
  await cell(page, 9, 4).click()
  await page.keyboard.press('PageUp')
  await page.keyboard.press('t')
  expect(await value(page, 11, 4)).toBe(await value(page, 9, 4))
  await page.keyboard.press('Control+z')
  await page.getByText('Predicted mixture').click()
  await expect(cell(page, 11, 9).locator('.under')).toHaveText('±0.0 %')
  await page.getByText('Change', { exact: true }).last().click()

  // A draft survives a reload.
  await page.reload()
  await expect(page.getByText(/cells not saved, kept from before/)).toBeVisible()
  const kept = await value(page, 11, 1)
  await cell(page, 0, 0).click()
  await page.keyboard.press('Control+s')
  await page.getByRole('textbox', { name: 'Reason' }).fill('First pass after the silencer')
  await page.getByRole('textbox', { name: 'Why the large step is taken' }).fill('Idle row, never run at that speed')
  await page.getByRole('dialog').getByRole('button', { name: 'Save revision 2' }).click()
  await expect(page.getByText('Revision 2', { exact: true })).toBeVisible()

  await app.killAndRestart()
  await page.reload()
  await page.getByRole('tab', { name: 'Revisions (2)' }).click()
  await expect(page.getByText('First pass after the silencer')).toBeVisible()
  expect(await value(page, 11, 1)).toBe(kept)

  for (const format of ['csv', 'json', 'xlsx']) {
    const [download] = await Promise.all([
      page.waitForEvent('download'),
      page.getByRole('link', { name: `Export revision 2 as ${format}` }).click(),
    ])
    const path = await download.path()
    expect(readFileSync(path).length).toBeGreaterThan(200)
    // Changed first, so that reading back has something to do; then equal again: nothing is left unsaved.
    await cell(page, 3, 3).click()
    await page.keyboard.type('1')
    await page.keyboard.press('Enter')
    await expect(page.getByText('1 cell not saved')).toBeVisible()
    await page
      .getByLabel('Table file to read')
      .setInputFiles({ name: `back.${format}`, mimeType: 'application/octet-stream', buffer: readFileSync(path) })
    await expect(page.getByText('Revision 2', { exact: true })).toBeVisible()
  }
  await page.getByRole('button', { name: 'Compare two revisions' }).click()
  await expect(page.getByText('Revision 2 minus 1')).toBeVisible()
  await page.getByRole('button', { name: 'Stop comparing' }).click()
  await page.getByRole('button', { name: 'Go back to 1' }).click()
  await expect(page.getByText(/\d+ cells not saved/)).toBeVisible()
  // Of the cut connection alone.
  expect(said).toEqual(
    said.map(() => expect.stringMatching(/ERR_CONNECTION|ERR_EMPTY_RESPONSE|ERR_SOCKET_NOT_CONNECTED/)),
  )
})

test('cells go to a spreadsheet and come back', async ({ page, context }) => {
  await context.grantPermissions(['clipboard-read', 'clipboard-write'])
  await openMixture(page, app, 'Godwit 712, open filter lid')
  await page.keyboard.press('Alt+5')
  await cell(page, 5, 5).click()
  await page.keyboard.press('Shift+ArrowUp')
  await page.keyboard.press('Shift+ArrowRight')
  await page.evaluate(() => navigator.clipboard.writeText('4,5\t−2\r\n1\t3\r\n'))
  await page.keyboard.press('Control+v')
  expect(await Promise.all([value(page, 6, 5), value(page, 6, 6), value(page, 5, 5), value(page, 5, 6)])).toEqual([
    '4.5',
    '−2.0',
    '1.0',
    '3.0',
  ])
  await page.keyboard.press('Control+c')
  expect(await page.evaluate(() => navigator.clipboard.readText())).toBe('4.5\t-2\n1\t3')
  await page.evaluate(() => navigator.clipboard.writeText('1\tfast'))
  await page.keyboard.press('Control+v')
  await expect(page.getByText(/"fast" is not a number \(row 1, column 2\)/)).toBeVisible()
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

  const files = logFiles('t,revs,opening,gauge')
  await page.getByLabel('Logs to add').setInputFiles(files.slice(0, 2))
  const dialog = page.getByRole('dialog')
  await expect(dialog.getByText('Still needed: Lambda 1')).toBeVisible()
  await expect(dialog.getByRole('button', { name: 'Add 2 runs' })).toBeDisabled()
  for (const [header, channel] of [
    ['opening', 'Throttle'],
    ['gauge', 'Lambda 1'],
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
    card.getByRole('link', { name: /Export/ }).click(),
  ])
  await card.getByRole('button', { name: 'Archive' }).click()
  await expect(page.getByRole('heading', { name: 'Archive' })).toBeVisible()
  await page
    .getByLabel('Job archive')
    .setInputFiles({ name: 'godwit.zip', mimeType: 'application/zip', buffer: readFileSync(await download.path()) })
  await expect(page.getByText(/solid/).first()).toBeVisible()
  await expect(page.getByText('19 runs')).toBeVisible()
})
