import { expect, test, type Page } from '@playwright/test'
import { closeRigList, complaints, runsOf, startApp, type RunningApp } from './app'
import { sparkLogFiles } from './log'

// The last file by name: its tests are shared out, each with a server of its own, so that no worker is left waiting.
test.describe.configure({ mode: 'parallel' })

let app: RunningApp
test.beforeAll(async () => {
  app = await startApp(true)
})
test.afterAll(() => app.stop())

const STEPPED = 'Curlew 437, spark held back'
const PLATE = 'Dunlin 208, plate and springs'

async function open(page: Page, title: string): Promise<void> {
  await page.goto(app.address)
  await page.getByRole('link', { name: title, exact: true }).click()
  await expect(page.getByText('All saved')).toBeVisible()
  await page.keyboard.press('Alt+6')
}
const view = (page: Page, name: string): Promise<void> =>
  page.getByRole('radiogroup', { name: 'View' }).getByText(name, { exact: true }).click()
const point = (page: Page, name: RegExp) => page.getByRole('option', { name })
/** Moves the selection of the table to a cell by keys, from its lower left corner. */
async function goTo(page: Page, right: number, up: number): Promise<void> {
  await page.locator('[data-at="0:0"]').focus()
  for (let k = 0; k < right; k++) await page.keyboard.press('ArrowRight')
  for (let k = 0; k < up; k++) await page.keyboard.press('ArrowUp')
}

