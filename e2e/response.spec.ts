import { expect, test, type Page } from '@playwright/test'
import { knownRollOns } from '../core/trials/knownRollOns'
import type { ResponseAnswer, RunColumns, TableInfo } from '@yuzumix/core'
import { closeRigList, apiOf, complaints, jobOf, runsOf, startApp, type RunningApp } from './app'

const SNATCHY = 'Dunnock 498, takes hold like a switch'
let app: RunningApp
test.beforeAll(async () => {
  app = await startApp(true)
})
test.afterAll(() => app.stop())

const asCsv = ({ time, rpm, throttle, lambda }: RunColumns): string =>
  `time,rpm,throttle,lambda\n${Array.from(time, (_, i) => [time[i], rpm[i], throttle![i], lambda[0]![i]].map((one) => one!.toFixed(4)).join(',')).join('\n')}\n`

async function openResponse(page: Page): Promise<string> {
  await page.goto(app.address)
  await page.getByRole('link', { name: SNATCHY, exact: true }).click()
  await page.getByRole('link', { name: /Response/ }).click()
  // Another test may have begun a set of its own.
  const sets = page.getByRole('combobox', { name: 'Set of runs' })
  await expect(page.getByText(/\d+ roll-ons? of \d+ kinds?/)).toBeVisible({ timeout: 120_000 })
  if (await sets.count()) await choose(page, 'Set of runs', /As it came in/)
  await expect(page.getByText(/\d\d roll-ons of \d+ kinds/)).toBeVisible({ timeout: 120_000 })
  return /jobs\/([^/]+)/.exec(page.url())![1]!
}
const view = (page: Page, name: string) => page.getByRole('radiogroup', { name: 'View' }).getByText(name).click()
async function choose(page: Page, box: string, option: RegExp): Promise<void> {
  await page.getByRole('combobox', { name: box, exact: true }).click({ force: true })
  await page.getByRole('option', { name: option }).filter({ visible: true }).click()
}
/** Connects the machine of the demo, four times as fast, warm. */
async function connect(page: Page): Promise<void> {
  // One that another test left connected is let go.
  await page.request.delete(`${apiOf(page)}/bench`)
  await closeRigList(page)
  await page.goto(`${app.address}/jobs/${jobOf(page)}/bench`)
  await page.getByRole('spinbutton', { name: 'Coolant at the start in °C' }).fill('85')
  await page.keyboard.press('Enter')
  await page.getByText('four times as fast').click()
  await page.getByRole('button', { name: 'Connect the simulated rig' }).click()
  await expect(page.getByText(/^Simulated rig: Dunnock 498/)).toBeVisible()
  await page.getByRole('button', { name: 'Take the wheel' }).click()
}
/** Writes what the job has for a table of the controller. */
async function write(page: Page, name: string): Promise<void> {
  await page.getByRole('tab', { name: 'Tables' }).click()
  const row = page.getByRole('listitem').filter({ hasText: name })
  await row.getByRole('button', { name: /^Write revision \d+ to bench/ }).click()
  await expect(row.getByText(/^The same as revision/)).toBeVisible()
}
/** Sweeps of one's own at some stops; each lands in the job. */
async function sweep(page: Page, stops: readonly number[], from: number, to: number): Promise<void> {
  await page.getByRole('tab', { name: 'Runs' }).click()
  await page.getByRole('radiogroup', { name: 'Kind of run' }).getByText('sweep', { exact: true }).click()
  for (const stop of stops) {
    for (const [name, value] of [
      ['Stop of the run in %', stop],
      ['From of the run in rpm', from],
      ['To of the run in rpm', to],
    ] as const) {
      const box = page.getByRole('spinbutton', { name, exact: true })
      await box.fill(String(value))
      await box.press('Enter')
    }
    const before = await runsOf(page)
    await page.getByRole('button', { name: 'Run this sweep' }).click()
    await expect.poll(() => runsOf(page), { timeout: 120_000 }).toBe(before + 1)
  }
}
async function newSet(page: Page, name: string): Promise<string> {
  const made = await page.request.post(`${apiOf(page)}/sets`, { data: { name } })
  return ((await made.json()) as { id: string }).id
}
async function answerOf(page: Page, set: string): Promise<ResponseAnswer> {
  return (await (await page.request.post(`${apiOf(page)}/response`, { data: { set } })).json()) as ResponseAnswer
}
async function tableOf(page: Page, name: string): Promise<TableInfo> {
  const tables = (await (await page.request.get(`${apiOf(page)}/tables`)).json()) as TableInfo[]
  return tables.find((one) => one.name === name)!
}

