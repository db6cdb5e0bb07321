import { expect, test, type Page } from '@playwright/test'
import { humpTorque, knownPull, pullAsCsv, recordPull } from '../core/trials/knownPull'
import { SHED, shedCsv, shedRides, type Shed } from '../core/trials/shedRides'
import { apiOf, closeRigList, giveReason, newJob, startApp, type RunningApp } from './app'

let app: RunningApp
test.beforeAll(async () => {
  app = await startApp(false)
})
test.afterAll(() => app.stop())

interface File {
  name: string
  mimeType: string
  buffer: Buffer
}
const file = (name: string, text: string): File => ({ name, mimeType: 'text/csv', buffer: Buffer.from(text) })

async function addLogs(page: Page, files: File[]): Promise<void> {
  await page.getByLabel('Logs to add').setInputFiles(files)
  const dialog = page.getByRole('dialog')
  await dialog.getByRole('button', { name: /^Add \d+ runs?$/ }).click()
  await expect(dialog).toBeHidden()
}

const RPM = [1500, 3000, 4500, 6000, 7500, 8700]
const LOAD = [5, 16, 45, 81, 100]
const TRUE_VALUES = LOAD.map((load) => RPM.map((rpm) => Math.round(10 * (20 + 0.6 * load + rpm / 300)) / 10))
/** As a spreadsheet copies it: highest load first. */
const PASTED = [...TRUE_VALUES]
  .reverse()
  .map((row) => row.join('\t'))
  .join('\n')

/** A base table on these breakpoints; pasted values, or one value everywhere. */
async function newTable(page: Page, values: { paste?: string; all?: string }): Promise<void> {
  await page.keyboard.press('Alt+5')
  await page.getByRole('button', { name: 'New fuel table' }).click()
  const dialog = page.getByRole('dialog')
  await dialog.getByText('Base', { exact: true }).click()
  await dialog.getByRole('textbox', { name: 'rpm breakpoints of the table' }).fill(RPM.join(' '))
  await dialog.getByRole('textbox', { name: 'load breakpoints of the table' }).fill(LOAD.join(' '))
  // What a base table holds nobody can guess: nothing is filled in.
  await dialog.getByRole('button', { name: 'Add the table' }).click()
  await expect(dialog.getByRole('alert')).toContainText('The values are missing')
  if (values.paste) await dialog.getByRole('textbox', { name: 'Values of the table' }).fill(values.paste)
  if (values.all) {
    await dialog.getByRole('spinbutton', { name: 'Every cell begins at' }).fill(values.all)
    await dialog.getByRole('spinbutton', { name: 'Every cell begins at' }).press('Tab')
  }
  await dialog.getByRole('button', { name: 'Add the table' }).click()
  await expect(dialog).toBeHidden()
}
const pasteInGrid = (page: Page, text: string): Promise<void> =>
  page.getByRole('grid').evaluate((grid, data) => {
    const clipboardData = new DataTransfer()
    clipboardData.setData('text/plain', data)
    grid.dispatchEvent(new ClipboardEvent('paste', { clipboardData, bubbles: true, cancelable: true }))
  }, text)
async function suggestedOver(page: Page): Promise<number[][]> {
  const tables = (await (await page.request.get(`${apiOf(page)}/tables`)).json()) as { id: string }[]
  const answer = await page.request.post(`${apiOf(page)}/change`, { data: { table: tables[0]!.id } })
  const { values, detail } = (await answer.json()) as { values?: number[][]; detail?: string }
  if (!values) throw new Error(detail)
  return values
}
const NEEDS: Shed = { ...SHED, seed: 33, need: (rpm, opening) => 0.05 * Math.sin(rpm / 1300) + 0.0005 * opening }
const filesOf = (shed: Shed, first = 1): File[] =>
  shedRides(shed, [16, 45, 81, 100], 3, first).map((run) => file(`${run.id} ${first}.csv`, shedCsv(run)))

