import { readFileSync } from 'node:fs'
import { expect, test, type Page } from '@playwright/test'
import { complaints, openMixture, startApp, type RunningApp } from './app'

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
