import { readFileSync } from 'node:fs'
import { expect, test, type Page } from '@playwright/test'
import { humpTorque, knownPull, pullAsCsv, recordPull, type KnownPull } from '../core/trials/knownPull'
import { apiOf, complaints, newJob, startApp, type RunningApp } from './app'

let app: RunningApp
test.beforeAll(async () => {
  app = await startApp(false)
})
test.afterAll(() => app.stop())

/** Pulls as files for a file input, named by their seed. */
function pulls(seeds: number[], over: Partial<KnownPull> = {}, odd?: { seed: number; as: KnownPull['odd'] }) {
  return seeds.map((seed) => ({
    name: `pull ${seed}.csv`,
    mimeType: 'text/csv',
    buffer: Buffer.from(
      pullAsCsv(recordPull(knownPull({ seed, ...over, ...(odd?.seed === seed && { odd: odd.as }) }))),
    ),
  }))
}

async function addLogs(page: Page, files: ReturnType<typeof pulls>): Promise<void> {
  await page.getByLabel('Logs to add').setInputFiles(files)
  const dialog = page.getByRole('dialog')
  await dialog.getByRole('button', { name: /^Add \d+ runs?$/ }).click()
  await expect(dialog).toBeHidden()
}
const view = (page: Page, name: string) =>
  page.getByRole('radiogroup', { name: 'View' }).getByText(name, { exact: true }).click()

test('a plan is made, and imported runs tick it off by what they are', async ({ page }) => {
  const said = complaints(page)
  await newJob(page, app, 'Planned')
  await page.keyboard.press('Alt+3')
  await view(page, 'Plan')
  await expect(page.getByText('begin with the first run of the plan')).toBeVisible()
  await page.getByRole('spinbutton', { name: 'From rpm' }).fill('3000')
  await page.keyboard.press('Enter')
  await page.getByRole('spinbutton', { name: 'Minutes at hand' }).fill('20')
  await page.keyboard.press('Enter')
  await expect(page.getByText(/min more than there is/)).toBeVisible()
  await expect(page.getByText('All saved')).toBeVisible()

  await addLogs(page, pulls([1, 2]))
  const wideOpen = page.getByRole('row', { name: /wide open/ })
  await expect(wideOpen.getByText('2 of 3')).toBeVisible()
  await addLogs(page, pulls([3], { to: 6000 }))
  await expect(wideOpen.getByText(/"pull 3.csv" does not count: settled from/)).toBeVisible()
  await addLogs(page, pulls([4]))
  await expect(wideOpen.getByText('3 of 3')).toBeVisible()
  await expect(page.getByText(/Sweep at \d+ %/).first()).toBeVisible()
  await page.reload()
  await expect(page.getByRole('spinbutton', { name: 'From rpm' })).toHaveValue('3000')
  await expect(wideOpen.getByText('3 of 3')).toBeVisible()
  expect(said).toEqual([])
})

test('an import goes on while one looks at another stage, and brings every file', async ({ page }) => {
  await newJob(page, app, 'On its way')
  await page.getByLabel('Logs to add').setInputFiles(pulls([11, 12, 13, 14, 15]))
  const dialog = page.getByRole('dialog')
  await dialog.getByRole('button', { name: /^Add \d+ runs?$/ }).click()
  await page.keyboard.press('Alt+4')
  await expect(page).toHaveURL(/\/mixture$/)
  await expect(dialog).toBeHidden()
  await expect(page.getByText('Runs (5 of 5)')).toBeVisible()
})