test('planned, stepped at the bench, fitted, taken into the table, written and proved', async ({ page }) => {
  test.setTimeout(400_000)
  const said = complaints(page)
  await page.goto(app.address)
  await page.getByRole('button', { name: 'New job' }).first().click()
  await page.getByRole('textbox', { name: 'Title' }).fill('Curlew 437, spark at the bench')
  await page.getByRole('button', { name: 'Make the job' }).click()
  await expect(page.getByText('All saved')).toBeVisible()
  await page.keyboard.press('Alt+6')
  await expect(page.getByText(/was run at more than one setting yet/)).toBeVisible()

  // A plan of one point, so that it is soon through.
  await view(page, 'Plan')
  await page.getByRole('textbox', { name: 'Throttle stops in %' }).fill('40')
  await page.getByRole('textbox', { name: 'Throttle stops in %' }).press('Enter')
  await page.getByRole('textbox', { name: 'Engine speeds in rpm' }).fill('five thousand')
  await page.getByRole('textbox', { name: 'Engine speeds in rpm' }).press('Enter')
  await expect(page.getByRole('alert')).toContainText('each is a number from 500 to 30000')
  await page.getByRole('textbox', { name: 'Engine speeds in rpm' }).fill('5000')
  await page.getByRole('textbox', { name: 'Engine speeds in rpm' }).press('Enter')
  await expect(page.getByText('now, −6, −3, +3, +6, now', { exact: true })).toBeVisible()
  await expect(page.getByText('Knock: at the first sign go back', { exact: false })).toBeVisible()
  await expect(page.getByText('All saved')).toBeVisible()

  await closeRigList(page)
  await page.getByRole('link', { name: 'Bench', exact: true }).click()
  await page.getByRole('spinbutton', { name: 'Coolant at the start in °C' }).fill('84')
  await page.keyboard.press('Enter')
  await page.getByText('four times as fast').click()
  await page.getByRole('button', { name: 'Connect the simulated rig' }).click()
  await page.getByRole('button', { name: 'Take the wheel' }).click()
  await page.getByRole('tab', { name: 'Tables' }).click()
  const inController = page.getByRole('listitem').filter({ hasText: 'Spark advance' })
  await inController.getByRole('button', { name: 'Take it into the job' }).click()
  await expect(inController.getByText('The same as revision 1', { exact: false })).toBeVisible()
  await page.getByRole('tab', { name: 'Runs' }).click()
  await page.getByRole('button', { name: 'From the spark plan' }).click()
  await page.getByRole('button', { name: 'Run the 3 left, warmed up first' }).click()
  await expect(page.getByRole('button', { name: 'Run the 0 left, warmed up first' })).toBeVisible({ timeout: 150_000 })

  await page.keyboard.press('Alt+6')
  await view(page, 'Fit')
  // The short silencer fills the engine well enough to knock at the last setting, on some days.
  await expect(point(page, /40 %, 5.000 rpm/)).toContainText(/best torque|knock/)
  await expect(page.getByText(/The least advance within 0.5 % of best torque|Knock from \d/).first()).toBeVisible()
  await expect(page.getByText(/spread of one reading/)).toBeVisible()

  await view(page, 'Table')
  await page.getByRole('button', { name: /^Take (the 1 change|all \d+ changes)$/ }).click()
  await expect(page.getByText(/^\d+ cells? not saved$/)).toBeVisible()
  // By hand beside it, with the keys of the fuel table: half a degree up.
  const at5000 = 8
  const at40 = 7
  await goTo(page, at5000 + 1, at40)
  await page.keyboard.press('PageUp')
  await expect(page.getByText(/^\d+ cells not saved$/)).toBeVisible()
  await page.keyboard.press('Control+s')
  await page.getByRole('textbox', { name: 'Reason' }).fill('Spark steps at 40 %')
  await page.getByRole('button', { name: 'Save revision 2' }).last().click()
  await expect(page.getByText('Revision 2 is saved.')).toBeVisible()

  await page.getByRole('link', { name: /^Bench/ }).click()
  await page.getByRole('tab', { name: 'Tables' }).click()
  await expect(inController.getByText(/differs in \d+ cells/)).toBeVisible()
  await inController.getByRole('button', { name: 'Cell by cell' }).click()
  await expect(page.getByText('Degrees of advance that the revision gives', { exact: false })).toBeVisible()
  await page.keyboard.press('Escape')
  // The controller takes no write while the engine runs: off with it, by its key.
  await page.getByRole('tab', { name: 'Drive' }).click()
  await page.getByText('You drive.').click()
  await page.keyboard.press('i')
  await expect(page.locator('dd').first()).toHaveText(/^0/, { timeout: 120_000 })
  await page.getByRole('tab', { name: 'Tables' }).click()
  await inController.getByRole('button', { name: 'Write revision 2 to bench' }).click()
  await expect(page.getByText('Written but not kept: spark.', { exact: false })).toBeVisible()

  // The proof: holds at the same point, with what is in the controller now.
  await page.getByRole('tab', { name: 'Runs' }).click()
  await page.getByText('hold', { exact: true }).click()
  await page.getByRole('spinbutton', { name: 'At of the run in rpm' }).fill('5000')
  await page.keyboard.press('Enter')
  for (let k = 0; k < 2; k++) {
    const before = await runsOf(page)
    await page.getByRole('button', { name: 'Run this hold' }).click()
    await expect.poll(() => runsOf(page), { timeout: 120_000 }).toBe(before + 1)
    await expect(page.getByText(/"Hold at 40 %, 5\s000 rpm" is in the job/)).toBeVisible()
  }
  await page.keyboard.press('Alt+6')
  await view(page, 'Fit')
  await page.getByRole('tab', { name: 'Proof (1)' }).click()
  await expect(page.getByRole('heading', { name: /40 % at 5.000 rpm: as predicted/ })).toBeVisible()
  // What was taken is not advised again in full.
  await view(page, 'Table')
  await goTo(page, at5000, at40)
  await expect(page.getByText('from one surface of best advance through all points')).toBeVisible()
  expect(said).toEqual([])
})

test('a mixture change makes the spark stale there, and the plan asks for it first', async ({ page }) => {
  test.setTimeout(400_000)
  const said = complaints(page)
  await open(page, STEPPED)
  await expect(point(page, /40 %, 3.500 rpm/)).toContainText('best torque')
  await page.keyboard.press('Alt+5')
  // Fuel at 40 % and 3,500 rpm up by six percent, a key a percent.
  await goTo(page, 5, 7)
  for (let k = 0; k < 6; k++) await page.keyboard.press('PageUp')
  await page.keyboard.press('Control+s')
  await page.getByRole('textbox', { name: 'Reason' }).fill('Richer at 40 %')
  await page.getByRole('button', { name: 'Save revision 2' }).last().click()
  await expect(page.getByText('Revision 2 is saved.')).toBeVisible()

  await page.keyboard.press('Alt+6')
  await expect(point(page, /40 %, 3.500 rpm/)).toContainText('stale')
  await expect(point(page, /wide open, 3.500 rpm/)).toContainText('best torque')
  await expect(page.getByText(/Stale: the mixture moved by \+6\.\d % here since/)).toBeVisible()
  await view(page, 'Table')
  await goTo(page, 5, 7)
  await expect(page.getByText('stale, mixture moved')).toBeVisible()
  await view(page, 'Plan')
  await expect(page.getByRole('row').nth(1)).toContainText('again: the mixture moved')
  await expect(page.getByRole('row').nth(1)).toContainText('now, −3, +3, now')
  // The run plan says so, too.
  await page.keyboard.press('Alt+3')
  // Spark has a view of that name, too: it must be gone before the other is pressed.
  await expect(page.getByText('Hand readings', { exact: true })).toBeVisible()
  await view(page, 'Plan')
  await expect(page.getByText('In the fewest runs')).toBeVisible()
  await expect(page.getByText('Spark step at 40 %')).toBeVisible()
  expect(said).toEqual([])
})

