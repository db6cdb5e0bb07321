import { strToU8, zipSync } from 'fflate'
import { expect, test, type Page } from '@playwright/test'
import { apiOf, complaints, newJob, startApp, type RunningApp } from './app'

let app: RunningApp
test.beforeAll(async () => {
  app = await startApp(false)
})
test.afterAll(() => app.stop())

/** A ride by a formula of its own: openings and overruns by turns, rows at a rate. */
function ride(seconds: number, hz: number, plus = ''): string {
  const rows = [`Elapsed Time,Engine RPM,ThrPos,WB_O2,Lean angle (deg)${plus}`]
  let [rpm, throttle] = [1500, 1]
  for (let k = 0; k < seconds * hz; k++) {
    const t = k / hz
    const turn = t % 20
    const target = turn < 4 ? 1 : turn < 10 ? 70 : turn < 16 ? 25 : 1
    throttle += (target - throttle) * Math.min(1, 12 / hz)
    const wanted = turn < 4 ? 2600 : turn < 10 ? 9500 : turn < 16 ? 5200 : 2600
    rpm += ((wanted - rpm) * 0.35) / hz
    const lambda = 0.9 + 0.02 * Math.sin(t / 7)
    rows.push(
      `${t.toFixed(2)},${rpm.toFixed(0)},${throttle.toFixed(1)},${lambda.toFixed(3)},${(20 * Math.sin(t)).toFixed(1)}`,
    )
  }
  return `${rows.join('\n')}\n`
}
const sendRide = async (page: Page): Promise<void> => {
  const file = { name: 'half an hour.csv', mimeType: 'text/csv', buffer: Buffer.from(ride(1800, 20)) }
  expect((await page.request.post(`${apiOf(page)}/runs`, { multipart: { file } })).status()).toBe(201)
}

test('half an hour on the road is opened, zoomed by keys, and a stretch in it found, split and named', async ({
  page,
}) => {
  const said = complaints(page)
  await newJob(page, app, 'Curlew 437, on the road')
  await sendRide(page)
  await page.goto(`${page.url().split('/jobs/')[0]}/jobs/${apiOf(page).split('/').at(-1)}/baseline/log`)
  const log = page.getByRole('application', { name: /The log over time/ })
  await expect(log).toBeVisible({ timeout: 120_000 })
  // Columns that nothing is worked out from are there under their own names.
  await page.getByText('Lean angle (deg)', { exact: true }).click()
  await expect(page.getByRole('checkbox', { name: 'Lean angle (deg)' })).toBeChecked()
  await log.focus()
  for (let k = 0; k < 5; k++) await page.keyboard.press('+')
  await page.keyboard.press('ArrowRight')
  await expect(page.getByRole('status').filter({ hasText: /\d s/ }).first()).toBeVisible()
  const sweep = page.getByRole('button', { name: /^sweep 1 / })
  await sweep.click()
  await expect(sweep).toHaveAttribute('aria-pressed', 'true')
  const name = page.getByRole('textbox', { name: 'Name of the stretch' })
  await name.fill('up the hill')
  await name.press('Enter')
  await expect(page.getByRole('button', { name: /^up the hill/ })).toBeVisible()
  // The cursor into it, by keys, and split there.
  await log.focus()
  for (let k = 0; k < 60; k++) await page.keyboard.press('ArrowRight')
  await page.getByRole('button', { name: 'Split at the cursor' }).click()
  await expect(page.getByRole('button', { name: /^up the hill, second part/ })).toBeVisible()
  // A part is marked by keys and left out, with a reason: the run knows, and the shade says why.
  await log.focus()
  await page.keyboard.press('m')
  for (let k = 0; k < 12; k++) await page.keyboard.press('ArrowRight')
  await page.keyboard.press('m')
  await page.getByRole('button', { name: 'Leave it out' }).click()
  await expect(page.getByRole('alert').filter({ hasText: 'Say why' })).toBeVisible()
  await page.getByRole('textbox', { name: 'Why it is left out' }).fill('behind a lorry')
  await page.getByRole('button', { name: 'Leave it out' }).click()
  await expect(page.getByText(/ s, behind a lorry/)).toBeVisible()
  // A cell that the run fed: found in the log, in the field, and from there in the log again.
  const cells = page.getByRole('application', { name: /Cells of the field that this run fed/ })
  await cells.locator('[data-at="6000:60"]').click()
  await cells.focus()
  await page.keyboard.press('ArrowRight')
  const visit = page.getByRole('button', { name: /^[\d.]+ s$/ }).first()
  const seconds = await visit.textContent()
  await visit.click()
  await page.getByRole('button', { name: 'Show it in the field' }).click()
  await expect(page.getByRole('heading', { name: /6.500 rpm · 60 %/ })).toBeVisible({ timeout: 120_000 })
  await page.getByRole('button', { name: 'half an hour.csv' }).first().click()
  await expect(page.getByRole('button', { name: seconds!.trim(), exact: true })).toBeVisible({ timeout: 120_000 })
  const stretches = (await (
    await page.request.get(
      `${apiOf(page)}/runs/${((await (await page.request.get(`${apiOf(page)}/runs`)).json()) as { id: string }[])[0]!.id}/stretches`,
    )
  ).json()) as { name: string; kind: string }[]
  expect(stretches.filter((one) => one.kind === 'sweep').length).toBeGreaterThan(60)
  expect(said).toEqual([])
})

