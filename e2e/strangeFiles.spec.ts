import { expect, test, type Page } from '@playwright/test'
import { joined } from '../core/reference/joined'
import { SHED, shedCsv, shedRides } from '../core/reference/shedRides'
import { YARD, yardRides } from '../core/reference/yardRides'
import type { RunColumns } from '../core/src/run/run'
import { apiOf, complaints, startApp, type RunningApp } from './app'

let app: RunningApp
test.beforeAll(async () => {
  app = await startApp(false)
})
test.afterAll(() => app.stop())

async function newJob(page: Page, title: string): Promise<void> {
  await page.goto(app.address)
  await page.getByRole('button', { name: 'New job' }).first().click()
  await page.getByRole('textbox', { name: 'Title' }).fill(title)
  await page.getByRole('button', { name: 'Make the job' }).click()
  await expect(page.getByRole('heading', { name: 'Drop logs here' })).toBeVisible()
}
async function addLogs(page: Page, rides: readonly RunColumns[]): Promise<void> {
  await page
    .getByLabel('Logs to add')
    .setInputFiles(
      rides.map((ride) => ({ name: `${ride.id}.csv`, mimeType: 'text/csv', buffer: Buffer.from(shedCsv(ride)) })),
    )
  const adding = page.getByRole('dialog', { name: 'Add runs' })
  await adding.getByRole('button', { name: /^Add \d+ runs?$/ }).click()
  await expect(adding).toBeHidden()
}
const RIDES = yardRides({ ...YARD, seed: 77, cylinders: 1, withIdle: true })
/** The field as the page's own server tells it: by row and column, %. */
async function changeOf(page: Page): Promise<(number | null)[][]> {
  const answer = await page.request.post(`${apiOf(page)}/field`, { data: {} })
  return ((await answer.json()) as { cylinders: { changePct: (number | null)[][] }[] }).cylinders[0]!.changePct
}

test('a log with doubled speed is stopped, and halved', async ({ page }) => {
  const said = complaints(page)
  await newJob(page, 'Yard, as it is')
  await addLogs(page, RIDES)
  await expect(page.getByRole('button', { name: /in doubt/ })).toHaveCount(0)
  const right = await changeOf(page)

  await newJob(page, 'Yard, counted twice')
  const machine = { name: 'Yard 640', cylinders: 2, displacementCc: 640, strokes: 4 }
  await page.request.patch(apiOf(page), { data: { machine } })
  await addLogs(
    page,
    RIDES.map((ride) => ({ ...ride, rpm: ride.rpm.map((one) => 2 * one) })),
  )
  const dialog = page.getByRole('dialog', { name: 'In doubt' })
  await expect(dialog.getByText(/Power is|rpm would be|beyond|begin at/)).toBeVisible()
  await page.keyboard.press('Escape')
  await page.getByRole('link', { name: /Brief/ }).click()
  await expect(page.getByText('No verdict stands on readings that are in doubt')).toBeVisible()
  await page.getByRole('button', { name: '1 in doubt' }).click()
  await dialog.getByRole('button', { name: 'Count it half' }).click()
  await expect(dialog).toBeHidden()
  await expect(page.getByRole('button', { name: /in doubt/ })).toHaveCount(0)
  const halved = await changeOf(page)
  const off = halved.flatMap((row, r) => row.map((one, k) => Math.abs((one ?? 0) - (right[r]![k] ?? 0))))
  expect(Math.max(...off)).toBeLessThan(0.3)
  // A run tells how it is read, and is read as logged again by one press.
  await page.keyboard.press('Alt+3')
  await page
    .getByRole('button', { name: /read otherwise/ })
    .first()
    .click()
  await expect(page.getByText('Read with engine speed times 0.5.')).toBeVisible()
  await page.getByRole('button', { name: 'As logged' }).click()
  await expect(page.getByRole('button', { name: /in doubt/ })).toBeVisible()
  expect(said).toEqual([])
})

test('a throttle of 8 to 92 is stretched', async ({ page }) => {
  await newJob(page, 'Yard, not taught')
  await addLogs(
    page,
    RIDES.map((ride) => ({ ...ride, throttle: ride.throttle!.map((one) => 8 + 0.84 * one) })),
  )
  const dialog = page.getByRole('dialog', { name: 'In doubt' })
  await expect(dialog.getByText(/never reads below 8\.\d %/)).toBeVisible()
  await dialog.getByRole('button', { name: /^Read 8\.\d to \d+(\.\d)? % as 0 to 100$/ }).click()
  await expect(dialog).toBeHidden()
  const runs = (await (await page.request.get(`${apiOf(page)}/runs`)).json()) as { facts: { stop: number } }[]
  expect(Math.abs(runs[0]!.facts.stop - 12)).toBeLessThan(1.5)
})

test('three sweeps in one file count as three, from import to change', async ({ page }) => {
  const said = complaints(page)
  const shed = {
    ...SHED,
    seed: 41,
    need: (rpm: number, opening: number) => 0.05 * Math.sin(rpm / 1200) + 0.0006 * opening,
  }
  const rides = shedRides(shed, [16, 45, 80, 100], 3)
  await newJob(page, 'A file a sweep')
  await addLogs(page, rides)
  const files = await changeOf(page)
  await newJob(page, 'A file a stop')
  await addLogs(
    page,
    [0, 3, 6, 9].map((k) => joined(rides.slice(k, k + 3), `stop ${k}`)),
  )
  await page.keyboard.press('Alt+3')
  await expect(page.getByText(/^3 sweeps · wide open/)).toBeVisible()
  await expect(page.getByText('Mean of 3')).toHaveCount(0)
  await page.getByRole('tab', { name: 'Figures' }).click()
  await expect(page.getByText(/, sweep 3$/)).toBeVisible()
  const logs = await changeOf(page)
  const off = logs.flatMap((row, r) => row.map((one, k) => Math.abs((one ?? 0) - (files[r]![k] ?? 0))))
  expect(Math.max(...off)).toBeLessThan(0.5)
  const rpm = [2600, 3900, 5200, 6500, 7800]
  const load = [12, 30, 60, 85, 100]
  const values = load.map((opening) => rpm.map((speed) => 20 + opening / 4 + speed / 400))
  const table = { kind: 'fuel base', composition: 'multiply', loadAxis: 'throttle', rpm, load, values }
  await page.request.post(`${apiOf(page)}/tables`, { data: { name: 'Fuel', table } })
  await page.reload()
  await page.keyboard.press('Alt+5')
  await page.getByRole('button', { name: /^Take all \d+ changes$/ }).click()
  await page.getByRole('button', { name: 'Save revision 2' }).click()
  await expect(page.getByRole('textbox', { name: 'Reason', exact: true })).toHaveValue(/from 4 runs/)
  expect(said).toEqual([])
})
