import { expect, test, type Page } from '@playwright/test'
import { joined } from '../core/trials/joined'
import { SHED, shedCsv, shedRides } from '../core/trials/shedRides'
import { YARD, yardRides } from '../core/trials/yardRides'
import type { RunColumns } from '../core/src/run/run'
import { apiOf, complaints, newJob, startApp, type RunningApp } from './app'

let app: RunningApp
test.beforeAll(async () => {
  app = await startApp(false)
})
test.afterAll(() => app.stop())

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
  await newJob(page, app, 'Yard, as it is')
  await addLogs(page, RIDES)
  await expect(page.getByRole('button', { name: /in doubt/ })).toHaveCount(0)
  const right = await changeOf(page)

  await newJob(page, app, 'Yard, counted twice')
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
  await newJob(page, app, 'Yard, not taught')
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
  await newJob(page, app, 'A file a sweep')
  await addLogs(page, rides)
  const files = await changeOf(page)
  await newJob(page, app, 'A file a stop')
  await addLogs(
    page,
    [0, 3, 6, 9].map((k) => joined(rides.slice(k, k + 3), `stop ${k}`)),
  )
  await page.keyboard.press('Alt+3')
  await expect(page.getByText(/^3 sweeps · wide open/)).toBeVisible()
  await expect(page.getByText('Mean of 3')).toBeHidden()
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
  // Keys go nowhere before the page is there.
  await expect(page.getByText('All saved')).toBeVisible()
  await page.keyboard.press('Alt+5')
  await expect(page).toHaveURL(/\/change/)
  await page.getByRole('button', { name: /^Take all \d+ changes$/ }).click()
  await page.getByRole('button', { name: 'Save revision 2' }).click()
  await expect(page.getByRole('textbox', { name: 'Reason', exact: true })).toHaveValue(/from 4 runs/)
  expect(said).toEqual([])
})

test('hand readings of a kart, at speeds of its own, come to parts', async ({ page }) => {
  const said = complaints(page)
  await newJob(page, app, 'Kart, read at the trackside')
  await page.keyboard.press('Alt+5')
  await page.getByText('Carburettor', { exact: true }).click()
  await page.getByLabel('Main jets').fill('115 117.5 120 122.5 125 127.5 130')
  await page.getByLabel('Pilot jets').fill('37.5 40 42.5')
  await page.getByLabel('Slides, cutaway in mm').fill('2 2.5 3')
  await page.getByRole('spinbutton', { name: 'Bore in mm' }).fill('24')
  await page.keyboard.press('Enter')
  // Nobody has measured its needle.
  await page.getByLabel(/Needles, a line each/).fill('Kart')
  await page.getByRole('button', { name: 'Save carburettor and box' }).click()
  await expect(page.getByText('The carburettor and its box are saved.')).toBeVisible()
  await page.getByRole('tab', { name: 'Parts' }).click()
  await page.getByRole('spinbutton', { name: 'Temperature in °C' }).fill('8')
  await page.getByRole('spinbutton', { name: 'Pressure in kPa' }).fill('99.5')
  await page.getByRole('spinbutton', { name: 'Humidity in %' }).fill('60')
  await page.getByRole('button', { name: 'Record as fitted' }).click()
  await expect(page.getByRole('heading', { name: 'Fitted now', exact: true })).toBeVisible()
  // The air goes with the fitting.
  const sets = (await (await page.request.get(`${apiOf(page)}/sets`)).json()) as { fitting: object; weather: object }[]
  expect(sets.at(-1)).toMatchObject({ weather: { temperatureC: 8, pressureKpa: 99.5, humidityPct: 60 } })

  await page.keyboard.press('Alt+3')
  await page.getByRole('radiogroup', { name: 'View' }).getByText('Hand readings').click()
  const read = [7000, 9000, 11_000, 13_000].flatMap((rpm) =>
    [10, 20, 40, 60, 80, 100].map((load) => [String(rpm), String(load), load >= 60 ? '14.3' : '13.3'] as const),
  )
  for (const [k, cells] of read.entries())
    for (const [c, name] of ['rpm', 'load', 'reading of bank 1'].entries()) {
      const cell = page.getByRole('textbox', { name: `Line ${k + 1}, ${name}` })
      await cell.fill(cells[c]!)
      await cell.press('Enter')
    }
  // The next line suggests the throttle, and is no line that was begun.
  await page.getByRole('button', { name: 'Add 24 readings as a run' }).click()
  await expect(page.getByText(/is a run of the set now/)).toBeVisible()
  await page.keyboard.press('Alt+5')
  await page.getByRole('tab', { name: 'Parts' }).click()
  await expect(page.getByText('There are no readings yet')).toHaveCount(0)
  await expect(page.getByText(/lean/).first()).toBeVisible()
  await expect(page.getByRole('button', { name: /^Fit: main jet 115 → 1/ }).first()).toBeVisible()
  // What its clip does nobody can say.
  await expect(page.getByRole('button', { name: /^Fit: .*clip/ })).toHaveCount(0)
  expect(said).toEqual([])
})