test('a zip of three logs brings three runs, and says what does not come in', async ({ page }) => {
  await newJob(page, app, 'Curlew 437, three in a zip')
  const files = Object.fromEntries([1, 2, 3].map((k) => [`pass ${k}.csv`, strToU8(ride(40 + k, 20))]))
  const zip = Buffer.from(zipSync({ ...files, 'notes.txt': strToU8('dry, no wind') }))
  await page.getByRole('link', { name: /Baseline/ }).click()
  await page
    .locator('input[type=file]')
    .first()
    .setInputFiles({ name: 'day.zip', mimeType: 'application/zip', buffer: zip })
  const dialog = page.getByRole('dialog', { name: 'Add runs' })
  await expect(dialog.getByText(/Packed: each log inside is read by its own header/)).toBeVisible()
  await dialog.getByRole('button', { name: /Add 1/ }).click()
  await expect(dialog.getByText(/3 runs: pass 1\.csv, pass 2\.csv, pass 3\.csv/)).toBeVisible({ timeout: 120_000 })
  await expect(dialog.getByText(/Not added: notes\.txt/)).toBeVisible()
  await dialog.getByRole('button', { name: /added\. Close/ }).click()
  expect(((await (await page.request.get(`${apiOf(page)}/runs`)).json()) as object[]).length).toBe(3)
})

test('nine sweeps in one file tick the plan', async ({ page }) => {
  await newJob(page, app, 'Curlew 437, nine sweeps')
  const rows = ['time,rpm,throttle,lambda']
  let t = 0
  const row = (rpm: number, throttle: number): void =>
    void rows.push([(t += 0.05), rpm, throttle, 0.9].map((one) => one.toFixed(3)).join(','))
  for (const stop of [20, 20, 20, 40, 40, 40, 80, 80, 80]) {
    for (let k = 0; k < 40; k++) row(1900, 1)
    for (let k = 0; k <= 200; k++) row(1900 + 36 * k, stop)
    for (let k = 0; k < 60; k++) row(9100 - 120 * k, 1)
  }
  const file = { name: 'nine.csv', mimeType: 'text/csv', buffer: Buffer.from(rows.join('\n')) }
  expect((await page.request.post(`${apiOf(page)}/runs`, { multipart: { file } })).status()).toBe(201)
  const { ticks } = (await (await page.request.get(`${apiOf(page)}/plan`)).json()) as {
    ticks: { key: string; runs: string[]; left: number }[]
  }
  expect(ticks.filter((one) => one.runs.length === 3 && one.left === 0)).toHaveLength(3)
  await page.getByRole('link', { name: /Baseline/ }).click()
  await page.getByRole('radiogroup', { name: 'View' }).getByText('Plan').click()
  await expect(page.getByText('3 of 3')).toHaveCount(3)
})
