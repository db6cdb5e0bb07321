import { expect, test } from '@playwright/test'
import { apiOf, complaints, newJob, startApp, type RunningApp } from './app'
import { layoutFaults } from './geometry'

/** Beside the machine: 390 x 844, by touch. */
test.use({ viewport: { width: 390, height: 844 }, hasTouch: true, isMobile: true })
test.describe.configure({ timeout: 600_000 })

let app: RunningApp
test.beforeAll(async () => {
  app = await startApp(true)
})
test.afterAll(() => app.stop())

/** px that a finger needs. */
const FINGER = 44
const jobs = async (): Promise<{ id: string; title: string; jetting: object | null }[]> =>
  (await (await fetch(`${app.address}/api/v1/jobs`)).json()) as { id: string; title: string; jetting: object | null }[]

test('what is done beside the machine fits the screen: nothing over anything, nothing sideways, all of it for a finger', async ({
  page,
}) => {
  const all = await jobs()
  const injected = all.find((one) => one.title === 'Curlew 437, short silencer')!.id
  const carburetted = all.find((one) => one.jetting)!.id
  const views = [
    ['/', 'Jobs'],
    [`/jobs/${injected}/rig`, 'Rig'],
    [`/jobs/${injected}/baseline/plan`, 'Run plan'],
    [`/jobs/${injected}/baseline/strip`, 'Strip'],
    [`/jobs/${injected}/baseline`, 'Runs'],
    [`/jobs/${injected}/mixture`, 'Mixture'],
    [`/jobs/${injected}/bench`, 'Bench'],
    [`/jobs/${injected}/hand-over`, 'Hand-over'],
    [`/jobs/${carburetted}/baseline/hand-readings`, 'Hand readings'],
    [`/jobs/${carburetted}/change/carburettor`, 'Carburettor'],
  ] as const
  for (const [path, name] of views) {
    await page.goto(app.address + path)
    await expect(page.locator('header')).toBeVisible()
    await expect(page.getByText(/Loading|Working out the field|Solving/).first()).toBeHidden()
    // A page is measured once nothing moves on it any more.
    await expect(async () => {
      const faults = await layoutFaults(page, FINGER)
      expect(faults, name).toEqual({ sideways: 0, overlaps: [], small: [] })
    }).toPass({ timeout: 120_000 })
  }
})

test('the mixture is read row by row, and a cell of it explained', async ({ page }) => {
  const { id } = (await jobs()).find((one) => one.title === 'Curlew 437, short silencer')!
  await page.goto(`${app.address}/jobs/${id}/mixture`)
  const rows = page.getByRole('region', { name: 'The field, one opening at a time' })
  await expect(rows.getByText('100 %')).toBeVisible()
  await rows.getByRole('button', { name: 'Smaller opening' }).tap()
  await expect(rows.getByText('90 %')).toBeVisible()
  await rows.getByRole('button', { name: /^6.000 rpm/ }).tap()
  await expect(page.getByRole('heading', { name: /6.000 rpm · 90 %/ })).toBeVisible()
})

test('a day at the strip: two slips typed by touch, a third found in a log, compared and told what next', async ({
  page,
}) => {
  const said = complaints(page)
  await newJob(page, app, 'Wheatear 310, strip day')
  await page.goto(`${app.address}/jobs/${/jobs\/([^/?#]+)/.exec(page.url())![1]!}/baseline/strip`)
  for (const [time, speed] of [
    ['13,42', '158.1'],
    ['13.38', '158.6'],
  ]) {
    await page.getByRole('button', { name: 'Type a slip' }).tap()
    await page.getByRole('textbox', { name: 'Time at 60 ft in s' }).fill('2.05')
    await page.getByRole('textbox', { name: 'Time at 1/4 mile in s' }).fill('1.9')
    await expect(page.getByText('times must rise')).toBeVisible()
    await page.getByRole('textbox', { name: 'Time at 1/4 mile in s' }).fill(time!)
    await page.getByRole('textbox', { name: 'Speed at 1/4 mile in km/h' }).fill(speed!)
    await page.getByRole('textbox', { name: 'Reaction in s' }).fill('0.41')
    await page.getByRole('button', { name: 'Keep this slip' }).tap()
    await expect(page.getByRole('textbox', { name: 'Time at 60 ft in s' })).toBeHidden()
  }
  await expect(page.getByRole('article')).toHaveCount(2)
  await expect(page.getByText('quickest')).toBeVisible()
  await expect(page.getByText(/Nothing is told yet/)).toBeVisible()
  // A pass of a log, in a state of its own: half a second quicker, and faster.
  const rows = ['time,rpm,throttle,lambda,speed']
  let [t, v, s] = [0, 0, 0]
  const row = (throttle: number): void =>
    void rows.push([(t += 0.1), 3000 + 60 * v * 3.6, throttle, 0.88, v * 3.6].map((one) => one.toFixed(3)).join(','))
  for (let k = 0; k < 40; k++) row(1)
  while (s < 430) {
    v += Math.min(5.5, 150 / Math.max(1, v)) * 0.1
    s += v * 0.1
    row(100)
  }
  while (v > 0.5) {
    v -= 0.6
    row(1)
  }
  const set = (await (await page.request.post(`${apiOf(page)}/sets`, { data: { name: 'Main 150' } })).json()) as {
    id: string
  }
  const file = { name: 'pass.csv', mimeType: 'text/csv', buffer: Buffer.from(rows.join('\n')) }
  expect((await page.request.post(`${apiOf(page)}/runs`, { multipart: { file, set: set.id } })).status()).toBe(201)
  await page.getByRole('button', { name: 'Find its passes' }).tap()
  await expect(page.getByRole('article')).toHaveCount(3)
  await expect(page.getByRole('heading', { name: /Main 150 against/ })).toBeVisible()
  const faults = await layoutFaults(page, FINGER)
  expect(faults).toEqual({ sideways: 0, overlaps: [], small: [] })
  await page.getByRole('button', { name: /^Pass 3/ }).tap()
  await page.getByRole('button', { name: 'Take back' }).tap()
  await expect(page.getByRole('article')).toHaveCount(2)
  await page.getByRole('button', { name: 'Undo' }).tap()
  await expect(page.getByRole('article')).toHaveCount(3)
  expect(said).toEqual([])
})