test('a road log is imported and its roll-ons are read; without a grip it says what to log', async ({ page }) => {
  const said = complaints(page)
  const api = `${app.address}/api/v1`
  const { id } = (await (
    await page.request.post(`${api}/jobs`, { data: { title: 'Heron 388, on the road' } })
  ).json()) as {
    id: string
  }
  await page.goto(`${app.address}/jobs/${id}/response`)
  await expect(page.getByRole('heading', { name: 'Response' })).toBeVisible()
  await page.goto(`${app.address}/jobs/${id}/mixture`)
  const { run } = knownRollOns(5, { share: 0.25, tau: 0.3, extra: 0, decay: 0.3 })
  await page
    .getByLabel('Logs to add')
    .first()
    .setInputFiles({ name: 'road.csv', mimeType: 'text/csv', buffer: Buffer.from(asCsv(run)) })
  const dialog = page.getByRole('dialog')
  await dialog.getByRole('button', { name: /^Add 1 run$/ }).click()
  await expect(dialog).toBeHidden({ timeout: 120_000 })
  await page.getByRole('link', { name: /Response/ }).click()
  await expect(page.getByText(/More acceleration fuel: .* % of the fuel at the opening/)).toBeVisible({
    timeout: 120_000,
  })
  await expect(page.getByRole('row')).toHaveCount(4)
  await view(page, 'Grip to plate')
  await expect(page.getByText(/No grip channel.*log grip and plate together/).first()).toBeVisible()
  await view(page, 'Loop exit, overrun')
  await expect(page.getByText('None was found. Sweep at small throttle stops')).toBeVisible()
  expect(said).toEqual([])
})

test('the loop exit is told, tapered in the fuel table, and the bench proves it', async ({ page }) => {
  test.setTimeout(400_000)
  const said = complaints(page)
  await openResponse(page)
  await view(page, 'Loop exit, overrun')
  await expect(page.getByText(/Above 4.4\d\d rpm the mixture turns .* richer/).first()).toBeVisible()
  await page.getByRole('button', { name: 'Taper in the fuel table' }).click()
  await choose(page, 'Table', /fuel base/)
  await page.getByRole('button', { name: /^Take all \d+ changes/ }).click()
  await page.getByRole('button', { name: 'Save revision 2' }).click()
  const dialog = page.getByRole('dialog')
  await dialog.getByRole('textbox', { name: 'Reason' }).fill('Tapered above the loop exit')
  // Leaner by more than a usual pass: somebody has to say why.
  await dialog.getByRole('textbox', { name: 'Why the large step is taken' }).fill('the rich cells were measured')
  await dialog.getByRole('button', { name: 'Save revision 2' }).click()
  await expect(dialog).toBeHidden()
  const before = await answerOf(page, (await setsOf(page))[0]!)
  const set = await newSet(page, 'Tapered')
  await connect(page)
  await write(page, 'Fuel, mg per cycle')
  await sweep(page, [2, 2], 3000, 6200)
  const after = await answerOf(page, set)
  const stepOf = (one: ResponseAnswer): number =>
    Math.max(0, ...one.exits.filter((exit) => exit.load < 10).map((exit) => Math.abs(exit.stepPct)))
  expect(stepOf(before)).toBeGreaterThan(5)
  expect(stepOf(after)).toBeLessThan(3)
  expect(said).toEqual([])
})
async function setsOf(page: Page): Promise<string[]> {
  const sets = (await (await page.request.get(`${apiOf(page)}/sets`)).json()) as { id: string }[]
  return sets.map((one) => one.id)
}

test('a plate table is shaped, limited, saved and written; torque by grip is straight after it', async ({ page }) => {
  test.setTimeout(400_000)
  const said = complaints(page)
  await openResponse(page)
  await view(page, 'Grip to plate')
  await expect(page.getByText(/the plate opens .* % for each 1 % of grip/)).toBeVisible()
  await page.getByRole('button', { name: 'Shape the plate table' }).click()
  await choose(page, 'Table', /mode 1 \(plate\)/)
  await expect(page.getByRole('img', { name: /Torque over grip at/ })).toBeVisible({ timeout: 120_000 })
  // A cell by hand that falls is refused before it is saved.
  const cell = page.locator('[data-at="4:3"]')
  await cell.click()
  await page.keyboard.type('2')
  await page.keyboard.press('Enter')
  await page.getByRole('button', { name: 'Save revision 2' }).click()
  await expect(page.getByText(/A plate must not shut as the hand opens/)).toBeVisible()
  await page.getByRole('button', { name: 'Undo' }).click()
  await page.getByRole('button', { name: /^Take all \d+ changes/ }).click()
  await page.getByRole('button', { name: 'Save revision 2' }).click()
  const dialog = page.getByRole('dialog')
  await dialog.getByRole('textbox', { name: 'Reason' }).fill('Torque straight with the grip')
  await dialog.getByRole('button', { name: 'Save revision 2' }).click()
  await expect(dialog).toBeHidden()
  expect((await tableOf(page, 'Plate by grip, mode 1')).revisions).toHaveLength(2)
  const set = await newSet(page, 'Straight')
  await connect(page)
  await write(page, 'Plate by grip, mode 1')
  await sweep(page, [20, 50, 100], 4000, 6500)
  const { grip } = await answerOf(page, set)
  const at = (hand: number): number => {
    const row = grip!.plate[grip!.grip.findIndex((one) => Math.abs(one - hand) < 2)]!
    return row.find((one) => one !== null) ?? NaN
  }
  // Half the grip opened nearly all of the plate before.
  expect(at(50)).toBeLessThan(30)
  expect(at(50)).toBeGreaterThan(5)
  expect(said).toEqual([])
})