test('a large step of advance is refused until somebody says why, and that is kept', async ({ page }) => {
  const said = complaints(page)
  await open(page, STEPPED)
  await view(page, 'Table')
  await goTo(page, 8, 11)
  await page.keyboard.type('27')
  await page.keyboard.press('Enter')
  await page.keyboard.press('Control+s')
  await page.getByRole('textbox', { name: 'Reason' }).fill('All at once')
  const save = page.getByRole('button', { name: /^Save revision \d+$/ }).last()
  await expect(page.getByRole('alert')).toContainText('1 cell moves far from revision 1')
  await expect(save).toBeDisabled()
  await page.getByRole('textbox', { name: 'Why the large step is taken' }).fill('The map was held back for noise')
  await save.click()
  await expect(page.getByText(/Revision \d+ is saved\./)).toBeVisible()
  await page.getByRole('tab', { name: /^Revisions/ }).click()
  await expect(page.getByText('Large step, taken because: The map was held back for noise')).toBeVisible()
  expect(said).toEqual([])
})

test('an ignition plate turned by hand: settings said by run, one knob, and no difference shown by other springs', async ({
  page,
}) => {
  test.setTimeout(400_000)
  const said = complaints(page)
  await open(page, PLATE)
  await expect(point(page, /60 %, 5.000 rpm/)).toBeVisible()
  await page.getByRole('tab', { name: 'One knob' }).click()
  await expect(page.getByText('gain, as used')).toBeVisible()
  const best = page.locator('dd:visible').filter({ hasText: '90 %' })
  const even = await best.textContent()
  await page.getByRole('radiogroup', { name: 'How the range is used' }).getByText('track', { exact: true }).click()
  await expect(best).not.toHaveText(even!)
  await expect(page.getByText(/The least advance within 0.5 %/)).toBeVisible()

  await view(page, 'Settings')
  await page.getByRole('radiogroup', { name: 'Setting explained' }).getByText('15.0° (2)').click()
  await expect(page.getByText(/torque with 15.0° than with 11.0°/)).toBeVisible()
  await page.getByRole('combobox', { name: 'Compared with' }).click({ force: true })
  await page.getByRole('option', { name: 'set: Softer springs' }).filter({ visible: true }).click()
  await expect(page.getByRole('radio', { name: '11.0° (3)' })).toBeChecked()
  await expect(page.getByText(/No difference shown from .* would not have shown/)).toBeVisible()

  // A setting that was noted with the wrong sign is refused, with words.
  await page.getByRole('tab', { name: 'Settings of runs' }).click()
  const advance = page.getByRole('spinbutton', { name: 'Advance of Plate at 15°, sweep 10 in degrees' })
  await advance.fill('-28')
  await advance.press('Enter')
  await expect(page.getByText(/Check the sign/).first()).toBeVisible()
  await expect(advance).toHaveValue('15')
  await page.getByRole('listitem').filter({ hasText: 'Plate at 15°, sweep 10' }).getByText('knock heard').click()
  await view(page, 'Fit')
  await page.getByRole('tab', { name: 'One knob' }).click()
  await expect(page.getByText(/Knock at one speed or another from \+4\.0°/)).toBeVisible()
  // Said so, it outlasts the server.
  await app.killAndRestart()
  await page.reload()
  await page.getByRole('tab', { name: 'One knob' }).click()
  await expect(page.getByText(/Knock at one speed or another from \+4\.0°/)).toBeVisible()
  // Of the setting that was refused, and of the connection that was cut.
  expect(said.length).toBeGreaterThan(0)
  expect(said).toEqual(said.map(() => expect.stringMatching(/400|net::ERR|WebSocket/)))
})