test('logs first, then a pasted table, then a change: as with the table first', async ({ page }) => {
  await newJob(page, app, 'Table first')
  await newTable(page, { paste: PASTED })
  await page.keyboard.press('Alt+3')
  await addLogs(page, filesOf(NEEDS))
  const first = await suggestedOver(page)

  await newJob(page, app, 'Logs first')
  await addLogs(page, filesOf(NEEDS))
  await newTable(page, { paste: PASTED })
  await expect(page.getByRole('button', { name: /^Take all \d+ changes$/ })).toBeEnabled()
  expect(await suggestedOver(page)).toEqual(first)

  // A placeholder, and the true values typed over it: which of the two the runs were made on is asked once, for all of them.
  await newJob(page, app, 'Logs first, then a placeholder')
  await addLogs(page, filesOf(NEEDS))
  await newTable(page, { all: '100' })
  await page.getByRole('grid').click()
  await page.keyboard.press('Control+a')
  await expect(page.getByRole('grid').locator('[aria-selected=true]')).toHaveCount(30)
  await pasteInGrid(page, PASTED)
  await page.getByRole('button', { name: 'Save revision 2' }).click()
  const reason = page.getByRole('textbox', { name: 'Reason', exact: true })
  await expect(reason).toHaveValue(/^\d+ cells set by hand$/)
  await page.getByRole('textbox', { name: 'Why the large step is taken' }).fill('It held a placeholder')
  await page.getByRole('button', { name: 'Save revision 2' }).last().click()
  const asked = page.getByRole('group', { name: 'Which state were the runs made on?' })
  await expect(asked.getByText(/12 runs/)).toBeVisible()
  await expect(page.getByRole('button', { name: /^Take all/ })).toBeDisabled()
  await asked.getByRole('button', { name: 'Revision 2' }).click()
  await expect(asked).toBeHidden()
  await expect(page.getByRole('button', { name: /^Take all \d+ changes$/ })).toBeEnabled()
  const now = await suggestedOver(page)
  const off = now.flatMap((row, r) => row.map((value, c) => 100 * (value / first[r]![c]! - 1)))
  expect(Math.max(...off.map(Math.abs))).toBeLessThan(3)
})

test('restoring on a running engine stops it first, and asks', async ({ page }) => {
  await newJob(page, app, 'Curlew 437, restored')
  await page.getByRole('link', { name: 'Bench', exact: true }).click()
  await expect(page).toHaveURL(/\/bench$/)
  await closeRigList(page)
  await page.getByRole('spinbutton', { name: 'Coolant at the start in °C' }).fill('84')
  await page.keyboard.press('Enter')
  await page.getByText('four times as fast').click()
  await page.getByRole('button', { name: 'Connect the simulated rig' }).click()
  await page.getByRole('button', { name: 'Take the wheel' }).click()
  await expect(page.getByText('You drive.')).toBeVisible()
  const bench = `${apiOf(page)}/bench`
  const state = (await (await page.request.get(bench)).json()) as {
    tables: { id: string; table: { values: number[][] } }[]
  }
  const values = state.tables
    .find((one) => one.id === 'base')!
    .table.values.map((row) => row.map((cell) => 1.19 * cell))
  // Who does not say that they drive writes nothing while somebody does.
  expect((await page.request.post(`${bench}/tables/base`, { data: { values } })).status()).toBe(409)
  await page.getByRole('button', { name: 'Let go' }).click()
  await expect(page.getByText('Nobody drives.')).toBeVisible()
  expect((await page.request.post(`${bench}/tables/base`, { data: { values } })).status()).toBe(200)
  await page.reload()
  await page.getByRole('button', { name: 'Take the wheel' }).click()
  await expect(page.getByText('You drive.')).toBeVisible()
  for (const key of ['i', 'c']) await page.keyboard.press(key)
  const rpm = async (): Promise<number> =>
    parseInt((await page.locator('dd').first().textContent())!.replace(/\D/g, ''), 10)
  await expect.poll(rpm).toBeGreaterThan(900)
  expect((await page.request.post(`${bench}/restore`, { data: { override: 'w' } })).status()).toBe(409)
  await page.getByRole('tab', { name: 'Tables' }).click()
  await page.getByRole('button', { name: 'Restore what was there first' }).click()
  await page.getByRole('dialog').getByRole('button', { name: 'Restore', exact: true }).click()
  await expect(page.getByText(/Restoring what was there first: .* −1[56]\.\d %/)).toBeVisible({ timeout: 120_000 })
  await expect.poll(rpm).toBeLessThan(200)
  await giveReason(page, 'Sold as it came')
  await expect(page.getByRole('button', { name: 'Restore what was there first' })).toBeDisabled()
})

