import { expect, test, type Page } from '@playwright/test'
import { complaints, startApp, type RunningApp } from './app'

let app: RunningApp
test.beforeAll(async () => {
  app = await startApp(false, 5398)
})
test.afterAll(() => app.stop())

async function connect(page: Page, title: string, coolant: string): Promise<void> {
  await page.goto(app.address)
  await page.getByRole('button', { name: 'New job' }).first().click()
  await page.getByRole('textbox', { name: 'Title' }).fill(title)
  await page.getByRole('button', { name: 'Make the job' }).click()
  await page.getByRole('link', { name: 'Bench', exact: true }).click()
  await page.getByRole('spinbutton', { name: 'Coolant at the start in °C' }).fill(coolant)
  await page.keyboard.press('Enter')
  await page.getByText('four times as fast').click()
  await page.getByRole('button', { name: 'Connect the simulated rig' }).click()
  await expect(page.getByText('Simulated rig: Curlew 449, short silencer', { exact: true })).toBeVisible()
}
const rpm = async (page: Page): Promise<number> =>
  Number((await page.locator('dd').first().textContent())!.replace(/\D/g, ''))

test('the rig is driven by keys, warmed up, and a sweep lands in the job', async ({ page }) => {
  const said = complaints(page)
  await connect(page, 'Curlew 449, on the bench', '78')
  await page.getByRole('button', { name: 'Take the wheel' }).click()
  await expect(page.getByText('You drive.')).toBeVisible()
  for (const key of ['i', 'c']) await page.keyboard.press(key)
  await expect.poll(() => rpm(page)).toBeGreaterThan(900)
  for (let k = 0; k < 3; k++) await page.keyboard.press('PageUp')
  await expect(page.getByRole('button', { name: 'Gear 3' })).toHaveAttribute('aria-pressed', 'true')
  await page.keyboard.press('Space')
  await expect(page.getByRole('button', { name: 'Neutral' })).toHaveAttribute('aria-pressed', 'true')

  await page.getByRole('tab', { name: 'Scripts' }).click()
  await page.getByRole('button', { name: 'Warm up' }).click()
  await expect(page.getByText(/Warm-up to 80 °C is done/)).toBeVisible({ timeout: 60_000 })
  await page.getByRole('button', { name: 'Run sweep at 80 %' }).click()
  await expect(page.getByText(/"Sweep at 80 %" is in the job/)).toBeVisible({ timeout: 60_000 })
  await expect(page.getByRole('listitem').filter({ hasText: '80 %' }).getByText('1/3')).toBeVisible()
  await expect(page.locator('.node .number').first()).toBeVisible()
  expect(said).toEqual([])
})

test('a table is written, lost with the power, kept; low battery is refused and a drop is recovered', async ({
  page,
}) => {
  await connect(page, 'Curlew 449, tables', '24')
  await page.getByRole('tab', { name: /Controller/ }).click()
  await page.getByRole('button', { name: 'Take it into the job' }).click()
  await expect(page.getByText(/The same as revision 1/)).toBeVisible()
  // Another revision, as Change would save it.
  const job = /jobs\/([^/]+)/.exec(page.url())![1]!
  const api = `${app.address}/api/v1/jobs/${job}`
  const [table] = (await (await page.request.get(`${api}/tables`)).json()) as {
    id: string
    table: { values: number[][] }
  }[]
  const values = table!.table.values.map((row) => row.map((cell) => cell * 1.04))
  await page.request.post(`${api}/tables/${table!.id}/revisions`, { data: { values, parent: 1, reason: 'Richer' } })
  await page.reload()
  await page.getByRole('tab', { name: /Controller/ }).click()
  const write = page.getByRole('button', { name: 'Write revision 2 to bench' })

  await page.getByRole('button', { name: 'Let the battery run low' }).click()
  await page.waitForTimeout(200)
  await write.click()
  await expect(page.getByText(/Put a charger on/)).toBeVisible()
  await page.getByRole('button', { name: 'Battery charged again' }).click()
  await page.waitForTimeout(200)
  await write.click()
  await expect(page.getByText('not kept: base', { exact: true })).toBeVisible()
  await page.getByRole('button', { name: 'Cut power and give it back' }).click()
  await expect(page.getByText('not kept: base', { exact: true })).toHaveCount(0)
  await expect(write).toBeEnabled()
  await write.click()
  await page.getByRole('button', { name: 'Keep what is written' }).click()
  await page.getByRole('button', { name: 'Cut power and give it back' }).click()
  await expect(page.getByText(/The same as revision 2/)).toBeVisible()
  await page.getByRole('button', { name: 'Restore what was there first' }).click()
  await page.getByRole('button', { name: 'Drop during the next write' }).click()
  await write.click()
  await expect(page.getByText(/The controller does not answer: a write was cut off/)).toBeVisible()
  await page.getByRole('button', { name: 'Recover the controller' }).click()
  await expect(write).toBeEnabled()
})