test('a mixture sweep tells what a safer mixture costs, and becomes the target', async ({ page }) => {
  const said = complaints(page)
  await open(page, STEPPED)
  await view(page, 'Mixture sweep')
  await expect(page.getByText('wide open, 5', { exact: false }).first()).toBeVisible()
  await expect(page.getByText('Torque is flat about its best', { exact: false })).toBeVisible()
  await page.getByRole('button', { name: 'Aim at Track, lambda 0.85' }).click()
  await expect(page.getByText(/The target is 0.850 λ from 80 % of throttle up/)).toBeVisible()
  await expect(page.getByText('All saved')).toBeVisible()
  const id = /jobs\/([^/]+)/.exec(page.url())![1]!
  const job = (await (await page.request.get(`${app.address}/api/v1/jobs/${id}`)).json()) as {
    mixture: { target: { zones: object[] } }
  }
  expect(job.mixture.target.zones).toEqual([{ fromRpm: 0, toRpm: 30000, fromLoad: 80, toLoad: 400, lambda: 0.85 }])
  expect(said).toEqual([])
})

test('logs at settings are imported and fitted, and the change is taken into a table made for it', async ({ page }) => {
  test.setTimeout(400_000)
  const said = complaints(page)
  await page.goto(app.address)
  await page.getByRole('button', { name: 'New job' }).first().click()
  await page.getByRole('textbox', { name: 'Title' }).fill('Logs at settings')
  await page.getByRole('button', { name: 'Make the job' }).click()
  await expect(page.getByText('All saved')).toBeVisible()
  const add = async (settings: number[], from: number): Promise<void> => {
    await page.keyboard.press('Alt+3')
    await page.waitForURL(/baseline/)
    await page.getByLabel('Logs to add').setInputFiles(sparkLogFiles(settings, from))
    const dialog = page.getByRole('dialog')
    await dialog.getByRole('button', { name: /^Add \d+ runs?$/ }).click()
    await expect(dialog).toBeHidden({ timeout: 120_000 })
  }
  // Two settings only: words, and no advice.
  await add([22, 25], 0)
  await page.keyboard.press('Alt+6')
  await view(page, 'Fit')
  await expect(point(page, /60 %, 5.000 rpm/)).toContainText('too few settings')
  await expect(page.getByText(/Measure at 3 settings at least/)).toBeVisible()
  await add([22, 16, 19, 25, 28, 22, 16, 19, 25, 28, 22, 16, 19, 25, 28, 22], 2)
  await page.keyboard.press('Alt+6')
  await expect(point(page, /60 %, 5.000 rpm/)).toContainText('best torque')
  await expect(point(page, /60 %, 5.000 rpm/)).toContainText(/best 2[67]\.\d°/)

  await view(page, 'Settings')
  await expect(page.getByText(/More torque with 28\.0° than with 22\.\d°/)).toBeVisible()
  await view(page, 'Table')
  await page.getByRole('button', { name: 'New spark table' }).click()
  const dialog = page.getByRole('dialog')
  await dialog.getByText('Base', { exact: true }).click()
  await dialog.getByRole('spinbutton', { name: 'Every cell begins at' }).fill('22')
  await dialog.getByRole('textbox', { name: 'rpm breakpoints of the table' }).fill('3000 4000 5000 6000 7000 8000')
  await dialog.getByRole('textbox', { name: 'load breakpoints of the table' }).fill('20 60 100')
  await dialog.getByRole('button', { name: 'Add the table' }).click()
  await expect(page.getByText('Revision 1', { exact: true })).toBeVisible()
  await page.getByRole('button', { name: /^Take all \d+ changes$/ }).click()
  await page.keyboard.press('Control+s')
  await page.getByRole('button', { name: 'Save revision 2' }).first().click()
  await page.getByRole('textbox', { name: 'Reason' }).fill('From sweeps at settings')
  await page.getByRole('button', { name: 'Save revision 2' }).last().click()
  await expect(page.getByText('Revision 2 is saved.')).toBeVisible()
  // Half of the way is gone; the rest is for the next pass.
  await goTo(page, 2, 1)
  await expect(page.getByText('from one surface of best advance through all points')).toBeVisible()
  await app.killAndRestart()
  await page.reload()
  await expect(page.getByText('Revision 2', { exact: true })).toBeVisible()
  expect(said).toEqual(said.map(() => expect.stringMatching(/net::ERR|WebSocket/)))
})