test('a pump that is spent: its cells do not answer, get no more, and every page says so', async ({ page }) => {
  await newJob(page, app, 'Curlew 437, tired pump')
  await newTable(page, { paste: PASTED })
  await page.keyboard.press('Alt+3')
  const pump: Shed = { ...SHED, seed: 9, pump: 0.8, need: (rpm) => 0.01 * Math.sin(rpm / 900) }
  await addLogs(page, filesOf(pump))
  await page.keyboard.press('Alt+5')
  await page.getByRole('button', { name: /^Take all \d+ changes$/ }).click()
  await page.getByRole('button', { name: 'Save revision 2' }).click()
  await expect(page.getByRole('textbox', { name: 'Reason', exact: true })).toHaveValue(/^Corrected from 12 runs$/)
  await page.getByRole('button', { name: 'Save revision 2' }).last().click()
  await expect(page.getByText('Revision 2 is saved.')).toBeVisible()
  await page.keyboard.press('Alt+3')
  // The same readings again: what was added came to nothing at the top.
  await addLogs(page, filesOf({ ...pump, seed: 10 }, 200))
  await page.keyboard.press('Alt+5')
  await expect(page.getByText('no answer').first()).toBeVisible()
  await page.keyboard.press('Alt+1')
  await expect(
    page.getByText(/cells? do(es)? not answer to fuel: no more of it until the cause is found/),
  ).toBeVisible()
  await expect(
    page.getByText(/Usual causes: a closed loop, a misfire, a leak before the probe, the pump/).first(),
  ).toBeVisible()
  await page.keyboard.press('Alt+8')
  await expect(page.frameLocator('iframe').getByText(/do(es)? not answer to fuel/)).toBeVisible()
})

test('a misfire is one finding from the run to the report', async ({ page }) => {
  await newJob(page, app, 'Godwit 712, one plug')
  const odd = { from: 5200, to: 6500, torque: -0.08, lambda: 0.07 }
  const pulls = [41, 42, 43, 44].map((seed) =>
    file(
      `pull ${seed}.csv`,
      pullAsCsv(recordPull(knownPull({ seed, torque: humpTorque, ...(seed === 42 && { odd }) }))),
    ),
  )
  await addLogs(page, pulls)
  await page.keyboard.press('Alt+3')
  await page.locator('.list .run', { hasText: 'pull 42' }).click()
  await expect(page.getByText(/Looks like a misfire of a cylinder.*It is kept out of means and gains/)).toBeVisible()
  await page.keyboard.press('Alt+1')
  await expect(page.getByText(/"pull 42.csv": .*Looks like a misfire/)).toBeVisible()
  await page.keyboard.press('Alt+8')
  for (const reader of ["Workshop's", "Customer's"]) {
    await page.getByText(reader, { exact: true }).click()
    await expect(page.frameLocator('iframe').getByText(/"pull 42.csv": .*Looks like a misfire/)).toBeVisible()
  }
})

test('two screws whose model is poor: nothing is proposed but what the readings tell', async ({ page }) => {
  await newJob(page, app, 'Kestrel 98, two screws')
  await page.keyboard.press('Alt+5')
  await page.getByText('Carburettor', { exact: true }).click()
  await page.getByRole('combobox', { name: 'Kind of carburettor' }).click({ force: true })
  await page.getByRole('option', { name: 'two screws' }).filter({ visible: true }).click()
  await page.getByRole('button', { name: 'Save carburettor and box' }).click()
  await expect(page.getByText('The carburettor and its box are saved.')).toBeVisible()
  await page.getByRole('tab', { name: 'Parts' }).click()
  await page.getByRole('button', { name: 'Record as fitted' }).click()
  await page.getByRole('tab', { name: 'Readings' }).click()
  await page.getByLabel('Carburettor at 5 %').click()
  for (const reading of ['12.6', '14.9', '12.5', '14.8', '12.7', '12.8', '12.7', '12.6', '13.9', '11.9']) {
    await page.keyboard.type(reading)
    await page.keyboard.press('Enter')
  }
  await page.getByRole('tab', { name: 'Parts' }).click()
  await expect(page.getByRole('alert').filter({ hasText: 'does not meet its own readings' })).toBeVisible()
  await expect(page.getByText('What the readings tell')).toBeVisible()
  await expect(page.getByRole('button', { name: /^Fit: / })).toHaveCount(0)
})