test('three runs lie over each other, and the odd band of one is left out with its reason', async ({ page }) => {
  const said = complaints(page)
  await newJob(page, app, 'Odd one out')
  await addLogs(page, pulls([11, 12, 13], {}, { seed: 12, as: { from: 5200, to: 6500, torque: -0.08, lambda: 0.07 } }))
  await page.keyboard.press('Alt+3')
  const odd = page.locator('.list .run', { hasText: 'pull 12' })
  await expect(odd.getByText('odd · misfire?')).toBeVisible()
  await expect(page.locator('.list .mark')).toHaveCount(1)
  await odd.click()
  await expect(page.getByText(/Looks like a misfire of a cylinder/)).toBeVisible()
  await page.getByRole('textbox', { name: 'Reason for leaving out' }).fill('Plug lead came off')
  await page.getByRole('button', { name: /^Leave out 5/ }).click()
  await expect(odd.getByText('band left out')).toBeVisible()
  await expect(page.getByText('Plug lead came off')).toBeVisible()
  await page.getByRole('tab', { name: 'Figures' }).click()
  await expect(page.getByRole('row', { name: /Mean of 3/ })).toBeVisible()
  await page.keyboard.press('Alt+1')
  await page.getByRole('tab', { name: 'Logbook' }).click()
  await expect(page.getByText(/pull 12.csv: Plug lead came off/)).toBeVisible()
  await page.keyboard.press('Alt+3')
  await odd.click()
  await page.getByRole('button', { name: 'Take it in again' }).click()
  await expect(odd.getByText('odd · misfire?')).toBeVisible()
  expect(said).toEqual([])
})

