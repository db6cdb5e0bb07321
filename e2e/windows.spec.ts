import { expect, test, type Page } from '@playwright/test'
import { closeRigList, complaints, startApp, type RunningApp } from './app'
import { logFiles } from './log'

let app: RunningApp
test.beforeAll(async () => {
  app = await startApp(false)
})
test.afterAll(() => app.stop())

const TABLE = {
  kind: 'fuel base',
  composition: 'multiply',
  loadAxis: 'throttle',
  rpm: [2000, 4000, 6000],
  load: [20, 60, 100],
  values: [
    [30, 31, 32],
    [40, 41, 42],
    [50, 51, 52],
  ],
}
async function setCell(page: Page, row: number, column: number, text: string): Promise<void> {
  await page
    .getByRole('gridcell')
    .nth(row * 3 + column)
    .click()
  await page.keyboard.type(text)
  await page.keyboard.press('Enter')
}
async function save(page: Page, n: number): Promise<void> {
  await page.getByRole('button', { name: `Save revision ${n}` }).click()
  await page
    .getByRole('dialog')
    .getByRole('button', { name: `Save revision ${n}` })
    .click()
}

test('of two windows that save one table, the later puts its own cells on top of what came first', async ({
  page,
  context,
}) => {
  const job = (await (
    await page.request.post(`${app.address}/api/v1/jobs`, { data: { title: 'Two windows' } })
  ).json()) as {
    id: string
  }
  await page.request.post(`${app.address}/api/v1/jobs/${job.id}/tables`, { data: { name: 'Fuel', table: TABLE } })
  const address = `${app.address}/jobs/${job.id}/change`
  const other = await context.newPage()
  for (const one of [page, other]) {
    await one.goto(address)
    await expect(one.getByRole('grid')).toBeVisible()
  }
  // Highest load stands on top.
  await setCell(page, 0, 0, '50.5')
  await setCell(other, 2, 2, '32.3')
  await save(other, 2)
  await expect(other.getByText('Revision 2 is saved.')).toBeVisible()

  await page.bringToFront()
  // It has heard of the other by itself.
  await expect(
    page.getByText(/Revision 2 was saved elsewhere meanwhile: 1 cell\. Yours lie on top of it/),
  ).toBeVisible()
  await save(page, 3)
  await expect(page.getByText('Revision 3 is saved.')).toBeVisible()
  const [table] = (await (await page.request.get(`${app.address}/api/v1/jobs/${job.id}/tables`)).json()) as {
    table: { values: number[][] }
    revisions: object[]
  }[]
  expect(table!.revisions).toHaveLength(3)
  expect(table!.table.values).toEqual([
    [30, 31, 32.3],
    [40, 41, 42],
    [50.5, 51, 52],
  ])
})

test('a run imported, a table saved and a bench connected and written to in one window are seen in the other', async ({
  page,
  context,
}) => {
  const said = complaints(page)
  const made = await page.request.post(`${app.address}/api/v1/jobs`, { data: { title: 'In step' } })
  const { id } = (await made.json()) as { id: string }
  const other = await context.newPage()
  await page.goto(`${app.address}/jobs/${id}/mixture`)
  await expect(page.getByText('The field is worked out from logs.')).toBeVisible()
  await other.goto(`${app.address}/jobs/${id}/baseline`)
  await other.getByLabel('Logs to add').setInputFiles(logFiles('time,rpm,throttle,lambda'))
  const dialog = other.getByRole('dialog')
  await dialog.getByRole('button', { name: /^Add \d+ runs?$/ }).click()
  await expect(dialog).toBeHidden()
  await expect(page.getByText(/^Runs \((\d+) of \1\)$/)).toBeVisible()

  await page.goto(`${app.address}/jobs/${id}/change`)
  await expect(page.getByText('There is no fuel table yet.')).toBeVisible()
  await page.request.post(`${app.address}/api/v1/jobs/${id}/tables`, { data: { name: 'Fuel', table: TABLE } })
  await expect(page.getByRole('grid')).toBeVisible()

  for (const one of [page, other]) {
    await one.goto(`${app.address}/jobs/${id}/bench`)
    await closeRigList(one)
  }
  await other.getByRole('button', { name: 'Connect the simulated rig' }).click()
  for (const one of [other, page])
    await expect(one.getByText('Simulated rig: Curlew 437, short silencer', { exact: true })).toBeVisible()
  const bench = `${app.address}/api/v1/jobs/${id}/bench`
  const { tables } = (await (await page.request.get(bench)).json()) as {
    tables: { id: string; table: { values: number[][] } }[]
  }
  const values = tables[0]!.table.values.map((row) => row.map((cell) => cell * 1.01))
  expect((await page.request.post(`${bench}/tables/${tables[0]!.id}`, { data: { values } })).status()).toBe(200)
  for (const one of [page, other]) await expect(one.locator('header').getByText(/^not kept: /)).toBeVisible()
  await page.request.delete(bench)
  for (const one of [page, other])
    await expect(one.getByRole('button', { name: 'Connect the simulated rig' })).toBeVisible()
  expect(said).toEqual([])
})

test('a choice made while an answer is under way is kept', async ({ page }) => {
  const made = await page.request.post(`${app.address}/api/v1/jobs`, { data: { title: 'Before' } })
  const { id } = (await made.json()) as { id: string }
  await page.goto(`${app.address}/jobs/${id}/baseline`)
  await page.getByLabel('Logs to add').setInputFiles(logFiles('time,rpm,throttle,lambda'))
  await page
    .getByRole('dialog')
    .getByRole('button', { name: /^Add \d+ runs?$/ })
    .click()
  await expect(page.getByRole('dialog')).toBeHidden()
  await page.goto(`${app.address}/jobs/${id}/mixture`)
  await page.getByRole('tab', { name: 'Target and filters' }).click()
  await page.getByText('Fixed', { exact: true }).click()
  const lag = page.getByRole('slider', { name: 'Lag in ms' })
  await expect(lag).toBeVisible()
  // The answer that knows nothing of the choice waits until it was made.
  let give = (): void => undefined
  const waits = new Promise<void>((resolve) => (give = resolve))
  await page.route(`**/api/v1/jobs/${id}`, async (route) => {
    if (route.request().method() !== 'GET') return route.continue()
    const response = await route.fetch()
    const body = await response.body()
    await waits
    await route.fulfill({ response, body })
  })
  const asked = page.waitForRequest((one) => one.method() === 'GET' && one.url().endsWith(`/jobs/${id}`))
  await page.request.patch(`${app.address}/api/v1/jobs/${id}`, { data: { title: 'After' } })
  await asked
  await lag.focus()
  for (let k = 0; k < 4; k++) await page.keyboard.press('ArrowRight')
  const chosen = await lag.getAttribute('aria-valuenow')
  give()
  await expect(page.getByText('After').first()).toBeVisible()
  await expect(lag).toHaveAttribute('aria-valuenow', chosen!)
  await expect
    .poll(async () => {
      const job = (await (await page.request.get(`${app.address}/api/v1/jobs/${id}`)).json()) as {
        mixture: { lagMs: number | null }
      }
      return String(job.mixture.lagMs)
    })
    .toBe(chosen)
  // What is still asked for after the choice ends with its answer, not with the page.
  await page.unrouteAll({ behavior: 'wait' })
})
