import { expect, test, type Page } from '@playwright/test'
import { asCsv, GRID, knownCase, knownRuns, type KnownCase } from '../core/trials/knownTruthLog'
import { complaints, startApp, type RunningApp } from './app'

let app: RunningApp
test.beforeAll(async () => {
  app = await startApp(false)
})
test.afterAll(() => app.stop())

/** Rows at 15 and 90 % are those that nobody runs. */
const ROWS = [0, 5, 10, 15, 20, 30, 40, 60, 80, 90, 100]
const wide = (over: Partial<KnownCase> = {}): KnownCase => {
  const grid = { ...GRID, load: ROWS }
  return knownCase(11, {
    grid,
    target: ROWS.map(() => GRID.rpm.map(() => 0.9)),
    held: [],
    misfire: null,
    hz: 20,
    ...over,
  })
}

/** A job with a fuel table on those rows, at its first stage. */
async function newJob(page: Page, title: string): Promise<string> {
  const api = `${app.address}/api/v1`
  const { id } = (await (await page.request.post(`${api}/jobs`, { data: { title } })).json()) as { id: string }
  const table = {
    kind: 'fuel base',
    composition: 'multiply',
    loadAxis: 'throttle',
    rpm: GRID.rpm,
    load: ROWS,
    values: ROWS.map((load) => GRID.rpm.map((rpm) => 5 + load / 10 + rpm / 4000)),
  }
  const made = await page.request.post(`${api}/jobs/${id}/tables`, {
    data: { name: 'Fuel', table, reason: 'As it came' },
  })
  expect(made.ok()).toBe(true)
  await page.goto(`${app.address}/jobs/${id}/mixture`)
  return id
}
async function addLogs(page: Page, c: KnownCase): Promise<void> {
  const files = knownRuns(c).map((run) => ({
    name: `${run.id}.csv`,
    mimeType: 'text/csv',
    buffer: Buffer.from(asCsv(run)),
  }))
  await page.getByLabel('Logs to add').first().setInputFiles(files)
  const dialog = page.getByRole('dialog')
  await dialog.getByRole('button', { name: /^Add \d+ runs?$/ }).click()
  await expect(dialog).toBeHidden({ timeout: 120_000 })
}
const cell = (page: Page, load: number, rpm: number) =>
  page.locator(`[data-at="${ROWS.indexOf(load)}:${GRID.rpm.indexOf(rpm)}"]`)

test('eight stops: all is taken, rows that nobody ran are marked and explained, and no ridge is left', async ({
  page,
}) => {
  const said = complaints(page)
  await newJob(page, 'Heron 388, rows between')
  await addLogs(page, wide({ stops: [5, 10, 20, 30, 40, 60, 80, 100], repeats: 2 }))
  await page.getByRole('link', { name: /Change/ }).click()
  await page.getByRole('button', { name: /^Take all \d+/ }).waitFor({ timeout: 120_000 })
  // Far from the limits of a pass, so that what decided is how it is known.
  await cell(page, 90, 4500).click()
  const drawer = page.getByRole('complementary', { name: 'Evidence and revisions' })
  await expect(drawer.getByText('bridged between readings').first()).toBeVisible()
  await expect(drawer.getByText('smooth between the readings about it; none lies here')).toBeVisible()
  await page.getByRole('tab', { name: 'Limits' }).click()
  await expect(drawer.getByText('The change leaves no ridge and no hole.')).toBeVisible()
  await page.getByRole('button', { name: /^Take all \d+/ }).click()
  await expect(page.getByText(/\d+ cells not saved/)).toBeVisible()
  // What the bridged row takes lies between its neighbours.
  const changeOf = async (load: number): Promise<number> =>
    Number(((await cell(page, load, 4500).textContent()) ?? '').match(/([+−][\d.]+)/)?.[1]?.replace('−', '-'))
  const [below, between, above] = [await changeOf(80), await changeOf(90), await changeOf(100)]
  expect(between).toBeGreaterThanOrEqual(Math.min(below, above) - 1)
  expect(between).toBeLessThanOrEqual(Math.max(below, above) + 1)
  expect(said).toEqual([])
})

test('one reading by hand tells little, and says so', async ({ page }) => {
  const id = await newJob(page, 'Heron 388, one reading')
  const run = await page.request.post(`${app.address}/api/v1/jobs/${id}/hand-readings`, {
    data: { name: 'By eye', loadAxis: 'throttle', readings: [{ rpm: 5000, load: 40, readings: ['0.94'] }] },
  })
  expect(run.ok(), await run.text()).toBe(true)
  await page.reload()
  // The reading's own cell has a number; nothing about it has one that is invented.
  await expect(page.locator('.node .number').first()).toBeVisible({ timeout: 120_000 })
  const numbers = await page.locator('.node .number').allTextContents()
  expect(numbers.filter((one) => /\d/.test(one)).length).toBeLessThanOrEqual(9)
  await page.getByRole('link', { name: /Change/ }).click()
  await expect(page.getByText(/Fuel/).first()).toBeVisible()
  await cell(page, 40, 5000).click()
  const drawer = page.getByRole('complementary', { name: 'Evidence and revisions' })
  await expect(drawer.getByText(/thin|interval too wide/).first()).toBeVisible()
  await cell(page, 80, 5000).click()
  await expect(drawer.getByText('no evidence').first()).toBeVisible()
})

test('evidence of the lag that disagrees is shown, asked about and settled', async ({ page }) => {
  await newJob(page, 'Heron 388, a late cut')
  await addLogs(page, wide({ stops: [20, 40, 60, 80, 100], repeats: 2, cutAfter: 0.3, hz: 50 }))
  await expect(page.getByText(/solid|thin/).first()).toBeVisible({ timeout: 120_000 })
  await page.getByRole('tab', { name: 'Target and filters' }).click()
  const question = page.getByText('What these runs say of the lag lies apart by more than their errors. Which is it?')
  await expect(question).toBeVisible()
  await page.getByRole('button', { name: /ms: throttle openings$/ }).click()
  await expect(question).toBeHidden()
  await expect(page.getByText('All saved')).toBeVisible()
  await page.reload()
  await page.getByRole('tab', { name: 'Target and filters' }).click()
  await expect(page.getByRole('slider', { name: 'Lag in ms' })).toBeVisible()
})