test('before and after are compared with weather and standard, what differs is refused first, and the chart is exported', async ({
  page,
}) => {
  const said = complaints(page)
  await newJob(page, app, 'Before and after')
  await addLogs(page, pulls([21, 22, 23]))
  await page.keyboard.press('Alt+3')
  await page.getByRole('tab', { name: 'Set and air' }).click()
  for (const [name, value] of [
    ['Temperature in °C', '24'],
    ['Humidity in %', '45'],
    ['Pressure in kPa', '1013'],
  ] as const) {
    await page.getByRole('spinbutton', { name }).fill(value)
    await page.keyboard.press('Tab')
  }
  await page.keyboard.press('Enter')
  // As a barometer shows it: asked, and taken by one press.
  await page.getByRole('button', { name: 'It is hPa: take 101.3 kPa' }).click()
  await expect(page.getByText(/SAE J1349 × 0\.9\d\d/).first()).toBeVisible()
  // Refused for one of its figures, the air is as it was in all of them.
  await page.getByRole('spinbutton', { name: 'Temperature in °C' }).fill('31')
  await page.keyboard.press('Tab')
  await page.getByRole('spinbutton', { name: 'Pressure in kPa' }).fill('140')
  await page.keyboard.press('Enter')
  await expect(page.getByText(/Pressure is outside 55 to 108 kPa/)).toBeVisible()
  const airOf = async () =>
    ((await (await page.request.get(`${apiOf(page)}/sets`)).json()) as { weather: object }[])[0]!.weather
  expect(await airOf()).toEqual({ temperatureC: 24, pressureKpa: 101.3, humidityPct: 45 })
  await page.getByRole('spinbutton', { name: 'Temperature in °C' }).fill('24')
  await page.getByRole('spinbutton', { name: 'Pressure in kPa' }).fill('101.3')
  await page.keyboard.press('Enter')
  await page.getByRole('button', { name: 'Begin a new set' }).click()
  await expect(page.getByRole('textbox', { name: 'Name of the set' })).toHaveValue('Set 2')
  await page.getByRole('textbox', { name: 'Name of the set' }).fill('After')
  await page.keyboard.press('Tab')
  await page.getByRole('textbox', { name: 'Rig', exact: true }).fill('Town drum')
  await page.keyboard.press('Tab')
  await page.getByRole('tab', { name: /^Runs/ }).click()
  await addLogs(page, pulls([24, 25, 26], { torque: (rpm) => humpTorque(rpm) * (rpm > 6500 ? 1.06 : 1) }))
  await expect(page.locator('.list .run')).toHaveCount(3)

  // A new set keeps the air of the one before; without any it is not measured alike.
  const job = /jobs\/([^/]+)/.exec(page.url())![1]!
  const setsOf = async () =>
    (await (await page.request.get(`${app.address}/api/v1/jobs/${job}/sets`)).json()) as {
      id: string
      weather: object
    }[]
  const weather = { temperatureC: 24, pressureKpa: 101.3, humidityPct: 45 }
  const second = (await setsOf())[1]!
  expect(second.weather).toEqual(weather)
  const secondSet = `${app.address}/api/v1/jobs/${job}/sets/${second.id}`
  await page.request.patch(secondSet, { data: { weather: null } })
  await page.reload()
  await view(page, 'Compare')
  await expect(page.getByRole('heading', { name: 'Not measured alike' })).toBeVisible()
  await expect(page.getByText('Different rigs: not said and Town drum.')).toBeVisible()
  await expect(page.getByText('One set is corrected and the other has no weather').first()).toBeVisible()
  // The weather is mended, the rig is accepted.
  await page.request.patch(secondSet, { data: { weather } })
  await page.reload()
  await expect(page.getByText('One set is corrected')).toHaveCount(0)
  await page.getByRole('button', { name: 'Compare all the same' }).click()
  await expect(page.getByRole('note').getByText('Different rigs')).toBeVisible()
  await expect(page.getByText(/"After" is really above from 6/)).toBeVisible()
  await expect(page.getByText(/gain begins at/)).toBeVisible()
  await expect(page.getByRole('row', { name: /Peak/ })).toBeVisible()
  await page.getByRole('textbox', { name: 'Engine speeds' }).fill('8000')
  await expect(page.getByRole('row', { name: /At 8.000 rpm/ })).toBeVisible()

  for (const format of ['SVG', 'PNG'] as const) {
    const [download] = await Promise.all([
      page.waitForEvent('download'),
      page.getByRole('button', { name: `Save the chart as ${format}` }).click(),
    ])
    const content = readFileSync(await download.path())
    expect(content.length).toBeGreaterThan(5000)
    if (format === 'PNG') expect(content.subarray(1, 4).toString()).toBe('PNG')
    else {
      const text = content.toString()
      expect(text).toContain('Before and after: After against Baseline, wide open')
      expect(text).toMatch(/torque, N·m; SAE J1349 × 0\.9\d\d and SAE J1349/)
      // Names stand on a halo; drawn over the letters, it would blot them out.
      const names = text.match(/<text[^>]*stroke-width="[23][^>]*>/g) ?? []
      expect(names.length).toBeGreaterThan(0)
      expect(names.filter((one) => !one.includes('paint-order="stroke'))).toEqual([])
    }
  }
  // Of what was not measured alike.
  expect(said.length).toBeGreaterThan(0)
  expect(said).toEqual(said.map(() => expect.stringContaining('422')))
})

test('hand readings are typed with keys alone, feed the field, and call out banks whose average flatters', async ({
  page,
}) => {
  const said = complaints(page)
  await newJob(page, app, 'By hand')
  await page.keyboard.press('Alt+3')
  await view(page, 'Hand readings')
  await page.getByRole('spinbutton', { name: 'Banks or cylinders' }).fill('2')
  await page.keyboard.press('Enter')
  await page.getByRole('textbox', { name: 'Line 1, rpm' }).focus()
  for (const text of ['3000', '40', '14.5-14.6', '13.1']) {
    await page.keyboard.type(text)
    await page.keyboard.press('Enter')
  }
  await expect(page.getByText(/the average flatters. Bank 1 is \+/)).toBeVisible()
  // The next line suggests the throttle; the second step in rpm is then suggested too.
  await page.keyboard.type('4000')
  for (const text of ['', '', '13.9', '13.1']) {
    if (text) await page.keyboard.type(text)
    await page.keyboard.press('Enter')
  }
  await expect(page.getByRole('textbox', { name: 'Line 3, rpm' })).toHaveValue('5000')
  await page.keyboard.type('rich')
  await expect(page.getByText(/"rich" is no reading/)).toBeVisible()
  await page.keyboard.press('Control+a')
  await page.keyboard.type('13.5')
  await page.keyboard.press('Enter')
  await page.keyboard.type('13.2')
  await page.keyboard.press('Control+Enter')
  await expect(page.getByText(/is a run of the set now/)).toBeVisible()
  await page.keyboard.press('Alt+4')
  await expect(page.getByText('Cylinder 2')).toBeVisible()
  await expect(page.locator('.node .number').first()).toBeVisible()
  expect(await page.locator('.node .number').count()).toBeGreaterThanOrEqual(3)
  expect(said).toEqual([])
})
